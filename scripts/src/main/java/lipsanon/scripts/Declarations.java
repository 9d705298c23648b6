package lipsanon.scripts;

import java.util.BitSet;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Set;

/**
 * Finds what a script declares outside of functions; where that is nothing, what it declares within
 * the one function that a bundler puts around all. The script is read token by token (ECMA-262,
 * "Lexical grammar"), not parsed: what stands in braces further inside is passed over.
 */
public final class Declarations {
  private static final int MOST = 50_000;

  /** Brace levels at which declarations are noted. */
  private static final int LEVELS = 2;

  /** Words behind which a variable's name stands. */
  private static final Set<String> VARIABLES = Set.of("var", "let", "const");

  private static final Set<String> NAMED = Set.of("class", "function");

  /** Words that may stand before a declaration. */
  private static final Set<String> BEFORE = Set.of("export", "default", "async");

  private final ScriptTokens tokens;

  /** By level and name: line and column; null for a name that is declared twice. */
  private final Map<Integer, Map<String, int[]>> found = new LinkedHashMap<>();

  private int braces;
  private int others;

  /** By depth in brackets: whether a declaration is being read there. */
  private final BitSet declaring = new BitSet();

  private boolean nameIsNext;

  /** Of a pattern of variables that is being read, the depth around it; -1 outside. */
  private int pattern = -1;

  /** A word of the pattern that may be a variable, "" for none. */
  private String pending = "";

  private int[] place;

  /** The brace level that declarations belong to. */
  private int level;

  private Declarations(String script) {
    this.tokens = new ScriptTokens(script);
  }

  /** By name: line and column, both from 0. A name that is declared twice is left out. */
  public static Map<String, int[]> of(String script) {
    Declarations declarations = new Declarations(script);
    declarations.read();
    Map<String, int[]> told = new LinkedHashMap<>();
    for (int level = 0; level < LEVELS && told.isEmpty(); level++) {
      declarations
          .found
          .getOrDefault(level, Map.of())
          .forEach(
              (name, place) -> {
                if (place != null && told.size() < MOST) {
                  told.put(name, place);
                }
              });
    }
    return told;
  }

  private void read() {
    boolean begins = true;
    boolean named = false;
    boolean afterDot = false;
    for (; tokens.next(); afterDot = tokens.mark() == '.' && tokens.word().isEmpty()) {
      String word = tokens.word();
      settle(word.isEmpty() && tokens.mark() == ':');
      if (word.isEmpty()) {
        named &= tokens.mark() == '*';
        mark(tokens.mark());
        begins = tokens.mark() == ';' || tokens.mark() == '{' || tokens.mark() == '}';
        continue;
      }
      if (named) {
        note(word, place());
        named = false;
      } else if (pattern >= 0) {
        pending = word;
        place = place();
      } else if (afterDot) {
        nameIsNext = false;
      } else if (VARIABLES.contains(word)) {
        declaring.set(depth());
        nameIsNext = true;
      } else if (NAMED.contains(word)) {
        named = begins || tokens.startsLine();
      } else if (nameIsNext) {
        note(word, place());
        nameIsNext = false;
      } else if (word.equals("in") || word.equals("of")) {
        declaring.clear(depth());
      }
      begins = begins && BEFORE.contains(word);
    }
  }

  /** A word in a pattern is a variable unless it is the name of the property that it is for. */
  private void settle(boolean property) {
    if (!pending.isEmpty() && !property) {
      note(pending, place);
    }
    pending = "";
  }

  private int[] place() {
    return new int[] {tokens.line(), tokens.column()};
  }

  private int depth() {
    return braces + others;
  }

  private void mark(char mark) {
    if (nameIsNext && pattern < 0 && (mark == '[' || mark == '{')) {
      pattern = depth();
      level = braces;
    }
    switch (mark) {
      case '{' -> braces++;
      case '}' -> braces = Math.max(0, braces - 1);
      case '(', '[' -> others++;
      case ')', ']' -> others = Math.max(0, others - 1);
      case ';' -> declaring.clear(depth());
      default -> {}
    }
    pattern = depth() <= pattern ? -1 : pattern;
    level = pattern < 0 ? braces : level;
    // what is read in brackets ends with them
    declaring.clear(depth() + 1, Math.max(depth() + 1, declaring.length()));
    nameIsNext = mark == ',' && declaring.get(depth());
  }

  private void note(String name, int[] at) {
    if (level < LEVELS) {
      Map<String, int[]> names = found.computeIfAbsent(level, key -> new LinkedHashMap<>());
      names.put(name, names.containsKey(name) ? null : at);
    }
  }
}
