package leakyard;

import java.util.ArrayList;
import java.util.List;

/** Notes that are kept as the value of a class: a dump does not tell what refers to them. */
public final class KeptByClass implements Program {
  private static final ClassValue<List<Note>> NOTES =
      new ClassValue<>() {
        @Override
        protected List<Note> computeValue(Class<?> of) {
          return new ArrayList<>();
        }
      };

  static final class Note {
    final long[] text = new long[60];
  }

  /** Ready to act. */
  public KeptByClass() {}

  @Override
  public void act(int number) {
    Program.churn(number);
    NOTES.get(Program.class).add(new Note());
  }
}
