package lipsanon.change;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.Locale;
import java.util.TreeMap;
import lipsanon.holder.Finding;

/** How sure findings were, and whether they were right; printed as a table. */
final class Sureness {
  private final TreeMap<String, Double> right = new TreeMap<>();
  private final TreeMap<String, Double> wrong = new TreeMap<>();

  void add(String program, Finding finding, boolean isRight) {
    (isRight ? right : wrong).put(program + ": " + finding.heldBy(), finding.confidence());
  }

  /** Of what is said to be sure nearly all must be right. */
  void check() {
    ArrayList<String> lines = new ArrayList<>();
    right.forEach(
        (name, sure) -> lines.add(String.format(Locale.ROOT, "%.2f right %s", sure, name)));
    wrong.forEach(
        (name, sure) -> lines.add(String.format(Locale.ROOT, "%.2f WRONG %s", sure, name)));
    lines.sort(null);
    System.out.println("sure to | the headline is");
    lines.forEach(System.out::println);
    long sureAndRight = right.values().stream().filter(sure -> sure >= 0.9).count();
    long sure = sureAndRight + wrong.values().stream().filter(s -> s >= 0.9).count();
    assertThat(sureAndRight).isGreaterThanOrEqualTo((long) Math.ceil(0.95 * sure));
  }
}
