package lipsanon.cli.explore;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The questions asked, there and back. */
class TrailTest {
  @TempDir Path folder;

  @Test
  void backAndForward() throws Exception {
    Trail trail = new Trail(folder);
    assertThat(trail.back()).isNull();
    trail.add("types");
    trail.add("sift own");
    trail.add("why 0x1");
    assertThat(trail.back()).isEqualTo("sift own");
    assertThat(trail.back()).isEqualTo("types");
    assertThat(trail.back()).isNull();
    assertThat(trail.forward()).isEqualTo("sift own");
    assertThat(trail.forward()).isEqualTo("why 0x1");
    assertThat(trail.forward()).isNull();
  }

  @Test
  void theSameTwiceIsOneStep() throws Exception {
    Trail trail = new Trail(folder);
    trail.add("types");
    trail.add("types");
    assertThat(trail.steps()).containsExactly("types");
  }

  @Test
  void itIsFoundAgainNextTime() throws Exception {
    new Trail(folder).add("types");
    Trail again = new Trail(folder);
    assertThat(again.back()).isEqualTo("types");
    again.add("survey");
    assertThat(new Trail(folder).steps()).containsExactly("types", "survey");
    assertThat(Files.readString(folder.resolve("trail"))).isEqualTo("types\nsurvey\n");
  }
}
