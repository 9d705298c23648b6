/**
 * Settings from the user's and the project's files and the environment, and which of them holds.
 */
package lipsanon.cli.settings;
