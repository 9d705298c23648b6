/** The engine: formats, graph algorithms, indexes and questions. No printing, no processes. */
module lipsanon.core {
  requires lipsanon.scripts;
  requires com.fasterxml.jackson.core;
  requires jdk.jfr;

  exports lipsanon.array;
  exports lipsanon.io;
  exports lipsanon.redact;
  exports lipsanon.graph;
  exports lipsanon.index;
  exports lipsanon.live;
  exports lipsanon.snapshot;
  exports lipsanon.label;
  exports lipsanon.select;
  exports lipsanon.origin;
  exports lipsanon.holder;
  exports lipsanon.question;
  exports lipsanon.change;
  exports lipsanon.format.hprof;
  exports lipsanon.format.v8;
  exports lipsanon.format.metadata;
  exports lipsanon.format.nettrace;
  exports lipsanon.format.elfcore;
  exports lipsanon.format.light;
  exports lipsanon.format.jfr;
}
