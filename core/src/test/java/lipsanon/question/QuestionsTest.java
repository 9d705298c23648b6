package lipsanon.question;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import lipsanon.array.IntList;
import lipsanon.change.DiffAnswer;
import lipsanon.change.DiffQuestion;
import lipsanon.format.hprof.HprofBuilder;
import lipsanon.index.Snapshot;
import lipsanon.io.Progress;
import lipsanon.label.Closed;
import lipsanon.label.Step;
import lipsanon.label.TypeFilter;
import lipsanon.select.Removal;
import lipsanon.select.Selections;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The questions, each on a small dump whose answer is known. */
class QuestionsTest {
  private static final int STICKY = 0x05;

  @TempDir Path folder;
  private Snapshot s;

  private Snapshot open(String name, byte[] dump) throws Exception {
    Path file = folder.resolve(name);
    Files.write(file, dump);
    return Snapshots.open(file, new Snapshots.Options(null, folder, true, 1L << 30), Progress.NONE);
  }

  /** A quay with a list of crates, of which the last is also in a chain of ropes. */
  private static HprofBuilder quay(int crates) {
    HprofBuilder b =
        new HprofBuilder(8)
            .type(0x1000, "java.lang.Object", 0, Map.of())
            .type(0x1100, "java.lang.Class", 0x1000, Map.of())
            .type(0x1200, "[Ljava.lang.Object;", 0x1000, Map.of())
            .type(0x1300, "harbour.Quay", 0x1000, Map.of("ALL", 0x3000L, "ROPES", 0x8_0000L))
            .type(0x1400, "harbour.Crate", 0x1000, Map.of(), "goods:2")
            .type(0x1500, "harbour.Rope", 0x1000, Map.of(), "next:2", "crate:2")
            .root(STICKY, 0x1300);
    long[] elements = new long[crates];
    for (int i = 0; i < crates; i++) {
      elements[i] = 0x10_000 + i * 0x28L;
      b.instance(elements[i], 0x1400, elements[i] + 0x10);
      b.bytes(elements[i] + 0x10, new byte[8]);
    }
    b.array(0x3000, 0x1200, elements);
    for (int i = 0; i < 50; i++) {
      long id = 0x8_0000 + i * 0x20L;
      b.instance(id, 0x1500, i < 49 ? id + 0x20 : 0, i < 49 ? 0 : elements[crates - 1]);
    }
    return b;
  }

  @BeforeEach
  void openQuay() throws Exception {
    s = open("quay.hprof", quay(200).build());
  }

  @AfterEach
  void close() throws Exception {
    s.close();
  }

  @Test
  void typesCountAndBound() {
    TypesAnswer answer =
        TypesQuestion.ask(
            s, new TypeFilter("crate", List.of(), false), TypesQuestion.Sort.COUNT, 9);
    assertThat(answer.types()).hasSize(1);
    TypeRow row = answer.types().get(0);
    assertThat(row.type()).isEqualTo("harbour.Crate");
    assertThat(row.count()).isEqualTo(200);
    assertThat(row.shallowBytes()).isEqualTo(200 * 16);
    // and their class, which nothing else keeps
    long classBytes = s.shallowBytes(s.nodeOf(0x1400));
    assertThat(row.retainedBytes()).isEqualTo(200 * (16 + 24) + classBytes);
    assertThat(row.retainedExact()).isTrue();
    TypeFilter mine = new TypeFilter(null, List.of("harbour"), true);
    assertThat(TypesQuestion.ask(s, mine, TypesQuestion.Sort.NAME, 9).types())
        .extracting(TypeRow::type)
        .containsExactly("harbour.Crate", "harbour.Rope");
    assertThat(new TypeFilter("*.R?pe", List.of(), false).accepts(info("harbour.Rope"))).isTrue();
    assertThat(new TypeFilter("R?pe", List.of(), false).accepts(info("harbour.Rope"))).isFalse();
  }

  private static lipsanon.index.TypeInfo info(String name) {
    return new lipsanon.index.TypeInfo(name, "", -1, java.util.Set.of());
  }

  @Test
  void severalTypesAsOneSet() throws Exception {
    // together they also keep the last crate and the class of all crates, which neither type does
    List<Integer> types = new ArrayList<>(Selections.types(s, "harbour.Rope"));
    types.addAll(Selections.types(s, "java.lang.Object[]"));
    long exact = Removal.of(s, Selections.set(s, types)).bytes();
    long apart = types.stream().mapToLong(t -> s.counts(t).retainedBytes()).sum();
    assertThat(exact).isEqualTo(apart + 16 + 24 + s.shallowBytes(s.nodeOf(0x1400)));
  }

