package lipsanon.question;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lipsanon.index.PackedColumn;
import lipsanon.index.RootInfo;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.index.TypeInfo.Trait;
import lipsanon.io.UnsupportedInputException;
import lipsanon.label.Labels;
import lipsanon.label.Ownership;
import lipsanon.label.SnapshotSummary;
import lipsanon.label.TypeFilter;

/**
 * The retained heap in a few parts: by package, loader, thread, kind of root or kind of thing. One
 * pass over all objects, or over those at the top of the dominator tree.
 */
public final class GroupsQuestion {
  /** What tells parts apart. */
  public enum By {
    /** The package of the type. */
    PACKAGE,
    /** The class loader of the type. */
    LOADER,
    /** The thread that keeps it alone. */
    THREAD,
    /** The kind of root that keeps it alone. */
    ROOT,
    /** What sort of thing it is: text, arrays, collections, own classes and so on. */
    KIND,
    /** The part of the heap that it is in, where the runtime divides it. */
    GENERATION
  }

  private static final String SEVERAL = "held from several sides";

  private final Snapshot snapshot;
  private final By by;
  private final Ownership ownership;
  private final Map<String, long[]> sums = new HashMap<>();
  private final Map<Integer, String> rootNames = new HashMap<>();

  private GroupsQuestion(Snapshot snapshot, By by, TypeFilter mine) {
    this.snapshot = snapshot;
    this.by = by;
    this.ownership = new Ownership(snapshot, mine);
  }

  /**
   * Answers.
   *
   * @param keepers whether an object counts where the topmost object that keeps it does
   * @param limit rows at most
   */
  public static GroupsAnswer ask(
      Snapshot snapshot, By by, boolean keepers, TypeFilter mine, int limit) throws IOException {
    GroupsQuestion question = new GroupsQuestion(snapshot, by, mine);
    // by thread and by root both ways are the same: the topmost keeper decides
    boolean top = keepers || by == By.THREAD || by == By.ROOT;
    if (by == By.GENERATION) {
      question.areas();
    } else if (top) {
      question.keepers();
    } else {
      question.objects();
    }
    return question.answer(keepers, limit);
  }

  private void keepers() throws IOException {
    PackedColumn top = snapshot.topColumn();
    for (long i = 0; i < top.count(); i++) {
      int node = top.getInt(i);
      String group =
          switch (by) {
            case THREAD -> thread(node);
            case ROOT -> root(node);
            default -> ofType(snapshot.type(node));
          };
      add(group, node, 1, snapshot.retainedBytes(node));
    }
  }

  /** By the part of the heap that each object is in. */
  private void areas() throws IOException {
    if (snapshot.objects().areas().isEmpty()) {
      throw new UnsupportedInputException(
          snapshot.file().toString(), "does not tell of generations: only those of .NET do");
    }
    for (int n = 0; n < snapshot.objectCount(); n++) {
      if (snapshot.depth(n) > 0) {
        add(snapshot.objects().area(n), n, 1, snapshot.shallowBytes(n));
      }
    }
  }

  private String thread(int node) throws IOException {
    for (RootInfo root : snapshot.rootsOf(node)) {
      if (root.kind().equals(RootInfo.THREAD)) {
        String name = Labels.of(snapshot, node);
        return name.isEmpty() ? snapshot.typeName(node) : name;
      }
    }
    return "no thread alone";
  }

  private String root(int node) {
    return rootNames.computeIfAbsent(
        node,
        n -> {
          for (RootInfo root : snapshot.rootsOf(n)) {
            if (root.thread() < 0) {
              return root.kind();
            }
          }
          return SEVERAL;
        });
  }

