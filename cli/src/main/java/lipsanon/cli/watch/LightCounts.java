package lipsanon.cli.watch;

import java.io.IOException;
import java.nio.channels.Channels;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import lipsanon.capture.CaptureOptions;
import lipsanon.capture.CaptureProgress;
import lipsanon.capture.Destination;
import lipsanon.capture.HeapMeter;
import lipsanon.capture.LiveRuntime;
import lipsanon.capture.RuntimeInfo;
import lipsanon.capture.TypeCounts;
import lipsanon.format.light.LightWriter;
import lipsanon.index.Snapshot;
import lipsanon.io.Progress;
import lipsanon.live.LightSnapshot;
import lipsanon.snapshot.Snapshots;

/** Counts the types of a live runtime, by whatever way it offers, and keeps the counts. */
public final class LightCounts {
  private static final long MEMORY = 1L << 30;

  private LightCounts() {}

  /** Counts; where the runtime cannot, by a whole snapshot that is thrown away again. */
  public static TypeCounts count(HeapMeter meter, boolean collect) throws IOException {
    TypeCounts counts = meter.count(collect);
    return counts != null ? counts : bySnapshot(meter.runtime());
  }

  private static TypeCounts bySnapshot(LiveRuntime runtime) throws IOException {
    Path folder = Files.createTempDirectory("lipsanon-count");
    try {
      Path file = folder.resolve("counted.heapsnapshot");
      long start = System.nanoTime();
      runtime.capture(new CaptureOptions(file, false, true, false), CaptureProgress.NONE);
      long cost = (System.nanoTime() - start) / 1_000_000;
      Snapshots.Options options = new Snapshots.Options(folder, folder, true, MEMORY);
      try (Snapshot snapshot = Snapshots.open(file, options, Progress.NONE)) {
        return counts(snapshot, cost);
      }
    } catch (IOException | RuntimeException e) {
      throw e;
    } catch (Exception e) {
      throw new IOException(e.getMessage(), e);
    } finally {
      delete(folder);
    }
  }

  private static TypeCounts counts(Snapshot snapshot, long cost) {
    Map<String, long[]> sums = new HashMap<>();
    for (int t = 0; t < snapshot.types().size(); t++) {
      long count = snapshot.counts(t).count();
      if (count > 0) {
        long[] sum = sums.computeIfAbsent(snapshot.types().get(t).name(), key -> new long[2]);
        sum[0] += count;
        sum[1] += snapshot.counts(t).shallowBytes();
      }
    }
    List<TypeCounts.TypeCount> types = new ArrayList<>();
    sums.forEach((type, sum) -> types.add(new TypeCounts.TypeCount(type, sum[0], sum[1])));
    types.sort(Comparator.comparingLong(TypeCounts.TypeCount::bytes).reversed());
    long bytes = snapshot.totals().shallowBytes();
    long at = System.currentTimeMillis();
    return new TypeCounts(at, cost, true, types, snapshot.totals().objects(), bytes);
  }

  private static void delete(Path folder) throws IOException {
    try (Stream<Path> all = Files.walk(folder)) {
      for (Path path : (Iterable<Path>) all.sorted(Comparator.reverseOrder())::iterator) {
        Files.deleteIfExists(path);
      }
    } catch (java.io.UncheckedIOException e) {
      throw e.getCause();
    }
  }

  /** The kind of runtime as whole snapshots have it. */
  public static String runtime(RuntimeInfo info) {
    return info.kind().equals(RuntimeInfo.JVM) || info.kind().equals(RuntimeInfo.DOTNET)
        ? info.kind()
        : "V8";
  }

  /** The types of a count, one of each name. */
  public static List<LightSnapshot.Type> types(TypeCounts counts) {
    Map<String, long[]> sums = new java.util.LinkedHashMap<>();
    for (TypeCounts.TypeCount row : counts.types()) {
      long[] sum = sums.computeIfAbsent(row.type(), key -> new long[2]);
      sum[0] += row.count();
      sum[1] += row.bytes();
    }
    List<LightSnapshot.Type> types = new ArrayList<>();
    sums.forEach((type, sum) -> types.add(new LightSnapshot.Type(type, sum[0], sum[1])));
    return types;
  }

  /** Writes a light snapshot; whole or not at all. */
  public static void write(RuntimeInfo info, TypeCounts counts, Path file, boolean force)
      throws IOException {
    LightSnapshot light =
        new LightSnapshot(
            runtime(info),
            info.program(),
            info.id(),
            counts.atMillis(),
            counts.live(),
            types(counts));
    Destination destination = Destination.of(new CaptureOptions(file, false, force, false));
    Path temporary = destination.partName();
    try (Destination.Part part = destination.part(temporary)) {
      try (FileChannel channel = Destination.create(temporary)) {
        LightWriter.write(light, Channels.newOutputStream(channel));
        channel.force(true);
      }
      part.finish();
    }
  }
}
