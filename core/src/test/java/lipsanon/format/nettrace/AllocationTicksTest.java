package lipsanon.format.nettrace;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Random;
import lipsanon.io.FileSource;
import lipsanon.io.InputException;
import lipsanon.live.Flight;
import lipsanon.origin.FlightAnswer;
import lipsanon.origin.FlightQuestion;
import lipsanon.origin.OriginsQuestion;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Streams with allocations that were made up: who allocated, by which way. */
class AllocationTicksTest {
  @TempDir Path folder;

  private static NettraceBuilder.Bytes tick(String type, long bytes) {
    return new NettraceBuilder.Bytes()
        .u4(bytes)
        .u4(0)
        .u2(1)
        .u8(bytes)
        .u8(77)
        .text(type)
        .u4(0)
        .u8(0x1000)
        .u8(32);
  }

  private static NettraceBuilder.Bytes method(long start, int size, String type, String name) {
    return new NettraceBuilder.Bytes()
        .u8(start)
        .u8(5)
        .u8(start)
        .u4(size)
        .u4(0x6000001)
        .u4(0)
        .text(type)
        .text(name)
        .text("void ()");
  }

  private static NettraceBuilder builder() {
    return new NettraceBuilder()
        .stacks(1, new long[] {0x510, 0x120, 0x205}, new long[] {0x130, 0x205}, new long[] {0x999})
        .event(10, 1, tick("PortMerrow.VesselCall", 100_000))
        .event(10, 1, tick("PortMerrow.VesselCall", 50_000))
        .event(10, 2, tick("PortMerrow.Crate`1[System.String]", 30_000))
        .event(10, 3, tick("System.Byte[]", 20_000))
        .event(10, 9, tick("System.Byte[]", 1_000))
        .event(NettraceFormat.METHOD, method(0x100, 0x80, "PortMerrow.HarbourOffice", "Arrive"))
        .event(NettraceFormat.METHOD, method(0x200, 0x80, "PortMerrow.Program", "Main"))
        .event(
            NettraceFormat.METHOD,
            method(0x500, 0x40, "System.Collections.Generic.List`1[System.__Canon]", "Add"));
  }

  private Flight read(byte[] bytes) throws Exception {
    Path file = Files.write(folder.resolve("ticks.nettrace"), bytes);
    try (FileSource source = new FileSource(file)) {
      return AllocationTicks.read(source);
    }
  }

  @Test
  void stacksHaveTheirNames() throws Exception {
    Flight flight = read(builder().end());
    assertThat(flight.partial()).isFalse();
    assertThat(flight.allocations()).hasSize(5);
    Flight.Allocation first = flight.allocations().get(0);
    assertThat(first.type()).isEqualTo("PortMerrow.VesselCall");
    assertThat(first.stack())
        .extracting(Flight.Frame::method)
        .containsExactly("Add", "Arrive", "Main");
    assertThat(first.stack().get(0).type())
        .isEqualTo("System.Collections.Generic.List<System.__Canon>");
    assertThat(flight.allocations().get(2).type()).isEqualTo("PortMerrow.Crate<System.String>");
    // no method stands there, and no such stack
    assertThat(flight.allocations().get(3).stack()).isEmpty();
    assertThat(flight.allocations().get(4).stack()).isEmpty();
    FlightAnswer answer =
        FlightQuestion.ask(
            "ticks.nettrace",
            flight,
            FlightQuestion.Options.all(
                type -> type.startsWith("PortMerrow"),
                new OriginsQuestion.Options(false, false, 0, Long.MAX_VALUE, 10)));
    assertThat(answer.origins().allBytes()).isEqualTo(201_000);
    assertThat(answer.origins().functions().get(0).function())
        .isEqualTo("PortMerrow.HarbourOffice.Arrive");
    assertThat(answer.origins().functions().get(0).allBytes()).isEqualTo(180_000);
    assertThat(answer.types().get(0).bytes()).isEqualTo(150_000);
    assertThat(answer.exactness()).contains("Only 5 samples");
  }

  @Test
  void aSnapshotIsNoRecordingAndAnEmptyStreamIsNeither() throws Exception {
    byte[] snapshot =
        new NettraceBuilder()
            .event(
                NettraceFormat.BULK_NODE,
                new NettraceBuilder.Bytes().u4(0).u4(1).u2(1).u8(0x1000).u8(24).u8(1).u8(0))
            .end();
    assertThat(read(snapshot)).isNull();
    assertThatThrownBy(() -> read(new NettraceBuilder().end()))
        .isInstanceOf(InputException.class)
        .hasMessageContaining("neither objects nor allocations");
  }

  @Test
  void damagedItGivesAPartOrOneKindOfError() throws Exception {
    byte[] whole = builder().end();
    Random random = new Random(6);
    for (int i = 0; i < 3000; i++) {
      byte[] changed = whole.clone();
      for (int k = 0; k <= i % 3; k++) {
        changed[random.nextInt(changed.length)] = (byte) random.nextInt();
      }
      int length = i % 4 == 0 ? random.nextInt(changed.length) : changed.length;
      try {
        read(Arrays.copyOf(changed, length));
      } catch (InputException e) {
        assertThat(e).hasMessageContaining("ticks.nettrace");
      }
    }
  }
}
