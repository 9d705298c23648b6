/** Heap events in the event stream of a .NET runtime ("Nettrace", version 4). */
package lipsanon.format.nettrace;
