package lipsanon.graph;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Random;
import java.util.Set;
import lipsanon.array.IntArray;
import lipsanon.array.IntPages;
import lipsanon.array.Space;

/**
 * A small graph in plain lists, from which the real one is made, and by which results are checked.
 */
public final class GraphFixture {
  public final int count;
  public final List<List<Integer>> strong = new ArrayList<>();
  public final List<int[]> soft = new ArrayList<>();
  public final List<int[]> weak = new ArrayList<>();
  public final List<int[]> finalizer = new ArrayList<>();
  public final List<Integer> roots = new ArrayList<>();
  public final int[] type;
  public final int[] size;
  public int[] classNode;

  GraphFixture(int count, int types) {
    this.count = count;
    this.type = new int[count];
    this.size = new int[count];
    this.classNode = new int[types];
    java.util.Arrays.fill(classNode, -1);
    for (int i = 0; i < count; i++) {
      strong.add(new ArrayList<>());
      size[i] = 1;
    }
  }

  static GraphFixture random(Random random) {
    return random(random, 28);
  }

  /** Of up to so many nodes. */
  public static GraphFixture random(Random random, int most) {
    int types = 1 + random.nextInt(4);
    int count = 1 + random.nextInt(most);
    GraphFixture g = new GraphFixture(count, types);
    int edges = random.nextInt(3 * count + 1);
    for (int i = 0; i < edges; i++) {
      // some nodes get no edges at all, so that there are leaves
      g.strong.get(random.nextInt(count) * 2 / 3).add(random.nextInt(count));
    }
    for (int i = random.nextInt(4); i > 0; i--) {
      g.soft.add(new int[] {random.nextInt(count), random.nextInt(count)});
      g.weak.add(new int[] {random.nextInt(count), random.nextInt(count)});
      g.finalizer.add(new int[] {random.nextInt(count), random.nextInt(count)});
    }
    for (int i = random.nextInt(4); i >= 0; i--) {
      g.roots.add(random.nextInt(count));
    }
    for (int i = 0; i < count; i++) {
      g.type[i] = random.nextInt(types);
      g.size[i] = 1 + random.nextInt(100);
    }
    for (int t = 0; t < types; t++) {
      g.classNode[t] = random.nextBoolean() ? random.nextInt(count) : -1;
    }
    return g;
  }

  /** All strong targets, that of the class edge included. */
  Set<Integer> targets(int node) {
    Set<Integer> all = new HashSet<>(strong.get(node));
    if (classNode[type[node]] >= 0) {
      all.add(classNode[type[node]]);
    }
    return all;
  }

  /** The real one. */
  public ObjectGraph build(Space space) {
    IntArray first = space.ints(count);
    IntArray types = space.ints(count);
    IntPages pages = new IntPages(space);
    EdgeAppender appender = new EdgeAppender(pages);
    for (int i = 0; i < count; i++) {
      appender.begin(strong.get(i).size());
      strong.get(i).forEach(appender::add);
      first.set(i, appender.end());
      types.set(i, type[i]);
    }
    SpecialEdges special = new SpecialEdges();
    soft.forEach(e -> special.soft.add(e[0], e[1]));
    weak.forEach(e -> special.weak.add(e[0], e[1]));
    finalizer.forEach(e -> special.finalizer.add(e[0], e[1]));
    int[] rootArray = roots.stream().mapToInt(Integer::intValue).toArray();
    return new ObjectGraph(count, first, pages, types, classNode, rootArray, special);
  }

  /** The sizes by node. */
  public IntArray sizes(Space space) {
    IntArray sizes = space.ints(count);
    for (int i = 0; i < count; i++) {
      sizes.set(i, size[i]);
    }
    return sizes;
  }
}
