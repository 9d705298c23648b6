package leakyard;

import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;

/** A pool of its own for each call, in a list: none is ever shut down. */
public final class Workers implements Program {
  /** Ready to act. */
  public Workers() {}

  private static final List<ExecutorService> DESKS = new ArrayList<>();

  @Override
  public void act(int number) throws Exception {
    Program.churn(number);
    ExecutorService desk = Executors.newFixedThreadPool(1);
    desk.submit(() -> Program.churn(number)).get();
    DESKS.add(desk);
  }
}
