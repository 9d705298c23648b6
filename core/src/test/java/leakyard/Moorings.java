package leakyard;

import java.lang.reflect.Method;
import java.util.concurrent.Semaphore;

/** Each action starts a virtual thread that never ends; needs a runtime that has these. */
public final class Moorings implements Program {
  private final Semaphore castOff = new Semaphore(0);
  private final Semaphore moored = new Semaphore(0);
  private final Method start;

  /** Ready to act. */
  public Moorings() throws NoSuchMethodException {
    start = Thread.class.getMethod("startVirtualThread", Runnable.class);
  }

  @Override
  public void act(int number) throws ReflectiveOperationException {
    start.invoke(null, (Runnable) () -> moor(new byte[2_000]));
    moored.acquireUninterruptibly();
  }

  private void moor(byte[] cargo) {
    moored.release();
    castOff.acquireUninterruptibly();
    cargo[0]++;
  }
}
