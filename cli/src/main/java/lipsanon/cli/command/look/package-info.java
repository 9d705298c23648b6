/** Commands that look into one snapshot. */
package lipsanon.cli.command.look;
