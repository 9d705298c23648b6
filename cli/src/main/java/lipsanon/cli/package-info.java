/** The entry of the command line ({@link lipsanon.cli.Main}) and what all commands share. */
package lipsanon.cli;
