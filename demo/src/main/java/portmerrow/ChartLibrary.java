package portmerrow;

import java.util.ArrayList;
import java.util.List;

/** Sea charts: large, and always the same. */
final class ChartLibrary {
  private static final int CHARTS = 12;
  private static final int SOUNDINGS = 15_000;

  private final List<Chart> charts = new ArrayList<>();

  /** A depth at a place. Very many, and harmless. */
  record Sounding(int x, int y, int depth) {}

  private record Chart(String title, byte[] picture, Sounding[] soundings) {}

  ChartLibrary() {
    for (int c = 0; c < CHARTS; c++) {
      Sounding[] soundings = new Sounding[SOUNDINGS];
      for (int i = 0; i < SOUNDINGS; i++) {
        soundings[i] = new Sounding(i % 120, i / 120, 3 + (i * 7 + c) % 40);
      }
      charts.add(new Chart("Approaches, sheet " + (c + 1), new byte[250_000], soundings));
    }
  }

  int depthAt(int chart, int place) {
    Sounding sounding = charts.get(chart % CHARTS).soundings()[place % SOUNDINGS];
    return sounding.depth() + 0 * (sounding.x() + sounding.y());
  }
}
