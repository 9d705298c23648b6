package leakyard.library;

import groovy.lang.GroovyShell;
import leakyard.Program;

/** A formula evaluated with each call: one shell keeps the class of each. */
public final class Tariffs implements Program {
  /** Ready to act. */
  public Tariffs() {}

  private static GroovyShell shell = new GroovyShell();

  @Override
  public void act(int number) {
    shell.evaluate("def tons = " + number + "; tons * 3");
  }

  @Override
  public void release() {
    shell = null;
  }
}
