/** The prompt inside one snapshot. Loaded only when it is asked for. */
package lipsanon.cli.explore;