  /** All retained objects by their own types; arrays inside of texts and collections with these. */
  private void objects() {
    PackedColumn types = snapshot.typeColumn();
    PackedColumn depths = snapshot.depthColumn();
    PackedColumn shallow = snapshot.shallowColumn();
    PackedColumn dominators = snapshot.dominatorColumn();
    long[] type = new long[64];
    long[] depth = new long[64];
    long[] size = new long[64];
    long[] above = new long[64];
    boolean[] array = new boolean[snapshot.types().size()];
    String[] names = new String[array.length];
    for (int t = 0; t < array.length; t++) {
      array[t] = by == By.KIND && snapshot.types().get(t).array();
      names[t] = ofType(t);
    }
    Map<String, Integer> numbers = new HashMap<>();
    int[] groupOf = new int[array.length];
    for (int t = 0; t < array.length; t++) {
      groupOf[t] = numbers.computeIfAbsent(names[t], key -> numbers.size());
    }
    long[][] byGroup = new long[numbers.size()][2];
    // by type: bytes, and its largest object with its size
    long[] bytesOfType = new long[array.length];
    long[] largest = new long[array.length];
    int[] example = new int[array.length];
    Arrays.fill(largest, -1);
    for (long b = 0; b << 6 < types.count(); b++) {
      int count = types.block(b, type);
      depths.block(b, depth);
      shallow.block(b, size);
      dominators.block(b, above);
      for (int i = 0; i < count; i++) {
        if (depth[i] == 0) {
          continue;
        }
        int node = (int) (b << 6) + i;
        int t = (int) type[i];
        int group = groupOf[t];
        if (array[t] && above[i] != 0) {
          TypeInfo holder = snapshot.types().get(snapshot.type((int) (node - above[i])));
          if (holder.is(Trait.TEXT) || holder.is(Trait.COLLECTION)) {
            group = groupOf[snapshot.type((int) (node - above[i]))];
          }
        }
        byGroup[group][0]++;
        byGroup[group][1] += size[i];
        if (group == groupOf[t]) {
          bytesOfType[t] += size[i];
        }
        if (size[i] > largest[t]) {
          largest[t] = size[i];
          example[t] = node;
        }
      }
    }
    int[] most = new int[byGroup.length];
    Arrays.fill(most, -1);
    for (int t = 0; t < array.length; t++) {
      int group = groupOf[t];
      boolean more = most[group] < 0 || bytesOfType[t] > bytesOfType[most[group]];
      if (largest[t] >= 0 && more) {
        most[group] = t;
      }
    }
    numbers.forEach(
        (name, group) -> {
          if (most[group] >= 0) {
            long bytes = byGroup[group][1] * snapshot.unitBytes();
            sums.put(name, new long[] {byGroup[group][0], bytes, 0, example[most[group]]});
          }
        });
  }

  private void add(String group, int node, long count, long bytes) {
    long[] sum = sums.computeIfAbsent(group, key -> new long[] {0, 0, -1, -1});
    sum[0] += count;
    sum[1] += bytes;
    if (bytes > sum[2]) {
      sum[2] = bytes;
      sum[3] = node;
    }
  }

  private String ofType(int type) {
    TypeInfo info = snapshot.types().get(type);
    return switch (by) {
      case PACKAGE -> packageOf(info);
      case LOADER -> info.loader().isEmpty() ? "the runtime's own, or not known" : info.loader();
      default -> Kinds.of(info, ownership);
    };
  }

  private static String packageOf(TypeInfo info) {
    String name = info.name();
    int bracket = name.indexOf('[');
    String element = bracket < 0 ? name : name.substring(0, bracket);
    int end = element.lastIndexOf('.');
    if (end > 0) {
      return element.substring(0, end);
    }
    return info.array() ? "(arrays of primitives)" : "(no package)";
  }

  private GroupsAnswer answer(boolean keepers, int limit) throws IOException {
    List<Map.Entry<String, long[]>> sorted = new ArrayList<>(sums.entrySet());
    sorted.sort(
        Comparator.comparingLong((Map.Entry<String, long[]> entry) -> -entry.getValue()[1])
            .thenComparing(Map.Entry::getKey));
    double heap = Math.max(1, snapshot.totals().retainedBytes());
    List<GroupsAnswer.Row> rows = new ArrayList<>();
    long count = 0;
    long bytes = 0;
    for (Map.Entry<String, long[]> entry : sorted) {
      long[] sum = entry.getValue();
      if (rows.size() < limit) {
        int example = (int) sum[3];
        rows.add(
            new GroupsAnswer.Row(
                entry.getKey(),
                sum[0],
                sum[1],
                sum[1] / heap,
                snapshot.typeName(example),
                snapshot.id(example)));
      } else {
        count += sum[0];
        bytes += sum[1];
      }
    }
    boolean top = keepers || by == By.THREAD || by == By.ROOT;
    return new GroupsAnswer(
        SnapshotSummary.of(snapshot),
        by.name().toLowerCase(java.util.Locale.ROOT),
        top ? "keepers" : "objects",
        rows,
        sorted.size() - rows.size(),
        count,
        bytes);
  }
}
