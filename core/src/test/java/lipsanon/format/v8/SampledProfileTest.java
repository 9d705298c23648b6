package lipsanon.format.v8;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import lipsanon.index.Recording;
import lipsanon.io.InputException;
import lipsanon.origin.OriginsAnswer;
import lipsanon.origin.OriginsQuestion;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class SampledProfileTest {
  private static final String PROFILE =
      """
      {"head":{"callFrame":{"functionName":"(root)","scriptId":"0","url":"","lineNumber":-1,
      "columnNumber":-1},"selfSize":0,"id":1,"children":[
        {"callFrame":{"functionName":"tick","scriptId":"9","url":"node:internal/timers",
         "lineNumber":99,"columnNumber":3},"selfSize":0,"id":2,"children":[
           {"callFrame":{"functionName":"","scriptId":"40","url":"file:///harbour/office.js",
            "lineNumber":40,"columnNumber":2},"selfSize":3000,"id":3,"children":[
              {"callFrame":{"functionName":"push","scriptId":"0","url":"","lineNumber":-1,
               "columnNumber":-1},"selfSize":500,"id":4,"children":[]}]},
           {"callFrame":{"functionName":"berth","scriptId":"40","url":"file:///harbour/office.js",
            "lineNumber":7,"columnNumber":0},"selfSize":1000,"id":5,"children":[]}]}]},
      "samples":[{"size":1000,"nodeId":3,"ordinal":1},{"size":2000,"nodeId":3,"ordinal":2},
        {"size":500,"nodeId":4,"ordinal":3},{"size":1000,"nodeId":5,"ordinal":4}],
      "lipsanon":{"millis":5000,"everyBytes":16384,"freedToo":FREED}}
      """;

  @TempDir Path folder;

  private Recording read(String text) throws Exception {
    Path file = folder.resolve("a.heapprofile");
    Files.writeString(file, text);
    return SampledProfile.read(file);
  }

  private static OriginsAnswer ask(Recording recording, boolean innermost, boolean callers) {
    return OriginsQuestion.ofSamples(
        "a.heapprofile",
        recording,
        new OriginsQuestion.Options(innermost, callers, 0, Long.MAX_VALUE, 10));
  }

  @Test
  void functionsOfOnesOwnComeFirst() throws Exception {
    assertThat(SampledProfile.matches(PROFILE.getBytes(StandardCharsets.UTF_8))).isTrue();
    OriginsAnswer answer = ask(read(PROFILE.replace("FREED", "false")), false, false);
    assertThat(answer.liveBytes()).isEqualTo(4500);
    assertThat(answer.liveCount()).isEqualTo(4);
    assertThat(answer.allBytes()).isZero();
    OriginsAnswer.FunctionRow first = answer.functions().get(0);
    assertThat(first.function()).isEqualTo("(anonymous)");
    assertThat(first.line()).isEqualTo(41);
    assertThat(first.column()).isEqualTo(3);
    assertThat(first.liveBytes()).isEqualTo(3500);
    assertThat(answer.functions()).hasSize(2);
    assertThat(answer.stacks())
        .extracting(OriginsAnswer.StackRow::frame)
        .containsExactly(
            "tick (node:internal/timers:100:4)",
            "(anonymous) (office.js:41:3)",
            "push",
            "berth (office.js:8:1)");
    assertThat(answer.stacks())
        .extracting(OriginsAnswer.StackRow::depth)
        .containsExactly(0, 1, 2, 1);
  }

  @Test
  void innermostAndTurnedRound() throws Exception {
    OriginsAnswer answer = ask(read(PROFILE.replace("FREED", "true")), true, true);
    assertThat(answer.allBytes()).isEqualTo(4500);
    assertThat(answer.liveBytes()).isZero();
    assertThat(answer.functions()).extracting(OriginsAnswer.FunctionRow::function).contains("push");
    assertThat(answer.stacks().get(0).frame()).isEqualTo("(anonymous) (office.js:41:3)");
    assertThat(answer.stacks().get(1).frame()).startsWith("tick");
  }

  @Test
  void damagedProfiles() {
    for (int length = 20; length < PROFILE.length() - 10; length += 7) {
      String cut = PROFILE.substring(0, length);
      assertThatThrownBy(() -> read(cut)).as(cut).isInstanceOf(InputException.class);
    }
  }

  @Test
  void framesOfBundledScriptsAreThoseOfTheirSources() throws Exception {
    MapBuilder map =
        new MapBuilder()
            .add(40, 0, "src/berths.ts", 6, 0, null)
            .add(7, 0, "node_modules/tides/index.js", 2, 0, null);
    String maps =
        ",\"lipsanon_source_maps\":{\"40\":{\"url\":\"x\",\"base\":\"/harbour/office.js\",\"map\":"
            + map.json()
            + "}}}";
    String profile = PROFILE.replace("FREED", "true").strip();
    Recording recording = read(profile.substring(0, profile.length() - 1) + maps);
    assertThat(recording.frames())
        .extracting(Recording.Frame::text)
        .containsExactly(
            "(root)",
            "tick (node:internal/timers:100:4)",
            "(anonymous) (berths.ts:7:1)",
            "push",
            "berth (index.js:3:1)");
  }
}
