/** Commands for builds: whether heaps keep to what was set for them. */
package lipsanon.cli.command.check;
