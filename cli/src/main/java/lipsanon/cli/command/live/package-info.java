/** Commands that work on running programs. */
package lipsanon.cli.command.live;
