package lipsanon.index;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.List;
import java.util.Random;
import java.util.Set;
import java.util.function.Supplier;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What an index says of a whole snapshot: written, and read as it was; never half. */
class MetaTest {
  @TempDir Path folder;

  private final Random random = new Random(28);

  /** Letters of one to four bytes, none at all, and long ones. */
  private String text() {
    int[] letters = {'a', ' ', '$', 0x20ac, 0x1f6a2, 0xe4, '\n', 0};
    StringBuilder text = new StringBuilder();
    for (int left = random.nextInt(4) == 0 ? 0 : random.nextInt(30); left > 0; left--) {
      text.appendCodePoint(letters[random.nextInt(letters.length)]);
    }
    return random.nextInt(20) == 0 ? text.toString().repeat(200) : text.toString();
  }

  private <T> List<T> some(int most, Supplier<T> one) {
    return Stream.generate(one).limit(random.nextInt(most + 1)).toList();
  }

  private Set<TypeInfo.Trait> traits() {
    Set<TypeInfo.Trait> traits = EnumSet.noneOf(TypeInfo.Trait.class);
    for (TypeInfo.Trait trait : TypeInfo.Trait.values()) {
      if (random.nextBoolean()) {
        traits.add(trait);
      }
    }
    return traits;
  }

  private Meta made() {
    List<TypeInfo> types =
        some(9, () -> new TypeInfo(text(), text(), random.nextInt(5) - 1, traits()));
    List<TypeCounts> counts = new ArrayList<>();
    types.forEach(
        type ->
            counts.add(
                new TypeCounts(
                    random.nextLong(), random.nextLong(), random.nextLong(), random.nextLong())));
    byte[] hash = new byte[32];
    random.nextBytes(hash);
    byte[] detail = new byte[random.nextInt(500)];
    random.nextBytes(detail);
    return new Meta(
        random.nextLong() >>> 1,
        new Identity(random.nextLong(), random.nextLong(), hash),
        text(),
        new Totals(
            random.nextLong(),
            random.nextLong(),
            random.nextLong(),
            random.nextLong(),
            random.nextLong(),
            random.nextLong(),
            random.nextLong(),
            random.nextLong(),
            random.nextLong()),
        random.nextInt(),
        new SnapshotFacts(
            text(),
            text(),
            random.nextLong(),
            new SnapshotFacts.Layout(
                random.nextInt(), random.nextInt(), random.nextInt(), random.nextInt()),
            some(4, this::text),
            some(4, this::text),
            random.nextBoolean(),
            random.nextLong(),
            random.nextLong(),
            random.nextLong()),
        types,
        counts,
        // few kinds, which are written once
        some(
            30,
            () ->
                new RootInfo(
                    random.nextInt(), "kind " + random.nextInt(3), text(), random.nextInt())),
        some(
            5,
            () ->
                new Pile(
                    random.nextInt(),
                    random.nextInt(),
                    random.nextLong(),
                    random.nextLong(),
                    random.nextInt())),
        some(3, this::brood),
        random.nextInt(),
        detail,
        random.nextBoolean() ? IdStyle.ADDRESS : IdStyle.SERIAL,
        some(3, () -> new Meta.Extra(text(), random.nextLong())));
  }

  private Brood brood() {
    return new Brood(
        random.nextInt(),
        random.nextLong(),
        random.nextLong(),
        some(
            5,
            () ->
                new Brood.OfType(
                    random.nextInt(),
                    random.nextLong(),
                    random.nextLong(),
                    random.nextLong(),
                    random.nextInt())),
        some(20, random::nextInt));
  }

  @Test
  void whatIsWrittenIsRead() throws Exception {
    for (int i = 0; i < 60; i++) {
      Meta written = made();
      written.write(folder);
      Meta read = Meta.read(folder);
      assertThat(read).usingRecursiveComparison().isEqualTo(written);
      assertThat(read.identity().sameContents(written.identity())).isTrue();
    }
    // nothing is left of what was written on the way
    try (Stream<Path> files = Files.list(folder)) {
      assertThat(files).containsExactly(folder.resolve(Meta.NAME));
    }
  }

  @Test
  void aFlippedBitOrAMissingEndIsNoticed() throws Exception {
    made().write(folder);
    Path file = folder.resolve(Meta.NAME);
    byte[] sound = Files.readAllBytes(file);
    for (int i = 0; i < 500; i++) {
      byte[] flipped = sound.clone();
      flipped[random.nextInt(sound.length)] ^= (byte) (1 << random.nextInt(8));
      refused(file, flipped);
    }
    for (int cut = 0; cut < sound.length; cut += 1 + random.nextInt(40)) {
      refused(file, Arrays.copyOf(sound, cut));
    }
    refused(file, Arrays.copyOf(sound, sound.length + 1));
  }

  private void refused(Path file, byte[] bytes) throws IOException {
    Files.write(file, bytes);
    assertThatThrownBy(() -> Meta.read(folder))
        .isInstanceOf(BrokenIndexException.class)
        .hasMessageContaining(file.toString());
  }

  @Test
  void thatOfAnotherVersionSaysSo() throws Exception {
    made().write(folder);
    Path file = folder.resolve(Meta.NAME);
    byte[] bytes = Files.readAllBytes(file);
    bytes[11]++;
    Files.write(file, bytes);
    assertThatThrownBy(() -> Meta.read(folder))
        .isInstanceOf(BrokenIndexException.class)
        .hasMessageEndingWith("is of another version");
  }
}
