package leakyard;

import java.util.LinkedList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.CountDownLatch;

/** What piles up is a thread's local variable alone. */
public final class ThreadsOwnMap implements Program {
  private static final CountDownLatch DONE = new CountDownLatch(1);
  private static volatile int wanted;
  private static volatile int made;

  /** Ready to act. */
  public ThreadsOwnMap() {
    Thread writer = new Thread(ThreadsOwnMap::write, "tide-writer");
    writer.setDaemon(true);
    writer.start();
  }

  static final class Gust {
    final byte[] speeds = new byte[500];
  }

  private static void write() {
    Map<Integer, List<Gust>> gusts = new TreeMap<>();
    while (DONE.getCount() > 0) {
      while (made < wanted) {
        gusts.computeIfAbsent(made % 60, key -> new LinkedList<>()).add(new Gust());
        made++;
      }
      Thread.onSpinWait();
    }
    System.out.println(gusts.size());
  }

  @Override
  public void act(int number) {
    wanted++;
    while (made < wanted) {
      Thread.onSpinWait();
    }
  }
}
