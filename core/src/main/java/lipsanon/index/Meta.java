package lipsanon.index;

import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.zip.CRC32C;

/**
 * The small file {@code meta} of an index, read whole when it is opened. It is the last one that is
 * written, and it is renamed into its place: while it is not there, there is no index.
 *
 * <pre>
 * Meta --> magic u64, version u32, build u64, Identity, format text, Totals, unit u32, Facts,
 *          count u32 Type*, count u32 Root*, count u32 Pile*, count u32 Brood*, deepest i32,
 *          count u32 byte* (detail), id-style u8, count u32 Extra*, crc u32
 * Type --> name text, loader text, class-node i32, flags u16 (a bit a trait),
 *          count i64, unretained i64, shallow i64, retained i64 (all sizes in bytes)
 * Root --> node i32, kind u32 (index into the list of kinds before the roots), detail text,
 *          thread i32
 * Pile --> holder i32, type i32, count i64, bytes i64, example i32
 * Brood --> holder i32, count i64, bytes i64,
 *          count u32 (type i32, count i64, shallow i64, retained i64, example i32)*,
 *          count u32 node i32*
 * Extra --> name text, count i64
 * text --> length u32, UTF-8 bytes
 * </pre>
 *
 * As Java's data streams write it (big-endian): it is parsed once, not mapped. Everything that must
 * be known of all types stands here, since there are thousands of types and millions of objects.
 */
