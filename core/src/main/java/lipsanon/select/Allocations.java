package lipsanon.select;

import java.io.IOException;
import java.util.BitSet;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import lipsanon.index.Recording;
import lipsanon.index.Snapshot;
import lipsanon.label.TypeFilter;

/** Selects objects by where and when they were allocated, in a snapshot that tells. */
final class Allocations {
  private final Snapshot snapshot;
  private final Recording recording;

  Allocations(Snapshot snapshot, int at) throws IOException, SelectionException {
    this.snapshot = snapshot;
    this.recording = snapshot.objects().recording();
    if (recording == null) {
      throw SelectionException.missing(
          "no allocations were recorded in this snapshot: see `lipsanon record`", at);
    }
  }

  /** Those that a function allocated, or what it called. */
  BitSet in(Selection.AllocatedIn in, BitSet within) throws IOException, SelectionException {
    TypeFilter filter = new TypeFilter(in.function(), List.of(), false);
    boolean[] fits = new boolean[recording.parent().length];
    Set<String> functions = new TreeSet<>();
    boolean any = false;
    for (int i = 0; i < fits.length; i++) {
      Recording.Frame frame = recording.frames().get(recording.frame()[i]);
      functions.add(frame.function());
      fits[i] =
          filter.fits(frame.function())
              || filter.fits(frame.text())
              || i > 0 && fits[recording.parent()[i]];
      any |= fits[i];
    }
    if (!any) {
      List<String> near = Near.of(in.function(), functions);
      throw SelectionException.missing(
          "no function "
              + in.function()
              + " was recorded"
              + (near.isEmpty() ? "" : "; near: " + String.join(", ", near)),
          in.at());
    }
    BitSet found = new BitSet();
    for (int n = within.nextSetBit(0); n >= 0; n = within.nextSetBit(n + 1)) {
      int origin = snapshot.objects().origin(n);
      if (origin >= 0 && fits[origin]) {
        found.set(n);
      }
    }
    return found;
  }

  /** Those that were allocated in a window of time. */
  BitSet during(Selection.AllocatedDuring during, BitSet within) {
    BitSet found = new BitSet();
    for (int n = within.nextSetBit(0); n >= 0; n = within.nextSetBit(n + 1)) {
      int interval = recording.interval(snapshot.rawId(n));
      if (interval >= 0) {
        long from = interval == 0 ? 0 : recording.ends()[interval - 1];
        if (from < during.toMillis() && recording.ends()[interval] > during.fromMillis()) {
          found.set(n);
        }
      }
    }
    return found;
  }
}
