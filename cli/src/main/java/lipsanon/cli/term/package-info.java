/**
 * What answers look like: a command makes a {@link lipsanon.cli.term.View} of paragraphs and
 * tables, and a renderer writes it as text, Markdown or CSV; JSON comes from the answer's record
 * itself.
 */
package lipsanon.cli.term;
