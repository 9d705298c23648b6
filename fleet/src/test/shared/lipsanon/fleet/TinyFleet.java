package lipsanon.fleet;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import lipsanon.format.hprof.HprofBuilder;

/** Dumps of a few kilobytes in which vessel calls stay subscribed to a tide board. */
public final class TinyFleet {
  private static final int STICKY_CLASS = 0x05;
  private static final long BOARD = 0x1800;
  private static final long CALL = 0x1900;
  private static final long LIST = 0x4000;
  private static final long CHARTS = 0x5000;

  private TinyFleet() {}

  /**
   * Writes a dump.
   *
   * @param calls that the board holds, 64 bytes of cargo each
   * @param charts a constant that has nothing to do with it
   */
  public static Path dump(Path file, int calls, int charts) throws IOException {
    Files.createDirectories(file.getParent());
    HprofBuilder dump =
        new HprofBuilder(8)
            .type(0x1000, "java.lang.Object", 0, Map.of())
            .type(0x1100, "java.lang.Class", 0x1000, Map.of())
            .type(0x1700, "[Ljava/lang/Object;", 0x1000, Map.of())
            .type(
                BOARD,
                "portmerrow.TideBoard",
                0x1000,
                Map.of("SUBSCRIBERS", LIST, "CHARTS", CHARTS))
            .type(CALL, "portmerrow.VesselCall", 0x1000, Map.of(), "cargo:2", "number:10");
    long[] held = new long[calls];
    for (int i = 0; i < calls; i++) {
      held[i] = 0x100000 + 0x100L * i;
      dump.instance(held[i], CALL, held[i] + 0x40, i);
      dump.bytes(held[i] + 0x40, new byte[64]);
    }
    dump.array(LIST, 0x1700, held);
    long[] library = new long[charts];
    for (int i = 0; i < charts; i++) {
      library[i] = 0x80000000L + 0x100L * i;
      dump.bytes(library[i], new byte[100]);
    }
    dump.array(CHARTS, 0x1700, library);
    Files.write(file, dump.root(STICKY_CLASS, BOARD).build());
    return file;
  }
}
