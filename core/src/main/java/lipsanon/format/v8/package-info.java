/**
 * Heap snapshots of V8 (Node.js, Chromium): JSON files. {@link lipsanon.format.v8.V8Reader} makes
 * content for an index, {@link lipsanon.format.v8.V8Detail} shows single objects.
 */
package lipsanon.format.v8;
