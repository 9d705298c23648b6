package lipsanon.format.v8;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicReferenceArray;
import lipsanon.array.Space;
import lipsanon.graph.Workers;
import lipsanon.io.ByteSource;
import lipsanon.io.Progress;

/**
 * Reads all nodes while the rest of the file is looked over for its members and names. The first
 * part of the rows needs nothing but the list's beginning; where the others begin is known once the
 * list is looked over, and whoever is free takes the next one.
 */
final class NodesReader {
  /** Fewer are read by one thread: they take a hundredth of a second. */
  private static final int FEW = 1 << 15;

  private static final int PARTS = 16;

  /** So many of them are read as one first: they last until the list is looked over. */
  private static final int FIRST = 2;

  private final V8File file;
  private final ByteSource source;
  private final int count;
  private final Progress progress;

  /** Null if it cannot be looked over to its end. */
  private final CompletableFuture<NumberList> lookedOver = new CompletableFuture<>();

  /** Behind the first part; empty if that was all or failed. */
  private final CompletableFuture<List<NodesPass>> others = new CompletableFuture<>();

  private final AtomicInteger next = new AtomicInteger();
  private final AtomicInteger rows = new AtomicInteger();
  private final AtomicReferenceArray<Exception> failures = new AtomicReferenceArray<>(PARTS);

  private NodesReader(V8File file, ByteSource source, int count, Progress progress) {
    this.file = file;
    this.source = source;
    this.count = count;
    this.progress = progress;
  }

  /** The nodes of a file whose beginning is known; then all of it is. */
  static V8Nodes read(V8File file, ByteSource source, int count, Space space, Progress progress)
      throws Exception {
    return new NodesReader(file, source, count, progress).read(space);
  }

  private V8Nodes read(Space space) throws Exception {
    Workers.Task<Void> rest = Workers.start("lipsanon-names", this::readRest);
    List<Workers.Task<Void>> helpers = new ArrayList<>();
    V8Nodes nodes;
    List<NodesPass> passes = new ArrayList<>();
    try {
      nodes = new V8Nodes(file.meta, count, source, file.begins.get("nodes"), space);
      int size = count < FEW ? count : beginning(FIRST);
      passes.add(nodes.pass(0, size, nodes.beginning()));
      passes.get(0).read(this::showProgress);
      NumberList list = size == count ? null : lookedOver.get();
      if (list != null) {
        passes.addAll(parts(nodes, list));
        others.complete(passes.subList(1, passes.size()));
        for (int i = 2; i < Workers.threads(); i++) {
          helpers.add(Workers.start("lipsanon-worker-" + i, () -> take(rows::addAndGet)));
        }
        take(this::showProgress);
      }
    } finally {
      others.complete(List.of());
      for (Workers.Task<Void> helper : helpers) {
        helper.join();
      }
      rest.join();
    }
    for (int part = 0; part < failures.length(); part++) {
      if (failures.get(part) != null) {
        throw failures.get(part);
      }
    }
    nodes.join(passes);
    return nodes;
  }

  private void showProgress(int more) {
    progress.at(Math.min(count, rows.addAndGet(more)));
  }

  private Void readRest() throws Exception {
    try {
      file.readRest(lookedOver::complete);
    } finally {
      lookedOver.complete(null);
    }
    return take(rows::addAndGet);
  }

  /** Passes over what follows the first one; of the same number of rows each. */
  private List<NodesPass> parts(V8Nodes nodes, NumberList list) throws IOException {
    List<NodesPass> parts = new ArrayList<>();
    for (int part = FIRST; part < PARTS; part++) {
      int from = beginning(part);
      // a piece's place is behind the first comma in it
      long numbersBefore = (long) from * file.meta.width("node_fields");
      NumberList.Place place = list.place(list.pieceBefore(numbersBefore - 1));
      parts.add(nodes.pass(from, beginning(part + 1), place));
    }
    return parts;
  }

  /** The first row of a part, or the number of rows. */
  private int beginning(int part) {
    return (int) ((long) count * part / PARTS);
  }

  /** Reads parts as long as there are any. */
  private Void take(NodesPass.Steps steps) throws Exception {
    List<NodesPass> parts = others.get();
    for (int part = next.getAndIncrement(); part < parts.size(); part = next.getAndIncrement()) {
      try {
        parts.get(part).read(steps);
      } catch (Exception e) {
        failures.set(part, e);
      }
    }
    return null;
  }
}
