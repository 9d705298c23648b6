package leakyard.library;

import com.google.common.collect.ImmutableMap;
import java.util.ArrayList;
import java.util.List;
import leakyard.Program;

/** Parts of the program that are loaded when they are first needed. */
public final class Lazy implements Program {
  /** Ready to act. */
  public Lazy() {}

  private static final List<Object> PARTS = new ArrayList<>();

  @Override
  public void act(int number) throws Exception {
    String[] names = {
      "com.google.common.collect.TreeRangeMap", "com.google.common.graph.ImmutableGraph",
      "com.google.common.math.Stats", "com.google.common.hash.Hashing",
      "com.google.common.net.MediaType", "com.google.common.io.ByteStreams",
      "com.google.common.primitives.Doubles", "com.google.common.escape.Escapers"
    };
    if (number < names.length) {
      PARTS.add(Class.forName(names[number]));
    }
    Program.churn(number + ImmutableMap.of("call", number).size());
  }
}
