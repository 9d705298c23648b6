package leakyard;

import java.io.IOException;
import java.io.InputStream;
import java.lang.invoke.MethodHandles;

/** A hidden class made with each call, which stays as long as the program's own loader. */
public final class Hidden implements Program {
  /** Ready to act. */
  public Hidden() {}

  /** What is defined anew. */
  static final class Rule {}

  /** The code of a class that the program has. */
  static byte[] code(Class<?> of) throws IOException {
    String name = of.getName().substring(of.getPackageName().length() + 1) + ".class";
    try (InputStream in = of.getResourceAsStream(name)) {
      return in.readAllBytes();
    }
  }

  @Override
  public void act(int number) throws Exception {
    Program.churn(number);
    MethodHandles.lookup()
        .defineHiddenClass(code(Rule.class), true, MethodHandles.Lookup.ClassOption.STRONG);
  }
}
