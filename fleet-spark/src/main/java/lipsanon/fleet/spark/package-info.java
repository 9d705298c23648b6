/**
 * The job of a fleet on a Spark cluster: {@link lipsanon.fleet.spark.FleetJob}. The tasks and the
 * tables are those of {@link lipsanon.fleet}.
 */
package lipsanon.fleet.spark;
