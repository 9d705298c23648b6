/** Opening snapshots: {@link lipsanon.snapshot.Snapshots} ties formats and indexes together. */
package lipsanon.snapshot;
