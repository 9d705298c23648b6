package lipsanon.format.elfcore;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonToken;
import java.io.IOException;
import java.util.HashMap;
import java.util.Map;
import lipsanon.io.UnsupportedInputException;

/**
 * Where the runtime keeps its fields, as it says itself in the contract descriptor inside its own
 * memory (a JSON text that the runtime's sources define). Of what the descriptor of version 9 does
 * not say, the places are known from version 9 itself and hold as long as nothing else is told.
 *
 * <pre>
 * Descriptor --> 0x0043414443434e44 u8, flags u4, JSON bytes u4, JSON address u8, count u4, 0 u4, table u8
 * JSON       --> {version, baseline, contracts, types: {T: {field: offset | [offset, type]}},
 *                 globals: {G: [value, type] | [[index of the table], type]}}
 * </pre>
 */
final class RuntimeContract {
  private static final long MAGIC = 0x0043_4144_4343_4e44L;
  private static final int LONGEST = 1 << 20;
  private static final int MOST_GLOBALS = 4096;

  /** The places of version 9.0, for a dump that lacks the descriptor or its pages. */
  private static final Map<String, Integer> NINE =
      Map.ofEntries(
          Map.entry("Thread.Id", 16),
          Map.entry("Thread.OSId", 296),
          Map.entry("Thread.RuntimeThreadLocals", 32),
          Map.entry("Thread.GCHandle", 304),
          Map.entry("Thread.LinkNext", 112),
          Map.entry("ThreadStore.FirstThreadLink", 160),
          Map.entry("RuntimeThreadLocals.AllocContext", 0),
          Map.entry("GCAllocContext.Pointer", 0),
          Map.entry("GCAllocContext.Limit", 8),
          Map.entry("Module.Assembly", 312),
          Map.entry("Module.Base", 288),
          Map.entry("Module.LoaderAllocator", 248),
          Map.entry("Module.DynamicMetadata", 1120),
          Map.entry("Module.Path", 272),
          Map.entry("Module.TypeDefToMethodTableMap", 624),
          Map.entry("MethodTable.MTFlags", 0),
          Map.entry("MethodTable.BaseSize", 4),
          Map.entry("MethodTable.MTFlags2", 8),
          Map.entry("MethodTable.ParentMethodTable", 16),
          Map.entry("MethodTable.Module", 24),
          Map.entry("MethodTable.EEClassOrCanonMT", 40),
          Map.entry("MethodTable.PerInstInfo", 48),
          Map.entry("EEClass.MethodTable", 16),
          Map.entry("EEClass.CorTypeAttr", 40),
          Map.entry("ArrayClass.Rank", 72),
          Map.entry("ParamTypeDesc.TypeArg", 16),
          Map.entry("TypeDesc.TypeAndFlags", 0));

  /** Where version 10.0 has something else: its first programs of one file have no descriptor. */
  private static final Map<String, Integer> TEN =
      Map.of(
          "ThreadStore.FirstThreadLink", 88,
          "EEAllocContext.GCAllocationContext", 8,
          "Module.Assembly", 248,
          "Module.Base", 224,
          "Module.LoaderAllocator", 176,
          "Module.DynamicMetadata", 840,
          "Module.Path", 200,
          "Module.TypeDefToMethodTableMap", 416);

  /** What is needed, and is in no version's place by chance. */
  private static final String[] NEEDED = {
    "Thread.LinkNext",
    "ThreadStore.FirstThreadLink",
    "MethodTable.Module",
    "MethodTable.ParentMethodTable",
    "MethodTable.EEClassOrCanonMT",
    "MethodTable.PerInstInfo",
    "EEClass.MethodTable",
    "EEClass.CorTypeAttr",
    "Module.Base"
  };

  private final Map<String, Integer> offsets = new HashMap<>();
  private final Map<String, Long> globals = new HashMap<>();

  private RuntimeContract() {}

