/**
 * One question about one snapshot each, from {@link lipsanon.index.Snapshot} to a record. Nothing
 * here prints.
 */
package lipsanon.question;