  @Test
  void keepersLevelByLevel() throws Exception {
    KeepersAnswer top = KeepersQuestion.ask(s, -1, TypeFilter.ALL, 5);
    assertThat(top.keepers().get(0).label()).isEqualTo("class harbour.Quay");
    assertThat(top.keepers().get(0).heldBy()).isEqualTo("system class");
    KeepersAnswer below = KeepersQuestion.ask(s, Selections.object(s, "0x3000"), TypeFilter.ALL, 5);
    // and the class of the array, which only the array refers to
    assertThat(below.children()).isEqualTo(200);
    assertThat(below.groups().get(0).count()).isEqualTo(199);
    assertThat(below.keepers()).hasSize(5);
    assertThat(below.keepers().get(0).heldBy()).isEqualTo("objects of this class");
    assertThat(below.keepers().get(1).heldBy()).startsWith("java.lang.Object[][");
  }

  @Test
  void veryManyChildrenAreKnownFromTheIndex() throws Exception {
    HprofBuilder b =
        new HprofBuilder(8)
            .type(0x1000, "java.lang.Object", 0, Map.of())
            .type(0x1200, "[Ljava.lang.Object;", 0x1000, Map.of())
            .type(0x1300, "harbour.Quay", 0x1000, Map.of("ALL", 0x3000L))
            .type(0x1400, "harbour.Crate", 0x1000, Map.of(), "goods:2")
            .type(0x1500, "harbour.Sack", 0x1000, Map.of(), "goods:2")
            .root(STICKY, 0x1300);
    int count = 25_000;
    long[] elements = new long[count];
    for (int i = 0; i < count; i++) {
      elements[i] = 0x10_0000 + i * 0x80L;
      b.instance(elements[i], i % 3 == 0 ? 0x1500 : 0x1400, elements[i] + 0x10);
      b.bytes(elements[i] + 0x10, new byte[i % 61]);
    }
    b.array(0x3000, 0x1200, elements);
    try (Snapshot many = open("many.hprof", b.build())) {
      int list = many.nodeOf(0x3000);
      assertThat(many.brood(list)).isNotNull();
      assertThat(many.brood(many.nodeOf(0x1300))).isNull();
      // a filter that lets all pass has every object looked at
      TypeFilter looking = new TypeFilter("*", List.of(), false);
      for (int limit : new int[] {1, 7, 100}) {
        KeepersAnswer known = KeepersQuestion.ask(many, list, TypeFilter.ALL, limit);
        KeepersAnswer counted = KeepersQuestion.ask(many, list, looking, limit);
        // and their classes, and that of the array, which nothing else refers to
        assertThat(known.children()).isBetween(count + 0L, count + 3L);
        assertThat(known.children()).isEqualTo(counted.children());
        assertThat(known.childrenRetainedBytes()).isEqualTo(counted.childrenRetainedBytes());
        assertThat(known.groups())
            .usingRecursiveComparison()
            .ignoringFields("example")
            .isEqualTo(counted.groups());
        assertThat(known.keepers())
            .extracting(lipsanon.label.ObjectRow::retainedBytes)
            .containsExactlyElementsOf(
                counted.keepers().stream().map(lipsanon.label.ObjectRow::retainedBytes).toList());
      }
    }
  }

  @Test
  void whyForAnObjectFoldsChains() throws Exception {
    int last = s.nodeOf(0x8_0000 + 49 * 0x20L);
    WhyAnswer answer = WhyQuestion.ofObject(s, last, true, Closed.NAMES);
    List<Step> anchored = WhyQuestion.ofObject(s, last, false, Closed.NAMES).paths().get(0).steps();
    assertThat(anchored.get(0).via()).isEqualTo("static harbour.Quay.ROPES");
    List<Step> steps = answer.paths().get(0).steps();
    assertThat(steps).extracting(Step::via).first().isEqualTo("system class");
    assertThat(steps.get(1).via()).isEqualTo("static harbour.Quay.ROPES");
    assertThat(steps.get(steps.size() - 1).id()).isEqualTo(s.id(last));
    assertThat(steps.stream().mapToLong(Step::repeats).sum()).isEqualTo(s.depth(last));
    assertThat(steps).hasSizeLessThan(8);
    assertThat(answer.dominators()).isNotEmpty();
  }

