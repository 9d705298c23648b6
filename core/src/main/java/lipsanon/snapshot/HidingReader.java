package lipsanon.snapshot;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.function.Consumer;
import java.util.regex.Pattern;
import lipsanon.array.IntList;
import lipsanon.index.FieldValue;
import lipsanon.index.ObjectReader;
import lipsanon.index.Recording;
import lipsanon.index.Reference;
import lipsanon.index.Via;
import lipsanon.redact.SipHash;

/**
 * Tells objects without their contents: in place of texts, values and keys of tables their lengths
 * and keyed hashes, by which equal ones are still known to be equal. Names of types, fields and
 * functions stay. What compares contents without showing them asks {@link #contents}.
 */
final class HidingReader implements ObjectReader {
  private static final int LONGEST = 1 << 16;
  private static final Pattern QUOTED = Pattern.compile("\"([^\"]*)\"");

  private final ObjectReader reader;
  private final SipHash hash;

  HidingReader(ObjectReader reader, byte[] key) {
    this.reader = reader;
    this.hash = new SipHash(key);
  }

  @Override
  public ObjectReader contents() {
    return reader;
  }

  private String mark(String text) {
    byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
    return String.format(Locale.ROOT, "#%08x", hash.hash(bytes, 0, bytes.length).first() >>> 32);
  }

  private String said(String text) {
    return mark(text) + ", " + text.length() + (text.length() == 1 ? " character" : " characters");
  }

  private Via hidden(Via via) {
    return via != null && via.kind() == Via.Kind.KEY
        ? new Via(via.kind(), via.owner(), mark(via.name()), via.index())
        : via;
  }

  @Override
  public void references(int node, Consumer<Reference> sink) throws IOException {
    reader.references(
        node,
        found -> sink.accept(new Reference(found.target(), found.kind(), hidden(found.via()))));
  }

  @Override
  public Via viaTo(int from, int to) throws IOException {
    return hidden(reader.viaTo(from, to));
  }

  @Override
  public Via ofArray(int node) {
    return reader.ofArray(node);
  }

  @Override
  public List<FieldValue> fields(int node, int atMost) throws IOException {
    List<FieldValue> fields = new ArrayList<>();
    for (FieldValue field : reader.fields(node, atMost)) {
      boolean refers = field.target() >= 0 || field.type().equals("reference");
      // a flag has two values: its hash would tell it
      boolean flag = field.value().equals("true") || field.value().equals("false");
      fields.add(
          new FieldValue(
              hidden(field.via()),
              field.type(),
              refers || flag ? field.value() : mark(field.value()),
              field.target()));
    }
    return fields;
  }

  @Override
  public String text(int node, int atMost) throws IOException {
    String text = reader.text(node, LONGEST);
    return text == null || isName(text, node) ? text : said(text);
  }

  /** Of a class object, the text is its name. */
  private boolean isName(String text, int node) throws IOException {
    return text.startsWith("class ") && text.equals(reader.label(node, LONGEST));
  }

  @Override
  public String label(int node, int atMost) throws IOException {
    String text = reader.text(node, LONGEST);
    if (text != null && !isName(text, node)) {
      return "(" + said(text) + ")";
    }
    String label = reader.label(node, atMost);
    return QUOTED.matcher(label).replaceAll(found -> '"' + mark(found.group(1)) + '"');
  }

  @Override
  public boolean isString(int node) throws IOException {
    return reader.isString(node);
  }

  @Override
  public int textBytes(int node, Bytes sink) throws IOException {
    return reader.textBytes(node, sink);
  }

  @Override
  public int characterBytes(int node, String text) throws IOException {
    return reader.characterBytes(node, text);
  }

  @Override
  public int elements(int node, Bytes sink) throws IOException {
    return reader.elements(node, sink);
  }

  @Override
  public Entries entries(int node, int atMost) throws IOException {
    Entries found = reader.entries(node, atMost);
    if (found == null) {
      return null;
    }
    List<Entry> entries = new ArrayList<>();
    for (Entry one : found.entries()) {
      entries.add(
          new Entry(
              one.key(),
              one.value(),
              one.keyText() == null ? null : mark(one.keyText()),
              one.valueText() == null ? null : mark(one.valueText())));
    }
    return new Entries(found.size(), entries);
  }

  @Override
  public int weakKey(int node) throws IOException {
    return reader.weakKey(node);
  }

  @Override
  public boolean mayReferWeakly(int type) {
    return reader.mayReferWeakly(type);
  }

  @Override
  public long nulls(int node) throws IOException {
    return reader.nulls(node);
  }

  @Override
  public long length(int node) throws IOException {
    return reader.length(node);
  }

  @Override
  public List<FreeSize> freeSizes() {
    return reader.freeSizes();
  }

  @Override
  public List<Area> areas() throws IOException {
    return reader.areas();
  }

  @Override
  public Perhaps onStacksAlone() {
    return reader.onStacksAlone();
  }

  @Override
  public String area(int node) throws IOException {
    return reader.area(node);
  }

  @Override
  public Code code(int node) throws IOException {
    return reader.code(node);
  }

  @Override
  public IntList containers(int atLeast) throws IOException {
    return reader.containers(atLeast);
  }

  @Override
  public long size(int node) throws IOException {
    return reader.size(node);
  }

  @Override
  public String session() throws IOException {
    return reader.session();
  }

  @Override
  public Recording recording() throws IOException {
    return reader.recording();
  }

  @Override
  public int origin(int node) throws IOException {
    return reader.origin(node);
  }

  @Override
  public IntList detached() throws IOException {
    return reader.detached();
  }

  @Override
  public void close() throws IOException {
    reader.close();
  }
}
