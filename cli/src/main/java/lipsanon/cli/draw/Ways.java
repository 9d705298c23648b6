package lipsanon.cli.draw;

import java.util.ArrayList;
import java.util.List;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.SafeText;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.label.Step;
import lipsanon.label.TypeFilter;
import lipsanon.question.WaysAnswer;
import lipsanon.question.WhyAnswer;

/** Merged paths as a picture shows them: boxes with a few short lines, arrows with texts. */
public final class Ways {
  private static final int LONGEST = 46;

  private final List<Box> boxes = new ArrayList<>();

  private Ways() {}

  /**
   * A box.
   *
   * @param parent the box before, -1 for a root's
   * @param arrow what stands at the arrow to it
   * @param lines what stands in it
   * @param kind how it is coloured
   */
  record Box(int parent, String arrow, List<String> lines, Kind kind) {}

  /** What a box stands for. */
  enum Kind {
    ROOT,
    OWN,
    OTHER,
    MEMBER
  }

  /** Of an answer for an object or a set. */
  public static Ways of(WhyAnswer answer, TypeFilter mine, Snapshot snapshot) {
    Ways ways = new Ways();
    if (answer.ways() != null) {
      ways.addTree(answer.ways());
    } else {
      for (WhyAnswer.Path path : answer.paths()) {
        ways.addPath(path.steps(), mine, snapshot);
      }
    }
    return ways;
  }

  List<Box> boxes() {
    return boxes;
  }

  private void addTree(WaysAnswer answer) {
    int[] boxOf = new int[answer.nodes().size()];
    int[] children = new int[boxOf.length];
    for (WaysAnswer.Node node : answer.nodes()) {
      if (node.parent() >= 0) {
        children[node.parent()]++;
      }
    }
    for (WaysAnswer.Node node : answer.nodes()) {
      WaysAnswer.Node above = node.parent() < 0 ? null : answer.nodes().get(node.parent());
      boolean onlyWay =
          above != null
              && children[above.number()] == 1
              && above.members() == 0
              && above.leadsTo() == node.leadsTo();
      Kind kind = node.members() > 0 ? Kind.MEMBER : node.own() ? Kind.OWN : Kind.OTHER;
      if (onlyWay && boxes.get(boxOf[above.number()]).kind() == kind) {
        // one box for a way that does not branch: long paths stay readable
        boxOf[node.number()] = boxOf[above.number()];
        append(boxOf[node.number()], cut(node.via()) + " → " + name(node.type(), node.label()));
        continue;
      }
      int parent = above == null ? root(node.via()) : boxOf[above.number()];
      List<String> lines = new ArrayList<>();
      lines.add(name(node.type(), node.label()));
      if (node.objects() > 1) {
        lines.add(Format.count(node.objects()) + " objects");
      }
      if (node.members() > 0 && node.members() != node.objects()) {
        lines.add(Format.count(node.members()) + " of those asked about");
      }
      String arrow = (above == null ? "" : cut(node.via()) + "  ") + Format.count(node.leadsTo());
      boxOf[node.number()] = add(parent, arrow, lines, kind);
    }
  }

  private void append(int box, String line) {
    List<String> lines = new ArrayList<>(boxes.get(box).lines());
    lines.add(SafeText.visible(line));
    Box old = boxes.get(box);
    boxes.set(box, new Box(old.parent(), old.arrow(), lines, old.kind()));
  }

  private void addPath(List<Step> steps, TypeFilter mine, Snapshot snapshot) {
    int parent = -1;
    for (int i = 0; i < steps.size(); i++) {
      Step step = steps.get(i);
      if (parent < 0) {
        parent = root(step.via());
      }
      boolean own = false;
      for (TypeInfo type : snapshot.types()) {
        own |= type.name().equals(step.type()) && mine.isMine(type);
      }
      List<String> lines = new ArrayList<>(List.of(name(step.type(), step.label()), step.id()));
      if (step.repeats() > 1) {
        lines.add("× " + Format.count(step.repeats()) + " in a chain");
      }
      Kind kind = i == steps.size() - 1 ? Kind.MEMBER : own ? Kind.OWN : Kind.OTHER;
      parent = add(parent, i == 0 ? "" : cut(step.via()), lines, kind);
    }
  }

  /** One box for each kind of root. */
  private int root(String text) {
    String name = cut(text.startsWith("root: ") ? text.substring(6) : text);
    for (int i = 0; i < boxes.size(); i++) {
      if (boxes.get(i).kind() == Kind.ROOT && boxes.get(i).lines().get(1).equals(name)) {
        return i;
      }
    }
    boolean root = text.startsWith("root: ");
    return add(-1, "", List.of(root ? "root" : "anchor", name), Kind.ROOT);
  }

  private int add(int parent, String arrow, List<String> lines, Kind kind) {
    List<String> safe = lines.stream().map(SafeText::visible).toList();
    boxes.add(new Box(parent, SafeText.visible(arrow), safe, kind));
    return boxes.size() - 1;
  }

  private static String name(String type, String label) {
    if (type.equals("java.lang.Class") && !label.isEmpty()) {
      return cut(label);
    }
    return cut(label.isEmpty() ? type : type + " " + label);
  }

  private static String cut(String text) {
    return text.length() <= LONGEST
        ? text
        : text.substring(0, LONGEST / 2) + "…" + text.substring(text.length() - LONGEST / 2);
  }

  /** In the DOT language. */
  public String dot() {
    StringBuilder dot = new StringBuilder("digraph ways {\n  rankdir=TB;\n  node [shape=box];\n");
    for (int i = 0; i < boxes.size(); i++) {
      Box box = boxes.get(i);
      dot.append("  n").append(i).append(" [label=").append(quoted(String.join("\n", box.lines())));
      dot.append(", style=filled, fillcolor=").append(quoted(WaysPicture.fill(box.kind())));
      dot.append("];\n");
      if (box.parent() >= 0) {
        dot.append("  n").append(box.parent()).append(" -> n").append(i);
        dot.append(" [label=").append(quoted(box.arrow())).append("];\n");
      }
    }
    return dot.append("}\n").toString();
  }

  private static String quoted(String text) {
    return "\"" + text.replace("\\", "\\\\").replace("\"", "\\\"").replace("\n", "\\n") + "\"";
  }
}
