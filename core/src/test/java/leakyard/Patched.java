package leakyard;

import java.nio.charset.StandardCharsets;

/** A class with a name of its own made with each call, in the program's own loader. */
public final class Patched implements Program {
  /** Ready to act. */
  public Patched() {}

  /** What is defined under other names: the zeros are its number. */
  static final class Rule00000 {}

  @Override
  public void act(int number) throws Exception {
    Program.churn(number);
    String code = new String(Hidden.code(Rule00000.class), StandardCharsets.ISO_8859_1);
    String named = code.replace("Rule00000", String.format("Rule%05d", number + 1));
    java.lang.invoke.MethodHandles.lookup()
        .defineClass(named.getBytes(StandardCharsets.ISO_8859_1));
  }
}
