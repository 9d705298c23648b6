package leakyard;

import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;

/** A thread-local variable of an object, of which each of many threads keeps more and more. */
public final class Drafts implements Program {
  /** Ready to act. */
  public Drafts() {}

  static final class Draft {
    final byte[] text = new byte[1200];
  }

  private final ThreadLocal<List<Draft>> draft = ThreadLocal.withInitial(ArrayList::new);
  private final List<ExecutorService> clerks = clerks();

  private static List<ExecutorService> clerks() {
    List<ExecutorService> clerks = new ArrayList<>();
    for (int i = 0; i < 12; i++) {
      String name = "clerk-" + i;
      clerks.add(Executors.newSingleThreadExecutor(task -> new Thread(task, name)));
    }
    return clerks;
  }

  @Override
  public void act(int number) throws Exception {
    Program.churn(number);
    clerks.get(number % clerks.size()).submit(() -> draft.get().add(new Draft())).get();
  }
}