record Meta(
    long build,
    Identity identity,
    String format,
    Totals totals,
    int unitBytes,
    SnapshotFacts facts,
    List<TypeInfo> types,
    List<TypeCounts> counts,
    List<RootInfo> roots,
    List<Pile> piles,
    List<Brood> broods,
    int deepest,
    byte[] detail,
    IdStyle idStyle,
    List<Extra> extras) {
  /**
   * A column of the format's reader.
   *
   * @param name its name
   * @param count number of values
   */
  record Extra(String name, long count) {}

  private static final long MAGIC = 0x4c495053414e4f4eL;

  /** Raised whenever a file of the index changes its form: older ones are built again. */
  static final int VERSION = 21;

  static final String NAME = "meta";

  void write(Path folder) throws IOException {
    ByteArrayOutputStream bytes = new ByteArrayOutputStream();
    DataOutputStream out = new DataOutputStream(bytes);
    out.writeLong(MAGIC);
    out.writeInt(VERSION);
    out.writeLong(build);
    out.writeLong(identity.size());
    out.writeLong(identity.modifiedMillis());
    out.writeInt(identity.hash().length);
    out.write(identity.hash());
    text(out, format);
    out.writeLong(totals.objects());
    out.writeLong(totals.references());
    out.writeLong(totals.shallowBytes());
    out.writeLong(totals.retainedObjects());
    out.writeLong(totals.retainedBytes());
    out.writeLong(totals.softObjects());
    out.writeLong(totals.softBytes());
    out.writeLong(totals.finalizerObjects());
    out.writeLong(totals.finalizerBytes());
    out.writeInt(unitBytes);
    writeFacts(out);
    out.writeInt(types.size());
    for (int t = 0; t < types.size(); t++) {
      TypeInfo type = types.get(t);
      TypeCounts c = counts.get(t);
      text(out, type.name());
      text(out, type.loader());
      out.writeInt(type.classNode());
      out.writeShort(flags(type));
      out.writeLong(c.count());
      out.writeLong(c.unretained());
      out.writeLong(c.shallowBytes());
      out.writeLong(c.retainedBytes());
    }
    List<String> kinds = roots.stream().map(RootInfo::kind).distinct().toList();
    Map<String, Integer> kindNumbers = new HashMap<>();
    kinds.forEach(kind -> kindNumbers.put(kind, kindNumbers.size()));
    texts(out, kinds);
    out.writeInt(roots.size());
    for (RootInfo root : roots) {
      out.writeInt(root.node());
      out.writeInt(kindNumbers.get(root.kind()));
      text(out, root.detail());
      out.writeInt(root.thread());
    }
    out.writeInt(piles.size());
    for (Pile pile : piles) {
      out.writeInt(pile.holder());
      out.writeInt(pile.type());
      out.writeLong(pile.count());
      out.writeLong(pile.bytes());
      out.writeInt(pile.example());
    }
    writeBroods(out);
    out.writeInt(deepest);
    out.writeInt(detail.length);
    out.write(detail);
    out.writeByte(idStyle.ordinal());
    out.writeInt(extras.size());
    for (Extra extra : extras) {
      text(out, extra.name());
      out.writeLong(extra.count());
    }
    CRC32C crc = new CRC32C();
    crc.update(bytes.toByteArray());
    out.writeInt((int) crc.getValue());
    Path temporary = folder.resolve(NAME + "-" + Long.toHexString(build) + ".tmp");
    Files.deleteIfExists(temporary);
    try (FileChannel channel = ColumnOutput.create(temporary)) {
      ByteBuffer all = ByteBuffer.wrap(bytes.toByteArray());
      while (all.hasRemaining()) {
        channel.write(all);
      }
      channel.force(true);
    }
    Files.move(
        temporary,
        folder.resolve(NAME),
        StandardCopyOption.ATOMIC_MOVE,
        StandardCopyOption.REPLACE_EXISTING);
  }

  private void writeBroods(DataOutputStream out) throws IOException {
    out.writeInt(broods.size());
    for (Brood brood : broods) {
      out.writeInt(brood.holder());
      out.writeLong(brood.count());
      out.writeLong(brood.bytes());
      out.writeInt(brood.types().size());
      for (Brood.OfType row : brood.types()) {
        out.writeInt(row.type());
        out.writeLong(row.count());
        out.writeLong(row.shallowBytes());
        out.writeLong(row.retainedBytes());
        out.writeInt(row.example());
      }
      out.writeInt(brood.largest().size());
      for (int node : brood.largest()) {
        out.writeInt(node);
      }
    }
  }

  private static List<Brood> readBroods(DataInputStream in) throws IOException {
    List<Brood> broods = new ArrayList<>();
    for (int left = in.readInt(); left > 0; left--) {
      int holder = in.readInt();
      long count = in.readLong();
      long bytes = in.readLong();
      List<Brood.OfType> types = new ArrayList<>();
      for (int more = in.readInt(); more > 0; more--) {
        types.add(
            new Brood.OfType(
                in.readInt(), in.readLong(), in.readLong(), in.readLong(), in.readInt()));
      }
      List<Integer> largest = new ArrayList<>();
      for (int more = in.readInt(); more > 0; more--) {
        largest.add(in.readInt());
      }
      broods.add(new Brood(holder, count, bytes, types, largest));
    }
    return broods;
  }

  private static int flags(TypeInfo type) {
    int flags = 0;
    for (TypeInfo.Trait trait : type.traits()) {
      flags |= 1 << trait.ordinal();
    }
    return flags;
  }

  private static Set<TypeInfo.Trait> traits(int flags) {
    Set<TypeInfo.Trait> traits = EnumSet.noneOf(TypeInfo.Trait.class);
    for (TypeInfo.Trait trait : TypeInfo.Trait.values()) {
      if ((flags & 1 << trait.ordinal()) != 0) {
        traits.add(trait);
      }
    }
    return traits;
  }

  private void writeFacts(DataOutputStream out) throws IOException {
    text(out, facts.runtime());
    text(out, facts.version());
    out.writeLong(facts.capturedAtMillis());
    out.writeInt(facts.layout().objectHeaderBytes());
    out.writeInt(facts.layout().arrayHeaderBytes());
    out.writeInt(facts.layout().referenceBytes());
    out.writeInt(facts.layout().alignmentBytes());
    texts(out, facts.estimatedTypes());
    texts(out, facts.warnings());
    out.writeBoolean(facts.partial());
    out.writeLong(facts.danglingReferences());
    out.writeLong(facts.duplicateObjects());
    out.writeLong(facts.unknownRecords());
  }

  private static SnapshotFacts readFacts(DataInputStream in) throws IOException {
    return new SnapshotFacts(
        text(in),
        text(in),
        in.readLong(),
        new SnapshotFacts.Layout(in.readInt(), in.readInt(), in.readInt(), in.readInt()),
        texts(in),
        texts(in),
        in.readBoolean(),
        in.readLong(),
        in.readLong(),
        in.readLong());
  }

  static Meta read(Path folder) throws IOException {
    Path file = folder.resolve(NAME);
    byte[] bytes = Files.readAllBytes(file);
    ByteBuffer all = ByteBuffer.wrap(bytes);
    if (bytes.length < 24 || all.getLong(0) != MAGIC) {
      throw new BrokenIndexException(file + " is no index");
    }
    if (all.getInt(8) != VERSION) {
      throw new BrokenIndexException(file + " is of another version");
    }
    CRC32C crc = new CRC32C();
    crc.update(bytes, 0, bytes.length - 4);
    if ((int) crc.getValue() != all.getInt(bytes.length - 4)) {
      throw new BrokenIndexException(file + " fails its checksum");
    }
    return parse(new DataInputStream(new ByteArrayInputStream(bytes, 12, bytes.length - 12)));
  }

  private static Meta parse(DataInputStream in) throws IOException {
    long build = in.readLong();
    long size = in.readLong();
    long modified = in.readLong();
    byte[] hash = in.readNBytes(in.readInt());
    String format = text(in);
    Totals totals =
        new Totals(
            in.readLong(),
            in.readLong(),
            in.readLong(),
            in.readLong(),
            in.readLong(),
            in.readLong(),
            in.readLong(),
            in.readLong(),
            in.readLong());
    int unit = in.readInt();
    SnapshotFacts facts = readFacts(in);
    int typeCount = in.readInt();
    List<TypeInfo> types = new ArrayList<>(typeCount);
    List<TypeCounts> counts = new ArrayList<>(typeCount);
    for (int t = 0; t < typeCount; t++) {
      String name = text(in);
      String loader = text(in);
      int classNode = in.readInt();
      int flags = in.readUnsignedShort();
      types.add(new TypeInfo(name, loader, classNode, traits(flags)));
      counts.add(new TypeCounts(in.readLong(), in.readLong(), in.readLong(), in.readLong()));
    }
    List<String> kinds = texts(in);
    int rootCount = in.readInt();
    List<RootInfo> roots = new ArrayList<>(rootCount);
    for (int i = 0; i < rootCount; i++) {
      roots.add(new RootInfo(in.readInt(), kinds.get(in.readInt()), text(in), in.readInt()));
    }
    List<Pile> piles = new ArrayList<>();
    for (int left = in.readInt(); left > 0; left--) {
      piles.add(new Pile(in.readInt(), in.readInt(), in.readLong(), in.readLong(), in.readInt()));
    }
    List<Brood> broods = readBroods(in);
    int deepest = in.readInt();
    byte[] detail = in.readNBytes(in.readInt());
    IdStyle idStyle = IdStyle.values()[in.readByte()];
    List<Extra> extras = new ArrayList<>();
    for (int left = in.readInt(); left > 0; left--) {
      extras.add(new Extra(text(in), in.readLong()));
    }
    return new Meta(
        build,
        new Identity(size, modified, hash),
        format,
        totals,
        unit,
        facts,
        types,
        counts,
        roots,
        piles,
        broods,
        deepest,
        detail,
        idStyle,
        extras);
  }

  private static void text(DataOutputStream out, String text) throws IOException {
    byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
    out.writeInt(bytes.length);
    out.write(bytes);
  }

  private static String text(DataInputStream in) throws IOException {
    return new String(in.readNBytes(in.readInt()), StandardCharsets.UTF_8);
  }

  private static void texts(DataOutputStream out, List<String> texts) throws IOException {
    out.writeInt(texts.size());
    for (String text : texts) {
      text(out, text);
    }
  }

  private static List<String> texts(DataInputStream in) throws IOException {
    List<String> texts = new ArrayList<>();
    for (int left = in.readInt(); left > 0; left--) {
      texts.add(text(in));
    }
    return texts;
  }
}
