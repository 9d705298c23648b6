/** Light snapshots: how many objects of each type there are, and how large, and nothing more. */
package lipsanon.format.light;
