package lipsanon.format.hprof;

import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import lipsanon.io.ByteSource;

/** The classes of a dump by their identifiers, before anything is numbered. */
final class HprofClasses {
  private final HprofFile file;
  private final Map<Long, ClassInfo> byId = new HashMap<>();

  /** Identifiers of texts that are names. */
  final Set<Long> names;

  /** A field of an instance and where it stands among the field bytes. */
  record Placed(ClassInfo declaring, ClassInfo.Field field, int offset) {}

  private HprofClasses(HprofFile file) {
    this.file = file;
    this.names = file.names();
  }

  static HprofClasses read(ByteSource source, HprofFile file) throws IOException {
    HprofClasses classes = new HprofClasses(file);
    new HeapVisit(source, file.idSize) {
      @Override
      void classOf(ClassDumpReader.Raw raw) throws IOException {
        raw.statics().forEach(one -> classes.names.add(one[0]));
        raw.fields().forEach(one -> classes.names.add(one[0]));
        classes.byId.putIfAbsent(raw.id(), raw.resolve(file));
      }
    }.walkAll(file);
    return classes;
  }

  ClassInfo of(long id) {
    return byId.get(id);
  }

  /** All fields of instances of a class, as their bytes are laid out. */
  List<Placed> fields(long classId) {
    List<Placed> fields = new ArrayList<>();
    int offset = 0;
    Set<Long> seen = new HashSet<>();
    for (ClassInfo c = of(classId); c != null && seen.add(c.id()); c = of(c.superId())) {
      for (ClassInfo.Field field : c.fields()) {
        fields.add(new Placed(c, field, offset));
        offset += HprofFormat.bytes(field.type(), file.idSize);
      }
    }
    return fields;
  }

  /** Whether a class is one of some name, or a subclass. */
  boolean isA(long classId, String name) {
    Set<Long> seen = new HashSet<>();
    for (ClassInfo c = of(classId); c != null && seen.add(c.id()); c = of(c.superId())) {
      if (c.name().equals(name)) {
        return true;
      }
    }
    return false;
  }
}
