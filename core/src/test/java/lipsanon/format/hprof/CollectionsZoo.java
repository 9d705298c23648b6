package lipsanon.format.hprof;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.HashMap;
import java.util.HashSet;
import java.util.Hashtable;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.LinkedList;
import java.util.List;
import java.util.Map;
import java.util.PriorityQueue;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.Vector;
import java.util.WeakHashMap;
import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.LinkedBlockingQueue;

/** A program that holds one of each collection, each with the same three texts. */
public final class CollectionsZoo {
  static final List<String> TEXTS = List.of("anchor", "bollard", "capstan");
  static final Map<String, Object> ALL = new LinkedHashMap<>();

  private CollectionsZoo() {}

  private static Map<String, String> fill(Map<String, String> map) {
    TEXTS.forEach(text -> map.put(text, text + " value"));
    return map;
  }

  /** Fills, says {@code ready}, and waits for its input to end. */
  public static void main(String[] args) throws Exception {
    ALL.put("ArrayList", new ArrayList<>(TEXTS));
    ALL.put("LinkedList", new LinkedList<>(TEXTS));
    ALL.put("Vector", new Vector<>(TEXTS));
    ALL.put("ArrayDeque", new ArrayDeque<>(TEXTS));
    ALL.put("PriorityQueue", new PriorityQueue<>(TEXTS));
    ALL.put("CopyOnWriteArrayList", new CopyOnWriteArrayList<>(TEXTS));
    ALL.put("Arrays.asList", Arrays.asList("anchor", "bollard", "capstan"));
    ALL.put("List.of", List.of("anchor", "bollard", "capstan"));
    ALL.put("unmodifiable", Collections.unmodifiableList(new ArrayList<>(TEXTS)));
    ALL.put("synchronized", Collections.synchronizedList(new ArrayList<>(TEXTS)));
    ALL.put("HashSet", new HashSet<>(TEXTS));
    ALL.put("TreeSet", new TreeSet<>(TEXTS));
    ALL.put("LinkedBlockingQueue", new LinkedBlockingQueue<>(TEXTS));
    ALL.put("ArrayBlockingQueue", new ArrayBlockingQueue<>(8, false, TEXTS));
    ALL.put("ConcurrentLinkedQueue", new ConcurrentLinkedQueue<>(TEXTS));
    ALL.put("map HashMap", fill(new HashMap<>()));
    ALL.put("map LinkedHashMap", fill(new LinkedHashMap<>()));
    ALL.put("map TreeMap", fill(new TreeMap<>()));
    ALL.put("map Hashtable", fill(new Hashtable<>()));
    ALL.put("map WeakHashMap", fill(new WeakHashMap<>()));
    ALL.put("map IdentityHashMap", fill(new IdentityHashMap<>()));
    ALL.put("map ConcurrentHashMap", fill(new ConcurrentHashMap<>()));
    ALL.put("map unmodifiable", Collections.unmodifiableMap(fill(new HashMap<>())));
    System.out.println("ready");
    while (System.in.read() >= 0) {
      // until the test closes the input
    }
  }
}
