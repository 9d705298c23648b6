/**
 * JVM heap dumps in HPROF format: {@link lipsanon.format.hprof.HprofReader} makes an index's
 * content of a dump, {@link lipsanon.format.hprof.HprofDetail} shows single objects from it.
 */
package lipsanon.format.hprof;
