package leakyard.library;

import io.micrometer.core.instrument.Tag;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import leakyard.Program;

/** What a library made piles up in sets, one for each call. */
public final class Labels implements Program {
  private static final class Index {
    final Map<Integer, Set<Tag>> byCall = new TreeMap<>();
  }

  private final Index index = new Index();

  /** Ready to act. */
  public Labels() {}

  @Override
  public void act(int number) {
    index.byCall.put(number, new LinkedHashSet<>(List.of(Tag.of("vessel", "launch " + number))));
  }

  @Override
  public void release() {
    index.byCall.clear();
  }
}
