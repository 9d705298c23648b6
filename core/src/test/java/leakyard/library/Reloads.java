package leakyard.library;

import java.net.URL;
import java.net.URLClassLoader;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import leakyard.Program;

/** A plug-in loaded anew with each call, of which a lambda stays. */
public final class Reloads implements Program {
  /** Ready to act. */
  public Reloads() {}

  private static final List<Object> HOOKS = new ArrayList<>();

  /** What is loaded anew. */
  public static final class Plugin implements Callable<Object> {
    /** Ready. */
    public Plugin() {}

    @Override
    public Object call() {
      byte[] state = new byte[400];
      Runnable hook = () -> state[0]++;
      return hook;
    }
  }

  @Override
  public void act(int number) throws Exception {
    URL here = Reloads.class.getProtectionDomain().getCodeSource().getLocation();
    ClassLoader loader =
        new URLClassLoader(new URL[] {here}, Reloads.class.getClassLoader()) {
          @Override
          protected Class<?> loadClass(String name, boolean resolve) throws ClassNotFoundException {
            return name.equals(Plugin.class.getName())
                ? findClass(name)
                : super.loadClass(name, resolve);
          }
        };
    Object plugin = loader.loadClass(Plugin.class.getName()).getDeclaredConstructor().newInstance();
    HOOKS.add(((Callable<?>) plugin).call());
  }

  @Override
  public void release() {
    HOOKS.clear();
  }
}
