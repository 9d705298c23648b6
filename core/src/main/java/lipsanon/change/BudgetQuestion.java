package lipsanon.change;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Locale;
import lipsanon.holder.Finding;
import lipsanon.index.Snapshot;
import lipsanon.label.Labels;
import lipsanon.label.SnapshotSummary;
import lipsanon.label.TypeFilter;
import lipsanon.question.SavingsAnswer;
import lipsanon.question.SavingsQuestion;
import lipsanon.select.SetSize;

/** Measures a heap, or a series of heaps, against budgets. */
public final class BudgetQuestion {
  private static final int PLACES = 1;

  private final Snapshot last;
  private final GrowthAnswer growth;
  private final TypeFilter mine;
  private final Selecting selecting;
  private SavingsAnswer savings;

  private BudgetQuestion(Snapshot last, GrowthAnswer growth, TypeFilter mine, Selecting selecting) {
    this.last = last;
    this.growth = growth;
    this.mine = mine;
    this.selecting = selecting;
  }

  /** Finds the objects of a selection; none where a type has no objects. */
  public interface Selecting {
    /** The objects. */
    BitSet select(String selection) throws Exception;
  }

  /**
   * Measures.
   *
   * @param last the snapshot, of a series its last
   * @param growth of the series; null where there is none and no budget asks for it
   */
  public static BudgetAnswer ask(
      Snapshot last,
      GrowthAnswer growth,
      TypeFilter mine,
      Selecting selecting,
      List<Budget> budgets)
      throws Exception {
    BudgetQuestion question = new BudgetQuestion(last, growth, mine, selecting);
    List<BudgetAnswer.Row> rows = new ArrayList<>();
    for (Budget budget : budgets) {
      rows.add(question.row(budget));
    }
    long over = rows.stream().filter(row -> !row.kept()).count();
    String sentence =
        over == 0
            ? "All " + rows.size() + " budgets are kept."
            : over
                + " of "
                + rows.size()
                + (over == 1 ? " budgets is" : " budgets are")
                + " exceeded.";
    return new BudgetAnswer(SnapshotSummary.of(last), over == 0, sentence, rows);
  }

  private BudgetAnswer.Row row(Budget budget) throws Exception {
    return switch (budget.measure()) {
      case HEAP -> {
        long bytes = last.totals().retainedBytes();
        yield row(budget, bytes, "The live heap is " + Labels.bytes(bytes) + ".", List.of());
      }
      case COUNT -> {
        long count = alive(selecting.select(budget.selection()));
        yield row(
            budget,
            count,
            String.format(Locale.ROOT, "%,d objects of %s are kept.", count, budget.selection()),
            List.of());
      }
      case RETAINED -> {
        BitSet set = selecting.select(budget.selection());
        long bytes = set.isEmpty() ? 0 : SetSize.bytes(last, set);
        yield row(
            budget,
            bytes,
            String.format(
                Locale.ROOT,
                "%,d objects of %s retain %s.",
                alive(set),
                budget.selection(),
                Labels.bytes(bytes)),
            List.of());
      }
      case GROWTH -> growth(budget);
      case SAVINGS -> savings(budget);
    };
  }

  private long alive(BitSet set) {
    long count = 0;
    for (int n = set.nextSetBit(0); n >= 0; n = set.nextSetBit(n + 1)) {
      count += last.depth(n) > 0 ? 1 : 0;
    }
    return count;
  }

  private static BudgetAnswer.Row row(
      Budget budget, long value, String sentence, List<String> steps) {
    return new BudgetAnswer.Row(
        budget.name(),
        budget.measure().name().toLowerCase(Locale.ROOT),
        budget.selection(),
        budget.limit(),
        value,
        value <= budget.limit(),
        sentence,
        steps,
        -1,
        false);
  }

  private BudgetAnswer.Row growth(Budget budget) {
    Finding worst = null;
    double most = 0;
    for (Finding finding : growth.findings()) {
      double each = growth.bytesEach(finding);
      if (each > most) {
        most = each;
        worst = finding;
      }
    }
    if (worst == null) {
      return row(budget, 0, growth.sentence(), List.of());
    }
    List<String> steps = new ArrayList<>();
    worst.steps().forEach(step -> steps.add(step.via() + " → " + step.type()));
    return row(budget, (long) Math.ceil(most), worst.sentence(), steps);
  }

  private BudgetAnswer.Row savings(Budget budget) throws Exception {
    if (savings == null) {
      savings = SavingsQuestion.ask(last, mine, PLACES);
    }
    for (SavingsAnswer.Kind kind : savings.kinds()) {
      if (budget.kind().isEmpty() || kind.kind().equals(budget.kind())) {
        String where =
            kind.places().isEmpty() ? "" : " Most at " + kind.places().get(0).where() + ".";
        return row(budget, kind.bytes(), kind.sentence() + where, List.of());
      }
    }
    return row(budget, 0, "Nothing of this kind is lost.", List.of());
  }
}
