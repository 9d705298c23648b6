/**
 * Many snapshots: {@link lipsanon.fleet.Inputs} finds them and their labels, {@link
 * lipsanon.fleet.Reduction} makes rows of one, in a process of its own ({@link
 * lipsanon.fleet.TaskMain}, started by {@link lipsanon.fleet.ChildTask}), {@link
 * lipsanon.fleet.LocalFleet} does that for all on this machine, {@link lipsanon.fleet.FleetTables}
 * keeps the rows as partitioned Parquet, and {@link lipsanon.fleet.FleetQuestion} says what grows
 * on how many hosts. Only tables travel: no contents of any object are in them.
 */
package lipsanon.fleet;
