/** One small class a command: options become records of the core, answers become views. */
package lipsanon.cli.command;
