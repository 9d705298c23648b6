/**
 * Questions about snapshots. Each {@code XQuestion} has a plain function from open snapshots to an
 * immutable {@code XAnswer}, a record whose component names are those of the JSON that users get.
 * None prints.
 */
package lipsanon.analysis;
