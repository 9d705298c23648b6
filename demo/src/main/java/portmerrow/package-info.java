/**
 * Port Merrow, a fictional harbour office that runs out of memory: vessels call, get a berth,
 * subscribe to the tide board, hand in a manifest, and leave. {@link portmerrow.PortMerrow} is the
 * service.
 */
package portmerrow;
