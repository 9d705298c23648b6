package lipsanon.format.hprof;

import java.lang.ref.SoftReference;
import java.lang.ref.WeakReference;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.LinkedList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.WeakHashMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ForkJoinPool;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.LongAdder;
import java.util.function.Supplier;

/**
 * A program with objects of many shapes, which then keeps quiet. Started by tests in a JVM of its
 * own.
 */
public final class HeapZoo {
  static final List<Object> KEPT = new ArrayList<>();
  static long aLong = 7;
  static byte aByte = 1;
  static int anInt = 2;
  static Object anObject = "static";

  private HeapZoo() {}

  enum Flag {
    RED,
    GREEN
  }

  static class Odd {
    byte b;
  }

  static class Wider extends Odd {
    long l;
    byte c;
  }

  static class Widest extends Wider {
    short s;
    Object o;
    double d;
    boolean z;
  }

  record Pair(Object left, Object right) {}

  static final class Chain {
    Chain next;
    int number;
  }

  /** Fills the heap, says {@code ready}, and waits for its input to end. */
  public static void main(String[] args) throws Exception {
    for (int i = 0; i < 40; i++) {
      KEPT.add(new Odd());
      KEPT.add(new Wider());
      KEPT.add(new Widest());
      KEPT.add(new Pair("left " + i, i));
      KEPT.add(new boolean[i]);
      KEPT.add(new char[i]);
      KEPT.add(new float[i]);
      KEPT.add(new double[i]);
      KEPT.add(new short[i]);
      KEPT.add(new int[i]);
      KEPT.add(new long[i]);
      KEPT.add(new byte[i]);
      KEPT.add(new Object[i]);
      KEPT.add(new String[i][2]);
      int captured = i;
      Supplier<Integer> lambda = () -> captured;
      KEPT.add(lambda);
      KEPT.add(new WeakReference<>(KEPT.get(0)));
      KEPT.add(new SoftReference<>("soft " + i));
    }
    collections();
    chain();
    Thread thread = new Thread(HeapZoo::pause, "zoo-keeper");
    thread.setDaemon(true);
    thread.start();
    ForkJoinPool pool = new ForkJoinPool(2);
    pool.submit(() -> {}).get();
    KEPT.add(pool);
    pool.shutdown();
    pool.awaitTermination(5, TimeUnit.SECONDS);
    System.out.println("ready");
    while (System.in.read() >= 0) {
      // until the test closes the input
    }
  }

  private static void collections() {
    Map<Object, Object> map = new HashMap<>();
    Map<Object, Object> tree = new TreeMap<>();
    Map<Object, Object> concurrent = new ConcurrentHashMap<>();
    Map<Object, Object> weak = new WeakHashMap<>();
    for (int i = 0; i < 300; i++) {
      map.put("key " + i, i);
      tree.put(i, "value " + i);
      concurrent.put(i, new LinkedList<>(List.of(i)));
      weak.put("weak " + i, i);
    }
    EnumMap<Flag, Object> flags = new EnumMap<>(Flag.class);
    flags.put(Flag.GREEN, new LongAdder());
    KEPT.addAll(List.of(map, tree, concurrent, weak, flags, new ArrayDeque<>(map.keySet())));
  }

  private static void chain() {
    Chain chain = null;
    for (int i = 0; i < 20_000; i++) {
      Chain next = new Chain();
      next.number = i;
      next.next = chain;
      chain = next;
    }
    KEPT.add(chain);
  }

  private static void pause() {
    Object local = new Pair("held by", "a local variable");
    try {
      new CountDownLatch(1).await();
    } catch (InterruptedException e) {
      KEPT.add(local);
    }
  }
}
