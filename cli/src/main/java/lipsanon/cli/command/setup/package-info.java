/** Commands that prepare, and the demo. */
package lipsanon.cli.command.setup;
