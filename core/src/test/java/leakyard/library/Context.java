package leakyard.library;

import leakyard.Program;
import org.springframework.context.ApplicationEvent;
import org.springframework.context.ApplicationListener;
import org.springframework.context.support.GenericApplicationContext;

/** Listeners of an application context, added with each call. */
public final class Context implements Program {
  /** Ready to act. */
  public Context() {}

  private static final Server SERVER = new Server();

  static final class Server {
    private GenericApplicationContext beans = new GenericApplicationContext();

    Server() {
      beans.refresh();
    }
  }

  static final class Watchman implements ApplicationListener<ApplicationEvent> {
    final int[] log = new int[200];

    @Override
    public void onApplicationEvent(ApplicationEvent event) {
      log[0]++;
    }
  }

  @Override
  public void act(int number) {
    SERVER.beans.addApplicationListener(new Watchman());
    SERVER.beans.publishEvent("call " + number);
  }

  @Override
  public void release() {
    SERVER.beans.close();
    SERVER.beans = null;
  }
}
