/** What all formats of .NET share: names of types, their traits, kinds of roots, generations. */
package lipsanon.format.dotnet;
