/** The engine: formats, graph algorithms, indexes and questions. No printing, no processes. */
module lipsanon.core {
  requires com.fasterxml.jackson.core;

  exports lipsanon.array;
  exports lipsanon.io;
  exports lipsanon.graph;
  exports lipsanon.index;
  exports lipsanon.snapshot;
  exports lipsanon.analysis;
  exports lipsanon.format.hprof;
  exports lipsanon.format.v8;
}
