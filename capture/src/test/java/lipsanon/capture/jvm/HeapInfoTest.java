package lipsanon.capture.jvm;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** The heap in use, from what each collector of JDK 17 and 25 says. */
class HeapInfoTest {
  @ParameterizedTest
  @CsvSource(
      delimiter = ';',
      value = {
        " garbage-first heap   total 307200K, used 11578K [0x1, 0x2); 11578",
        "garbage-first heap   total reserved 307200K, committed 3072K, used 12104K [0x1, 0x2); 12104",
        "Shenandoah Heap|300M max, 300M soft max, 300M committed, 10656K used; 10656",
        " ZHeap           used 14M, capacity 300M, max capacity 300M; 14336",
      })
  void oneHeap(String text, long kilobytes) {
    assertThat(HeapInfo.of(text.replace('|', '\n')).usedBytes()).isEqualTo(kilobytes << 10);
  }

  @Test
  void generationsAreAddedAndTheirSpacesAreNot() {
    String text =
        """
         PSYoungGen      total 89600K, used 13398K [0x1, 0x2, 0x3)
          eden space 76800K, 17% used [0x1,0x2,0x3)
         ParOldGen       total 204800K, used 100K [0x1, 0x2, 0x3)
          object space 204800K, 0% used [0x1,0x2,0x3)
         Metaspace       used 128K, committed 320K, reserved 1114112K
          class space    used 4K, committed 128K, reserved 1048576K
        """;
    assertThat(HeapInfo.of(text).usedBytes()).isEqualTo(13498L << 10);
    assertThat(HeapInfo.of("nothing of the kind").usedBytes()).isEqualTo(-1);
  }
}
