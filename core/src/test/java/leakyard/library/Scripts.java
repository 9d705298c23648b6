package leakyard.library;

import groovy.lang.GroovyShell;
import groovy.lang.Script;
import java.util.ArrayList;
import java.util.List;
import leakyard.Program;

/** A script compiled anew with each call; the shell keeps their classes. */
public final class Scripts implements Program {
  /** Ready to act. */
  public Scripts() {}

  private static final Rules RULES = new Rules();

  static final class Rules {
    private final GroovyShell shell = new GroovyShell();
    private final List<Script> compiled = new ArrayList<>();
  }

  @Override
  public void act(int number) {
    Script script = RULES.shell.parse("def due = { it * " + number + " }; due(2)");
    script.run();
    RULES.compiled.add(script);
  }

  @Override
  public void release() {
    RULES.compiled.clear();
    RULES.shell.getClassLoader().clearCache();
  }
}
