/** The command about many snapshots. */
package lipsanon.cli.command.fleet;
