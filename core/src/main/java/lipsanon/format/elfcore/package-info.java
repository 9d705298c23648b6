/**
 * Linux core dumps of .NET processes: the memory of the process becomes objects, fields and roots.
 * {@link lipsanon.format.elfcore.ElfCoreReader} reads a whole dump, {@link
 * lipsanon.format.elfcore.ElfCoreDetail} shows single objects of it. Nothing but the file is
 * needed: no runtime, no debugging library.
 */
package lipsanon.format.elfcore;
