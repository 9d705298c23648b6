package lipsanon.format.hprof;

/**
 * The HPROF binary heap dump, versions 1.0.1 and 1.0.2, as the JVM's own description of the format
 * gives it. All numbers are big-endian.
 *
 * <pre>
 * File   --> version-text 0, identifier-size u4, millis u8, Record*
 * Record --> tag u1, micros u4, length u4, byte[length]
 * </pre>
 *
 * Identifiers take 4 or 8 bytes ("id" below). The records of use here:
 *
 * <pre>
 * UTF8        --> id, bytes
 * LOAD_CLASS  --> serial u4, class id, trace u4, name id
 * FRAME       --> id, method-name id, signature id, source-file id, class-serial u4, line i4
 * TRACE       --> serial u4, thread-serial u4, count u4, frame id*
 * HEAP_DUMP, HEAP_DUMP_SEGMENT --> Sub*
 * HEAP_DUMP_END --> nothing
 * </pre>
 *
 * Sub-records have no length of their own, so an unknown one cannot be passed over:
 *
 * <pre>
 * ROOT_UNKNOWN, ROOT_STICKY_CLASS, ROOT_MONITOR --> id
 * ROOT_JNI_GLOBAL          --> id, reference id
 * ROOT_JNI_LOCAL, ROOT_JAVA_FRAME --> id, thread-serial u4, frame u4
 * ROOT_NATIVE_STACK, ROOT_THREAD_BLOCK --> id, thread-serial u4
 * ROOT_THREAD_OBJECT       --> id, thread-serial u4, trace-serial u4
 * CLASS_DUMP   --> id, trace u4, super id, loader id, signers id, domain id, id, id, size u4,
 *                  count u2 (index u2, type u1, value)*, count u2 (name id, type u1, value)*,
 *                  count u2 (name id, type u1)*
 * INSTANCE     --> id, trace u4, class id, length u4, field bytes (own fields, then the superclass's)
 * OBJECT_ARRAY --> id, trace u4, count u4, array-class id, element id*
 * PRIMITIVE_ARRAY --> id, trace u4, count u4, type u1, elements
 * </pre>
 */
final class HprofFormat {
  static final String MAGIC = "JAVA PROFILE 1.0.";

  static final int UTF8 = 0x01;
  static final int LOAD_CLASS = 0x02;
  static final int FRAME = 0x04;
  static final int TRACE = 0x05;
  static final int HEAP_DUMP = 0x0c;
  static final int HEAP_DUMP_SEGMENT = 0x1c;
  static final int HEAP_DUMP_END = 0x2c;
  static final int RECORD_HEADER_BYTES = 9;

  static final int ROOT_UNKNOWN = 0xff;
  static final int ROOT_JNI_GLOBAL = 0x01;
  static final int ROOT_JNI_LOCAL = 0x02;
  static final int ROOT_JAVA_FRAME = 0x03;
  static final int ROOT_NATIVE_STACK = 0x04;
  static final int ROOT_STICKY_CLASS = 0x05;
  static final int ROOT_THREAD_BLOCK = 0x06;
  static final int ROOT_MONITOR = 0x07;
  static final int ROOT_THREAD_OBJECT = 0x08;
  static final int CLASS_DUMP = 0x20;
  static final int INSTANCE = 0x21;
  static final int OBJECT_ARRAY = 0x22;
  static final int PRIMITIVE_ARRAY = 0x23;

  static final int OBJECT = 2;
  static final int BOOLEAN = 4;
  static final int CHAR = 5;
  static final int FLOAT = 6;
  static final int DOUBLE = 7;
  static final int BYTE = 8;
  static final int SHORT = 9;
  static final int INT = 10;
  static final int LONG = 11;

  private static final String[] PRIMITIVES = {
    null, null, null, null, "boolean", "char", "float", "double", "byte", "short", "int", "long"
  };

  private HprofFormat() {}

  /** Bytes of a value in the file, or 0 for a type that does not exist. */
  static int bytes(int type, int idSize) {
    return switch (type) {
      case OBJECT -> idSize;
      case BOOLEAN, BYTE -> 1;
      case CHAR, SHORT -> 2;
      case FLOAT, INT -> 4;
      case DOUBLE, LONG -> 8;
      default -> 0;
    };
  }

  /** Of how many a primitive value's bytes are the power of two; any number for other types. */
  static int shift(int type) {
    return type & 3;
  }

  /** The Java keyword of a primitive type. */
  static String primitive(int type) {
    return PRIMITIVES[type];
  }
}