  @Test
  void whyForATypeCountsPaths() throws Exception {
    IntList crates = Selections.objects(s, Selections.types(s, "Crate"));
    WhyAnswer answer = WhyQuestion.ofObjects(s, "Crate", crates, 3, false, TypeFilter.ALL);
    assertThat(answer.objects()).isEqualTo(200);
    assertThat(answer.paths()).hasSize(1);
    assertThat(answer.paths().get(0).count()).isEqualTo(200);
    assertThat(answer.paths().get(0).steps().get(0).via()).isEqualTo("static harbour.Quay.ALL");
  }

  @Test
  void whyForWhatNothingKeeps() throws Exception {
    byte[] dump = quay(3).instance(0x7000, 0x1400, 0).build();
    try (Snapshot other = open("loose.hprof", dump)) {
      WhyAnswer answer = WhyQuestion.ofObject(other, other.nodeOf(0x7000), false, Closed.NAMES);
      assertThat(answer.paths()).isEmpty();
      assertThat(answer.unretained()).isEqualTo(1);
      ShowAnswer show = ShowQuestion.ask(other, other.nodeOf(0x7000), 5);
      assertThat(show.strength()).isEqualTo("unretained");
      assertThat(show.depth()).isZero();
      assertThat(show.object().heldBy()).contains("nothing");
    }
  }

  @Test
  void showTellsBothDirections() throws Exception {
    ShowAnswer answer = ShowQuestion.ask(s, s.nodeOf(0x10_000 + 199 * 0x28L), 5);
    assertThat(answer.object().type()).isEqualTo("harbour.Crate");
    assertThat(answer.referencesIn())
        .extracting(ShowAnswer.ReferenceRow::via)
        .containsExactlyInAnyOrder("[199]", "harbour.Rope.crate");
    assertThat(answer.referencesOut())
        .extracting(ShowAnswer.ReferenceRow::via)
        .contains("harbour.Crate.goods", "its class");
    assertThat(answer.dominator().label()).isEqualTo("class harbour.Quay");
  }

  @Test
  void diffFindsTypesKeepersAndReferences() throws Exception {
    try (Snapshot later = open("later.hprof", quay(260).build())) {
      DiffAnswer answer = DiffQuestion.ask(s, later, TypeFilter.ALL, DiffQuestion.Sort.COUNT, 10);
      DiffAnswer.TypeChange crates =
          answer.types().stream().filter(t -> t.type().endsWith("Crate")).findFirst().orElseThrow();
      assertThat(crates.countDifference()).isEqualTo(60);
      assertThat(crates.retainedBytesDifference()).isEqualTo(60 * (16 + 24));
      assertThat(crates.status()).isEqualTo("kept");
      DiffAnswer.KeeperChange keeper = answer.keepers().get(0);
      assertThat(keeper.path()).contains("class harbour.Quay").contains("static harbour.Quay.ALL");
      assertThat(keeper.retainedBytesDifference()).isGreaterThanOrEqualTo(60 * (16 + 24));
      assertThat(answer.references())
          .anySatisfy(
              row -> {
                assertThat(row.direction()).isEqualTo("held by");
                assertThat(row.via()).isEqualTo("[]");
                assertThat(row.difference()).isEqualTo(60);
              });
      DiffAnswer same = DiffQuestion.ask(s, s, TypeFilter.ALL, DiffQuestion.Sort.COUNT, 10);
      assertThat(same.types()).isEmpty();
      assertThat(same.keepers()).isEmpty();
    }
  }

  @Test
  void surveyNamesThePlace() throws Exception {
    SurveyAnswer answer = SurveyQuestion.ask(s, TypeFilter.ALL, 5);
    assertThat(answer.findings()).isNotEmpty();
    assertThat(answer.findings().get(0).heldBy()).isEqualTo("static harbour.Quay.ALL");
    assertThat(answer.findings().get(0).what()).isEqualTo("harbour.Crate");
    assertThat(answer.findings().get(0).confidence()).isLessThan(0.5);
  }

  @Test
  void exportGivesEveryFigure() throws Exception {
    List<Object[]> objects = new ArrayList<>();
    ExportQuestion.objects(s, objects::add, Progress.NONE);
    assertThat(objects).hasSize(s.objectCount());
    long shallow = objects.stream().mapToLong(row -> (Long) row[2]).sum();
    assertThat(shallow).isEqualTo(s.totals().shallowBytes());
    List<Object[]> references = new ArrayList<>();
    ExportQuestion.references(s, references::add, Progress.NONE);
    assertThat(references).anySatisfy(row -> assertThat(row[3]).isEqualTo("harbour.Rope.next"));
    assertThat(references.get(0)[2]).isEqualTo("root");
  }
}
