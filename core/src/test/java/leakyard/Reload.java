package leakyard;

import java.util.HashMap;
import java.util.Map;

/** Class loaders of reloaded plug-ins, kept by what the plug-ins registered. */
public final class Reload implements Program {
  /** Ready to act. */
  public Reload() {}

  static final Map<String, Object> REGISTRY = new HashMap<>();

  public static final class Plugin {
    static byte[] state = new byte[4000];

    public Plugin() {}
  }

  private static final class Loader extends ClassLoader {
    private final byte[] code;

    Loader(byte[] code) {
      super(null);
      this.code = code;
    }

    @Override
    protected Class<?> findClass(String name) throws ClassNotFoundException {
      if (name.equals(Plugin.class.getName())) {
        return defineClass(name, code, 0, code.length);
      }
      return Reload.class.getClassLoader().loadClass(name);
    }
  }

  @Override
  public void act(int number) throws Exception {
    Program.churn(number);
    byte[] code;
    try (var in = Reload.class.getResourceAsStream("Reload$Plugin.class")) {
      code = in.readAllBytes();
    }
    Object plugin =
        new Loader(code).loadClass(Plugin.class.getName()).getDeclaredConstructor().newInstance();
    REGISTRY.put("plug-in " + number, plugin);
  }
}
