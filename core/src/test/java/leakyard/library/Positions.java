package leakyard.library;

import it.unimi.dsi.fastutil.longs.Long2ObjectOpenHashMap;
import leakyard.Program;

/** A map with primitive keys that only grows. */
public final class Positions implements Program {
  /** Ready to act. */
  public Positions() {}

  private static final Radar RADAR = new Radar();

  static final class Radar {
    private final Long2ObjectOpenHashMap<Track> tracks = new Long2ObjectOpenHashMap<>();
  }

  static final class Track {
    final float[] points = new float[150];
  }

  @Override
  public void act(int number) {
    RADAR.tracks.put(number * 7919L, new Track());
  }

  @Override
  public void release() {
    RADAR.tracks.clear();
  }
}
