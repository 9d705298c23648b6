package lipsanon.format.elfcore;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.util.List;
import lipsanon.io.BytesSource;
import lipsanon.io.UnsupportedInputException;
import org.junit.jupiter.api.Test;

class RuntimeContractTest {
  private static final long BASE = 0x10000;
  private static final String TYPES =
      "\"types\":{\"Thread\":{\"LinkNext\":[112,\"pointer\"],\"Id\":16},\"ThreadStore\":{\"FirstThreadLink\":88},"
          + "\"MethodTable\":{\"!\":64,\"Module\":24,\"ParentMethodTable\":16,\"EEClassOrCanonMT\":40,"
          + "\"PerInstInfo\":48},\"EEClass\":{\"MethodTable\":16,\"CorTypeAttr\":40},\"Module\":{\"Base\":225}}";

  /** A descriptor at BASE, its table of two addresses, and its text. */
  private static RuntimeContract read(String json) throws Exception {
    byte[] text = json.getBytes(StandardCharsets.UTF_8);
    ByteBuffer bytes = ByteBuffer.allocate(64 + text.length).order(ByteOrder.LITTLE_ENDIAN);
    bytes.putLong(0x0043_4144_4343_4e44L).putInt(1).putInt(text.length);
    bytes.putLong(BASE + 64).putInt(2).putInt(0).putLong(BASE + 40);
    bytes.putLong(0).putLong(0x7777).putLong(0).put(text);
    BytesSource source = new BytesSource("office.core", bytes.array());
    CoreMemory memory =
        new CoreMemory(source, List.of(new CoreMemory.Part(BASE, BASE + bytes.capacity(), 0, 4)));
    return RuntimeContract.read(memory, BASE, false);
  }

  /** As in version 10: numbers of all 64 bits, and texts, stand before addresses and after them. */
  @Test
  void nothingThatIsNoAddressHidesOne() throws Exception {
    RuntimeContract contract =
        read(
            "{\"version\":0,"
                + TYPES
                + ",\"globals\":{\"Count\":[\"0x4\",\"uint32\"],\"Mask\":[\"0xfffffffffffffffe\",\"pointer\"],"
                + "\"Architecture\":[\"x64\",\"string\"],\"Rid\":[\"1-x64\",\"string\"],\"Plain\":7,"
                + "\"ThreadStore\":[[1],\"pointer\"],\"Far\":[[2],\"pointer\"],\"Last\":[\"12\",\"uint8\"]},"
                + "\"contracts\":{\"Thread\":1}}");
    assertThat(contract.global("ThreadStore")).isEqualTo(0x7777);
    assertThat(contract.global("Count")).isEqualTo(4);
    assertThat(contract.global("Mask")).isEqualTo(-2);
    assertThat(contract.global("Last")).isEqualTo(12);
    assertThat(contract.global("Rid")).isZero();
    assertThat(contract.global("Far")).as("beyond the table").isZero();
    assertThat(contract.offset("Module.Base")).isEqualTo(225);
    assertThat(contract.offset("Thread.LinkNext")).isEqualTo(112);
  }

  @Test
  void whatItDoesNotSayIsRefusedOrKnown() throws Exception {
    assertThatThrownBy(() -> read("{\"types\":{\"Thread\":{\"Id\":16}}}"))
        .isInstanceOf(UnsupportedInputException.class)
        .hasMessageContaining("Thread.LinkNext");
    assertThatThrownBy(() -> read("{\"types\":"))
        .isInstanceOf(UnsupportedInputException.class)
        .hasMessageContaining("cannot be read");
    CoreMemory nothing = new CoreMemory(new BytesSource("office.core", new byte[8]), List.of());
    assertThat(RuntimeContract.read(nothing, 0, true).offset("Module.Base")).isEqualTo(288);
    assertThat(RuntimeContract.read(nothing, 0, false).offset("Module.Base")).isEqualTo(224);
  }
}
