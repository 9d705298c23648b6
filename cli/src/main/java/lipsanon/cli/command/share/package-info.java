/** Commands that hand results on. */
package lipsanon.cli.command.share;
