package lipsanon.capture.dotnet;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.zip.Deflater;
import lipsanon.capture.CodeFile;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Programs of one file, laid out by hand. */
class BundleTest {
  private static final int HOST = 3 << 20;

  @TempDir Path folder;

  private final ByteArrayOutputStream parts = new ByteArrayOutputStream();
  private final List<ByteBuffer> list = new ArrayList<>();

  private void part(String name, byte[] content, boolean packed) {
    byte[] stored = packed ? deflated(content) : content;
    row(name, HOST + parts.size(), content.length, packed ? stored.length : 0);
    parts.writeBytes(stored);
  }

  private void row(String name, long place, long bytes, long packed) {
    byte[] text = name.getBytes(StandardCharsets.UTF_8);
    ByteBuffer row = ByteBuffer.allocate(27 + text.length).order(ByteOrder.LITTLE_ENDIAN);
    row.putLong(place).putLong(bytes).putLong(packed).put((byte) 1);
    row.put((byte) (text.length & 0x7f | 0x80)).put((byte) (text.length >>> 7)).put(text);
    list.add(row.flip());
  }

  private static byte[] deflated(byte[] content) {
    Deflater deflater = new Deflater(9, true);
    deflater.setInput(content);
    deflater.finish();
    byte[] out = new byte[content.length + 64];
    int length = deflater.deflate(out);
    deflater.end();
    return Arrays.copyOf(out, length);
  }

  /** The mark begins at a place, at or across the border of what is read at once. */
  private Path program(int markAt, int version) throws Exception {
    byte[] mark =
        MessageDigest.getInstance("SHA-256").digest(".net core bundle\n".getBytes("UTF-8"));
    byte[] host = new byte[HOST];
    ByteBuffer.wrap(host)
        .order(ByteOrder.LITTLE_ENDIAN)
        .putLong(markAt - 8, HOST + parts.size())
        .put(markAt, mark);
    ByteBuffer head = ByteBuffer.allocate(57).order(ByteOrder.LITTLE_ENDIAN);
    head.putInt(version).putInt(0).putInt(list.size()).put((byte) 4).put("0815".getBytes("UTF-8"));
    Path file = folder.resolve("office");
    try (var out = Files.newOutputStream(file)) {
      out.write(host);
      parts.writeTo(out);
      out.write(head.array());
      for (ByteBuffer row : list) {
        out.write(row.array(), 0, row.limit());
      }
    }
    return file;
  }

  @Test
  void eachPartIsReadAsItWas() throws Exception {
    byte[] tides = "high and low ".repeat(500).getBytes(StandardCharsets.UTF_8);
    byte[] crew = "pilots".getBytes(StandardCharsets.UTF_8);
    part("Tides.dll", tides, true);
    part("Crew.dll", crew, false);
    part("long" + "r".repeat(300) + ".dll", new byte[0], false);
    for (int markAt : new int[] {8, 1 << 20, (1 << 20) - 5, (2 << 20) + 7, HOST - 32}) {
      List<CodeFile> files = Bundle.files(program(markAt, 6));
      assertThat(files).as("at " + markAt).hasSize(3);
      assertThat(files.get(0).name()).isEqualTo("Tides.dll");
      assertThat(files.get(0).read()).isEqualTo(tides);
      assertThat(files.get(1).read()).isEqualTo(crew);
      assertThat(files.get(2).name()).hasSize(308);
      assertThat(files.get(2).read()).isEmpty();
    }
  }

  @Test
  void whatLiesIsLeftOut() throws Exception {
    part("Crew.dll", new byte[10], false);
    row("Beyond.dll", HOST, Long.MAX_VALUE, 0);
    row("Negative.dll", -4, 10, 0);
    row("Huge.dll", HOST, Long.MAX_VALUE, 4);
    List<CodeFile> files = Bundle.files(program(64, 6));
    assertThat(files).extracting(CodeFile::name).containsExactly("Crew.dll", "Huge.dll");
    assertThatThrownBy(() -> files.get(1).read()).isInstanceOf(IOException.class);
    assertThat(Bundle.files(program(64, 5))).as("an older form").isEmpty();
  }

  @Test
  void otherProgramsCarryNothing() throws Exception {
    part("Crew.dll", new byte[10], false);
    Path whole = program(64, 6);
    byte[] bytes = Files.readAllBytes(whole);
    for (int length : new int[] {0, 40, 64, 100, HOST, HOST + 12, bytes.length - 3}) {
      Path cut = folder.resolve("cut");
      Files.write(cut, Arrays.copyOf(bytes, length));
      assertThat(Bundle.files(cut)).as("of " + length + " bytes").isEmpty();
    }
    Files.write(whole, new byte[5 << 20]);
    assertThat(Bundle.files(whole)).isEmpty();
    CodeFile gone = CodeFile.of(folder.resolve("gone.dll"));
    assertThatThrownBy(gone::read).isInstanceOf(IOException.class);
    assertThatThrownBy(CodeFile.of(folder)::read).isInstanceOf(IOException.class);
  }
}
