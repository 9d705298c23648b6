package lipsanon.format.v8;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.json.JsonWriteFeature;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import lipsanon.io.ByteSource;
import lipsanon.io.Progress;
import lipsanon.io.UnsupportedInputException;
import lipsanon.redact.Pseudonyms;
import lipsanon.redact.SplicedCopy;
import lipsanon.redact.TextTraces;

/**
 * Copies a V8 heap snapshot without its contents: nodes, edges, sizes and identifiers stay; texts,
 * numbers and the keys of tables become others of the same length. A text that is a name elsewhere
 * stays there, and the place where it is contents gets a string of its own at the list's end.
 */
public final class V8Redactor {
  private static final JsonFactory JSON =
      JsonFactory.builder().enable(JsonWriteFeature.ESCAPE_NON_ASCII).build();

  private V8Redactor() {}

  /** Copies. */
  public static void copy(
      ByteSource source, OutputStream out, Pseudonyms pseudonyms, Progress progress)
      throws IOException {
    V8Uses uses = uses(source);
    long strings = uses.file.begins.get("strings");
    if (strings < uses.file.begins.get("nodes") || strings < uses.file.begins.get("edges")) {
      throw new UnsupportedInputException(
          source.name(),
          "has its strings before its nodes or edges, as no V8 writes it: it is not copied");
    }
    try (SplicedCopy copy = new SplicedCopy(source, out, progress)) {
      Copy work = new Copy(source, uses, copy, pseudonyms);
      for (String member : work.inOrder("nodes", "edges", "strings", ScriptMap.MEMBER)) {
        switch (member) {
          case "nodes" -> work.nodes();
          case "edges" -> work.edges();
          case "strings" -> work.strings();
          default -> work.sourceMaps();
        }
      }
      copy.finish();
    }
  }

  /** Notes all texts. */
  public static void collect(ByteSource source, TextTraces texts) throws IOException {
    V8Uses uses = uses(source);
    for (int i = 0; i < uses.file.strings.count(); i++) {
      if (uses.contents.get(i) || !uses.names.get(i)) {
        byte[] text = bytes(source, uses, i);
        texts.add(text, 0, text.length);
      }
    }
  }

  /**
   * Looks for texts among the contents of a copy.
   *
   * @return the position of the string with the first one, or -1
   */
  public static long find(ByteSource source, TextTraces texts) throws IOException {
    V8Uses uses = uses(source);
    for (int i = 0; i < uses.file.strings.count(); i++) {
      if (uses.contents.get(i) || !uses.names.get(i)) {
        byte[] text = bytes(source, uses, i);
        if (texts.find(text, 0, text.length) >= 0) {
          return uses.file.strings.position(i);
        }
      }
    }
    return -1;
  }

  private static byte[] bytes(ByteSource source, V8Uses uses, int string) throws IOException {
    return JsonText.at(source, uses.file.strings.position(string)).getBytes(StandardCharsets.UTF_8);
  }

  private static V8Uses uses(ByteSource source) throws IOException {
    V8File file = V8File.scan(source);
    file.readRest(nodes -> {});
    return V8Uses.read(source, file);
  }

  private static final class Copy {
    private final ByteSource source;
    private final V8Uses uses;
    private final SplicedCopy copy;
    private final Pseudonyms pseudonyms;

    /** Strings that are both: the number of the one that stands in for contents. */
    private final Map<Integer, Integer> doubles = new HashMap<>();

    private final ByteArrayOutputStream appended = new ByteArrayOutputStream();

    Copy(ByteSource source, V8Uses uses, SplicedCopy copy, Pseudonyms pseudonyms) {
      this.source = source;
      this.uses = uses;
      this.copy = copy;
      this.pseudonyms = pseudonyms;
    }

    /** Those that the file has. */
    List<String> inOrder(String... members) {
      return Stream.of(members)
          .filter(uses.file.begins::containsKey)
          .sorted(Comparator.comparing(uses.file.begins::get))
          .toList();
    }

    private boolean isBoth(int string) {
      return uses.names.get(string) && uses.contents.get(string);
    }

    private int doubleOf(int string) throws IOException {
      Integer known = doubles.get(string);
      if (known == null) {
        known = uses.file.strings.count() + doubles.size();
        doubles.put(string, known);
        appended.write(',');
        String text = JsonText.at(source, uses.file.strings.position(string));
        appended.write(json(pseudonyms.text(text)));
      }
      return known;
    }

    private void number(long position, int old, int other) throws IOException {
      copy.copyTo(position);
      copy.skipTo(position + Integer.toString(old).length());
      copy.write(Integer.toString(other).getBytes(StandardCharsets.US_ASCII));
    }

    void nodes() throws IOException {
      NumberScanner in = new NumberScanner(source, uses.file.begins.get("nodes"));
      int width = uses.meta.width("node_fields");
      int nameAt = uses.meta.column("node_fields", "name");
      for (int node = 0; node < uses.nodeCount(); node++) {
        for (int i = 0; i < width; i++) {
          in.toNumber();
          long position = in.position();
          int value = i == nameAt ? (int) in.need() : -1;
          if (value < 0) {
            in.need();
          } else if (uses.isContent(node) && isBoth(value)) {
            number(position, value, doubleOf(value));
          }
        }
      }
    }

    void edges() throws IOException {
      int property = uses.meta.edgeTypes().indexOf(V8Format.EDGE_PROPERTY);
      int[] proto = {-1};
      uses.eachNamed(
          (from, type, name, position, target) -> {
            if (name >= 0 && type == property && uses.isTable(from) && isBoth(name)) {
              if (proto[0] < 0 && uses.file.strings.text(name).equals("__proto__")) {
                proto[0] = name;
              }
              if (name != proto[0]) {
                number(position, name, doubleOf(name));
              }
            }
          });
    }

    void strings() throws IOException {
      Literals literals = new Literals(source);
      long end = uses.file.begins.get("strings");
      for (int i = 0; i < uses.file.strings.count(); i++) {
        long position = uses.file.strings.position(i);
        String text = literals.read(position);
        end = literals.end();
        String other = uses.names.get(i) ? V8Names.masked(text) : pseudonyms.text(text);
        if (!other.equals(text)) {
          copy.copyTo(position);
          copy.write(json(other));
          copy.skipTo(end);
        }
      }
      copy.copyTo(end);
      copy.write(appended.toByteArray());
    }

    void sourceMaps() throws IOException {
      long position = uses.file.begins.get(ScriptMap.MEMBER);
      MaskedMaps maps = MaskedMaps.read(source, position);
      copy.copyTo(position);
      copy.write(maps.json());
      copy.skipTo(maps.end());
    }

    private static byte[] json(String text) throws IOException {
      ByteArrayOutputStream bytes = new ByteArrayOutputStream(text.length() + 2);
      try (JsonGenerator json = JSON.createGenerator(bytes)) {
        json.writeString(text);
      }
      return bytes.toByteArray();
    }
  }
}
