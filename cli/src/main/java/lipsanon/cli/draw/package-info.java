/** Pictures of graphs. Loaded only when a picture is asked for: the library behind it is large. */
package lipsanon.cli.draw;
