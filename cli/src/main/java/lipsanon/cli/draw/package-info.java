/** Pictures of answers as SVG and PNG. Loaded only when one is asked for. */
package lipsanon.cli.draw;
