package lipsanon.format.nettrace;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Random;
import lipsanon.cli.DotnetPrograms;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Symbol files that the runtime's own writer has written, read back line by line. */
class PortablePdbTest {
  private static final int METHODS = 300;

  @TempDir Path folder;

  @Test
  void everyInstructionHasItsLine() throws Exception {
    Path file = folder.resolve("Office.pdb");
    DotnetPrograms.writeSymbols(file, METHODS);
    PortablePdb pdb = PortablePdb.beside(folder.resolve("Office.dll").toString());
    assertThat(pdb).isNotNull();
    for (int method = 1; method <= METHODS; method++) {
      for (int offset = 0; offset <= 220; offset++) {
        int known = Math.min(offset, 200);
        known = known >= 60 && known < 70 ? 59 : known;
        int line = known == 50 ? 7 : 1000 * method + known;
        PortablePdb.Place place = pdb.line(0x6000000 | method, offset);
        assertThat(place.line()).as(method + " at " + offset).isEqualTo(line);
        assertThat(place.document())
            .as(method + " at " + offset)
            .isEqualTo(known < 100 ? "/quay/src/Office.cs" : "/quay/src/More.cs");
      }
    }
    assertThat(pdb.line(0x6000000, 0)).isNull();
    assertThat(pdb.line(0x6000000 | METHODS + 1, 0)).isNull();
  }

  @Test
  void damagedItGivesNoLineAndNoError() throws Exception {
    Path file = folder.resolve("Office.pdb");
    DotnetPrograms.writeSymbols(file, 5);
    byte[] whole = Files.readAllBytes(file);
    Random random = new Random(9);
    for (int i = 0; i < 5000; i++) {
      byte[] changed = whole.clone();
      for (int k = 0; k <= i % 4; k++) {
        changed[random.nextInt(changed.length)] = (byte) random.nextInt();
      }
      int length = i % 3 == 0 ? random.nextInt(changed.length) : changed.length;
      Files.write(file, java.util.Arrays.copyOf(changed, length));
      PortablePdb pdb = PortablePdb.beside(folder.resolve("Office.dll").toString());
      for (int method = 1; pdb != null && method < 6; method++) {
        pdb.line(0x6000000 | method, random.nextInt(200));
      }
    }
    assertThat(PortablePdb.beside("Office.dll")).isNull();
    assertThat(PortablePdb.beside("/nowhere/Office.dll")).isNull();
  }
}
