/** Commands that compare snapshots. */
package lipsanon.cli.command.change;
