package leakyard.library;

import groovy.lang.GroovyShell;
import leakyard.Program;

/** A formula with each call, by a shell that nobody keeps: what is left is kept softly. */
public final class Formulas implements Program {
  /** Ready to act. */
  public Formulas() {}

  @Override
  public void act(int number) {
    new GroovyShell().evaluate("def tons = " + number + "; tons * 3");
  }
}
