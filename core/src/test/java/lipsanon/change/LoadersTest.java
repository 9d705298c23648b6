package lipsanon.change;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.io.Progress;
import lipsanon.label.OwnCode;
import lipsanon.label.TypeFilter;
import lipsanon.question.SurveyAnswer;
import lipsanon.question.SurveyQuestion;
import lipsanon.select.Selections;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A class that several loaders have: told apart, counted, and who keeps the loaders. */
class LoadersTest {
  @TempDir Path folder;

  @Test
  void copiesAreToldApartAndTheirHolderIsNamed() throws Exception {
    Path file = folder.resolve("reloads.hprof");
    try (YardJvm jvm = new YardJvm("library.Reloads")) {
      jvm.act(12);
      jvm.dump(file);
    }
    Snapshots.Options options = new Snapshots.Options(null, folder, true, 1L << 30);
    try (Snapshot s = Snapshots.open(file, options, Progress.NONE)) {
      SurveyAnswer survey = SurveyQuestion.ask(s, TypeFilter.ALL, 7);
      assertThat(survey.findings())
          .anySatisfy(
              finding -> {
                // twelve times anew, and once with the program itself
                assertThat(finding.sentence())
                    .contains("leakyard.library.Reloads$Plugin is loaded 13 times")
                    .contains("held by static leakyard.library.Reloads.HOOKS");
                assertThat(finding.steps()).isNotEmpty();
              });
      List<String> loaders = new ArrayList<>();
      for (TypeInfo type : s.types()) {
        if (type.name().equals("leakyard.library.Reloads$Plugin")) {
          loaders.add(type.loader());
        }
      }
      assertThat(loaders).hasSize(13).doesNotContain("").doesNotHaveDuplicates();
      // what is printed can be pasted back: the family stands for all of them
      assertThat(Selections.named(s, "leakyard.library.Reloads$Plugin$$Lambda").size())
          .isEqualTo(12);
      assertThat(OwnCode.packages(s)).contains("leakyard.library");
      assertThat(OwnCode.told(s)).contains("--mine");
    }
  }

  @Test
  void namesAsTheyArePrinted() throws Exception {
    Path file = folder.resolve("office.heapsnapshot");
    try (NodeYard node = new NodeYard("memo")) {
      node.say("act 9");
      node.say("dump " + file);
    }
    Snapshots.Options options = new Snapshots.Options(null, folder, true, 1L << 30);
    try (Snapshot s = Snapshots.open(file, options, Progress.NONE)) {
      assertThat(Selections.named(s, "Object {table}").size()).isBetween(9, 12);
      assertThat(Selections.named(s, "v8:closure tideAt (memo.js:6)").size()).isEqualTo(1);
      assertThat(Selections.named(s, "v8:closure tideAt").size()).isEqualTo(1);
      assertThat(Selections.named(s, "v8:closure tideAt, Object {table}").size()).isBetween(10, 13);
      assertThat(Selections.named(s, "NoSuchThing")).isNull();
      assertThat(Selections.named(s, "NoSuchThing, Object {table}")).isNull();
      assertThat(Selections.near(s, "Promisse")).contains("Promise");
    }
  }
}
