package lipsanon.change;

import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lipsanon.array.IntList;
import lipsanon.holder.Finding;
import lipsanon.holder.HolderSearch;
import lipsanon.holder.Holding;
import lipsanon.index.NodeCursor;
import lipsanon.index.Snapshot;
import lipsanon.index.Via;
import lipsanon.label.Families;
import lipsanon.label.Ownership;
import lipsanon.label.Step;
import lipsanon.label.TypeFilter;

/**
 * What piles up in values that classes keep ({@code java.lang.ClassValue}). A dump of the JVM
 * leaves out the fields of class objects, and with them what refers to these values: they look as
 * if nothing kept them, and are in no dominator tree. So they are told by the numbers of unretained
 * objects, and found to be such values by the entry that refers to them.
 */
final class ClassValues {
  private static final String ENTRY = "java.lang.ClassValue$Entry";
  private static final String OWNER = "classValue";
  private static final String VERSION = "version";

  private static final int SAMPLE = 12;
  private static final int MOST_VISITED = 2_000;

  private final List<Snapshot> snapshots;
  private final Snapshot last;
  private final TypeFilter mine;
  private final int[] actions;
  private final List<UnkeptTypes.Rising> unkept;

  private ClassValues(
      List<Snapshot> snapshots, TypeFilter mine, int[] actions, List<UnkeptTypes.Rising> unkept) {
    this.unkept = unkept;
    this.snapshots = snapshots;
    this.last = snapshots.get(snapshots.size() - 1);
    this.mine = mine;
    this.actions = actions;
  }

  /** Findings; nearly always none, and then nothing is gone through. */
  static List<Finding> of(
      List<Snapshot> snapshots, TypeFilter mine, int[] actions, List<UnkeptTypes.Rising> unkept)
      throws IOException {
    return unkept.isEmpty() ? List.of() : new ClassValues(snapshots, mine, actions, unkept).find();
  }

  private List<Finding> find() throws IOException {
    if (!hasEntries()) {
      return List.of();
    }
    List<Finding> found = new ArrayList<>();
    for (UnkeptTypes.Rising rising : unkept) {
      Finding finding = finding(rising);
      if (finding != null) {
        found.add(finding);
      }
    }
    return found;
  }

  private boolean hasEntries() {
    for (int t = 0; t < last.types().size(); t++) {
      if (last.types().get(t).name().equals(ENTRY) && last.counts(t).unretained() > 0) {
        return true;
      }
    }
    return false;
  }

  /** Null if most of a sample is no value of a class, and so is likely garbage. */
  private Finding finding(UnkeptTypes.Rising rising) throws IOException {
    IntList sample = sample(rising.type());
    Map<Integer, Integer> owners = new HashMap<>();
    List<Step> steps = List.of();
    String held = "";
    for (int i = 0; i < sample.size(); i++) {
      List<Integer> way = wayFromEntry(sample.get(i));
      int owner = way.isEmpty() ? -1 : owner(way.get(0));
      if (owner >= 0 && owners.merge(owner, 1, Integer::sum) * 2 > sample.size()) {
        Holding holding = new HolderSearch(last, new Ownership(last, mine)).searchOne(owner);
        held = holding.places().isEmpty() ? last.typeName(owner) : holding.text();
        steps = steps(way);
        break;
      }
    }
    return held.isEmpty() ? null : finding(rising, held, steps);
  }

  private Finding finding(UnkeptTypes.Rising rising, String held, List<Step> steps) {
    String reason =
        "classes keep them, which a JVM's dump leaves out: sizes are of these objects alone";
    String how = "held by classes, as values of " + held;
    return rising.finding(actions, held, "a class", how, reason, steps);
  }

  private IntList sample(String type) {
    boolean[] wanted = new boolean[last.types().size()];
    long all = 0;
    for (int t = 0; t < wanted.length; t++) {
      wanted[t] = Families.of(last.types().get(t).name()).equals(type);
      all += wanted[t] ? last.counts(t).unretained() : 0;
    }
    long every = Math.max(1, all / SAMPLE);
    IntList sample = new IntList();
    NodeCursor cursor = last.cursor();
    long seen = 0;
    for (int n = 0; n < last.objectCount() && sample.size() < SAMPLE; n++) {
      if (wanted[cursor.type(n)] && cursor.depth(n) == 0 && seen++ % every == 0) {
        sample.add(n);
      }
    }
    return sample;
  }

  /** From the entry of a class down to an object that nothing else keeps; empty if none has it. */
  private List<Integer> wayFromEntry(int node) {
    Map<Integer, Integer> below = new HashMap<>();
    IntList queue = new IntList();
    queue.add(node);
    below.put(node, -1);
    for (int i = 0; i < queue.size() && queue.size() < MOST_VISITED; i++) {
      int at = queue.get(i);
      if (last.typeName(at).equals(ENTRY)) {
        List<Integer> way = new ArrayList<>();
        for (int step = at; step >= 0; step = below.get(step)) {
          way.add(step);
        }
        return way;
      }
      IntList in = last.inbound(at);
      for (int k = 0; k < in.size() && queue.size() < MOST_VISITED; k++) {
        if (last.depth(in.get(k)) == 0 && below.putIfAbsent(in.get(k), at) == null) {
          queue.add(in.get(k));
        }
      }
    }
    return List.of();
  }

  /**
   * The {@code ClassValue} of an entry: the version that it refers to weakly knows it. From JDK 25
   * on an entry is no weak reference, but has one.
   */
  private int owner(int entry) throws IOException {
    int version = last.objects().weakKey(entry);
    if (version < 0) {
      int reference = field(entry, VERSION);
      version = reference < 0 ? -1 : last.objects().weakKey(reference);
    }
    return version < 0 ? -1 : field(version, OWNER);
  }

  /** What a field refers to, or -1. */
  private int field(int node, String name) throws IOException {
    int[] found = {-1};
    last.objects()
        .references(
            node,
            reference -> {
              if (reference.via().name().equals(name)) {
                found[0] = reference.target();
              }
            });
    return found[0];
  }

  private List<Step> steps(List<Integer> way) throws IOException {
    List<Step> steps = new ArrayList<>();
    for (int i = 0; i < way.size(); i++) {
      int node = way.get(i);
      String via = "a value that a class keeps";
      if (i > 0) {
        Via how = last.objects().viaTo(way.get(i - 1), node);
        via = how == null ? "" : how.text();
      }
      steps.add(new Step(last.id(node), last.typeName(node), "", via, 0, 1));
    }
    return steps;
  }
}
