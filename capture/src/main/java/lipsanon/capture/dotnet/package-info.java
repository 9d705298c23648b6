/** .NET processes over their diagnostics port: finding, collecting, capturing. */
package lipsanon.capture.dotnet;