  /**
   * Reads the descriptor at an address; 0 or what the dump does not hold: as in version 9.0 or
   * 10.0.
   */
  static RuntimeContract read(CoreMemory memory, long address, boolean nine) throws IOException {
    RuntimeContract contract = new RuntimeContract();
    contract.offsets.putAll(NINE);
    if (!nine) {
      contract.offsets.putAll(TEN);
    }
    if (address == 0 || !memory.holds(address, 40) || memory.u8(address) != MAGIC) {
      return contract;
    }
    long length = memory.u4(address + 12);
    long text = memory.u8(address + 16);
    long count = memory.u4(address + 24);
    long table = memory.u8(address + 32);
    if (length > LONGEST || count > MOST_GLOBALS || !memory.holds(text, length)) {
      return contract;
    }
    String name = memory.source().name();
    try (JsonParser json = new JsonFactory().createParser(memory.bytes(text, (int) length))) {
      contract.parse(json, memory, table, count);
    } catch (com.fasterxml.jackson.core.JacksonException e) {
      throw new UnsupportedInputException(
          name, "has a runtime whose own description cannot be read: is the dump damaged?");
    }
    for (String needed : NEEDED) {
      if (!contract.offsets.containsKey(needed)) {
        throw new UnsupportedInputException(
            name, "is of a .NET version that does not say where " + needed + " is: 9 and 10 do");
      }
    }
    return contract;
  }

  /** Where a field is in its structure. */
  int offset(String field) {
    return offsets.get(field);
  }

  /** The same, or another place where the runtime does not say. */
  int offset(String field, int otherwise) {
    return offsets.getOrDefault(field, otherwise);
  }

  /** The address of a global variable, or its value where it is a number; 0: not told. */
  long global(String name) {
    return globals.getOrDefault(name, 0L);
  }

  private void parse(JsonParser json, CoreMemory memory, long table, long count)
      throws IOException {
    offsets.clear();
    // kept where they are known to be: the descriptor of version 9 names the fields, not all places
    offsets.put("MethodTable.AuxiliaryData", 32);
    json.nextToken();
    while (json.nextToken() == JsonToken.FIELD_NAME) {
      String section = json.currentName();
      json.nextToken();
      switch (section) {
        case "types" -> types(json);
        case "globals" -> globals(json, memory, table, count);
        default -> json.skipChildren();
      }
    }
  }

  private void types(JsonParser json) throws IOException {
    while (json.nextToken() == JsonToken.FIELD_NAME) {
      String type = json.currentName();
      json.nextToken();
      while (json.nextToken() == JsonToken.FIELD_NAME) {
        String field = type + "." + json.currentName();
        JsonToken token = json.nextToken();
        if (token == JsonToken.START_ARRAY) {
          json.nextToken();
          offsets.put(field, json.getIntValue());
          while (json.nextToken() != JsonToken.END_ARRAY) {
            json.skipChildren();
          }
        } else if (token == JsonToken.VALUE_NUMBER_INT) {
          offsets.put(field, json.getIntValue());
        } else {
          json.skipChildren();
        }
      }
    }
  }

  private void globals(JsonParser json, CoreMemory memory, long table, long count)
      throws IOException {
    while (json.nextToken() == JsonToken.FIELD_NAME) {
      String name = json.currentName();
      if (json.nextToken() != JsonToken.START_ARRAY) {
        json.skipChildren();
        continue;
      }
      JsonToken token = json.nextToken();
      if (token == JsonToken.START_ARRAY) {
        json.nextToken();
        long index = json.getLongValue();
        json.nextToken();
        if (index >= 0 && index < count && memory.holds(table + 8 * index, Long.BYTES)) {
          globals.put(name, memory.u8(table + 8 * index));
        }
      } else if (token == JsonToken.VALUE_STRING) {
        number(name, json.getText());
      }
      while (json.currentToken() != JsonToken.END_ARRAY || json.getParsingContext().inArray()) {
        if (json.nextToken() == null) {
          return;
        }
      }
    }
  }

  /** Texts, which are no numbers, are none of those asked for here. */
  private void number(String name, String text) {
    try {
      globals.put(
          name,
          text.startsWith("0x")
              ? Long.parseUnsignedLong(text, 2, text.length(), 16)
              : Long.decode(text));
    } catch (NumberFormatException e) {
      globals.remove(name);
    }
  }
}
