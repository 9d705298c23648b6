package lipsanon.format.hprof;

import java.io.IOException;
import java.util.HashMap;
import java.util.HashSet;
import java.util.Map;
import java.util.Set;
import lipsanon.io.ByteSource;

/**
 * Finds the arrays whose characters say where code was loaded from: what the program's own classes
 * are known by. From protection domains over code sources and addresses to texts, by two walks
 * whatever the order of the records.
 */
final class CodeLocations {
  private static final String DOMAIN = "java.security.ProtectionDomain";
  private static final String SOURCE = "java.security.CodeSource";
  private static final String URL = "java.net.URL";
  private static final String STRING = "java.lang.String";

  private final HprofClasses classes;
  private final Map<Long, String> kinds = new HashMap<>();
  private final Map<Long, Map<String, Integer>> offsets = new HashMap<>();
  private final Map<String, Map<Long, Long>> links = new HashMap<>();

  private CodeLocations(HprofClasses classes) {
    this.classes = classes;
  }

  /** Identifiers of the arrays. */
  static Set<Long> find(ByteSource source, HprofFile file, HprofClasses classes)
      throws IOException {
    CodeLocations found = new CodeLocations(classes);
    new HeapVisit(source, file.idSize) {
      @Override
      void instance(long position, long id, long classId, int at, int length) {
        switch (found.kind(classId)) {
          case DOMAIN -> note("codesource", id, classId, at, length);
          case SOURCE -> note("location", id, classId, at, length);
          case URL -> {
            note("file", id, classId, at, length);
            note("path", id, classId, at, length);
          }
          default -> {
            // says nothing of code
          }
        }
      }

      private void note(String field, long id, long classId, int at, int length) {
        int offset = found.offset(classId, field);
        if (offset >= 0 && offset + idSize <= length) {
          found.links.computeIfAbsent(field, key -> new HashMap<>()).put(id, idAt(at + offset));
        }
      }
    }.walkAll(file);
    Set<Long> texts = found.texts();
    Set<Long> arrays = new HashSet<>();
    if (texts.isEmpty()) {
      return arrays;
    }
    new HeapVisit(source, file.idSize) {
      @Override
      void instance(long position, long id, long classId, int at, int length) {
        if (texts.contains(id) && found.kind(classId).equals(STRING)) {
          int offset = found.offset(classId, "value");
          if (offset >= 0 && offset + idSize <= length) {
            arrays.add(idAt(at + offset));
          }
        }
      }
    }.walkAll(file);
    return arrays;
  }

  private Set<Long> texts() {
    Set<Long> texts = new HashSet<>();
    for (long source : links.getOrDefault("codesource", Map.of()).values()) {
      long url = links.getOrDefault("location", Map.of()).getOrDefault(source, 0L);
      for (String field : new String[] {"file", "path"}) {
        texts.add(links.getOrDefault(field, Map.of()).getOrDefault(url, 0L));
      }
    }
    texts.remove(0L);
    return texts;
  }

  private String kind(long classId) {
    return kinds.computeIfAbsent(
        classId,
        id -> {
          for (String name : new String[] {DOMAIN, SOURCE, URL, STRING}) {
            if (classes.isA(id, name)) {
              return name;
            }
          }
          return "";
        });
  }

  private int offset(long classId, String field) {
    return offsets
        .computeIfAbsent(
            classId,
            id -> {
              Map<String, Integer> all = new HashMap<>();
              for (HprofClasses.Placed placed : classes.fields(id)) {
                if (placed.field().type() == HprofFormat.OBJECT) {
                  all.putIfAbsent(placed.field().name(), placed.offset());
                }
              }
              return all;
            })
        .getOrDefault(field, -1);
  }
}
