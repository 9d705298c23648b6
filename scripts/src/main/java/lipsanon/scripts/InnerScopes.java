package lipsanon.scripts;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * Finds what the functions and blocks of a script declare, parameters among it. The script is read
 * token by token (ECMA-262, "Lexical grammar"), not parsed: of what is written in unusual ways
 * nothing is told.
 */
public final class InnerScopes {
  private static final int MOST = 400_000;

  /** Words in parentheses that may be parameters. */
  private static final int MOST_PARAMETERS = 256;

  private static final Set<String> VARIABLES = Set.of("var", "let", "const");
  private static final Set<String> NAMED = Set.of("class", "function");

  /** Words before parentheses behind which a block follows, not the body of a function. */
  private static final Set<String> CONTROL = Set.of("if", "for", "while", "switch", "with");

  /** Words with which a statement begins: what was before it has ended. */
  private static final Set<String> STATEMENT =
      Set.of("var", "let", "const", "class", "function", "return", "export", "import", "if", "for");

  private final ScriptTokens tokens;
  private final List<InnerScope> found = new ArrayList<>();
  private final Deque<Open> open = new ArrayDeque<>();
  private int noted;

  /** The token before: a word, or "" and a mark. */
  private String lastWord = "";

  private char lastMark;
  private int lastLine;
  private int lastColumn;

  /** The parentheses that were closed last; null if something stands behind them. */
  private Open closed;

  /** What stands before an equals sign, should it be the first part of an arrow. */
  private Open parameters;

  /** What an arrow that was just read has before it. */
  private Open arrow;

  /** Points in a row, and whether the word that is read stands behind three. */
  private int dots;

  private boolean spread;

  private InnerScopes(String script) {
    this.tokens = new ScriptTokens(script);
  }

  /** A bracket that is open, or an arrow function without braces. */
  private static final class Open {
    final char mark;
    final int line;
    final int column;
    final String before;

    /** Of braces: whether they are the body of a function. */
    boolean function;

    /** Of parentheses, and of patterns in them: what may be parameters; else what is declared. */
    final Map<String, int[]> names = new LinkedHashMap<>();

    /** Whether it may be a pattern within parameters. */
    boolean pattern;

    /** Whether variables are being declared, and whether the next word is one. */
    boolean declaring;

    boolean nameIsNext;

    /** Whether the declaration is one of the whole function. */
    boolean hoisted;

    Open(char mark, int line, int column, String before) {
      this.mark = mark;
      this.line = line;
      this.column = column;
      this.before = before;
    }

    boolean isScope() {
      return mark == '{' && !pattern || mark == '>';
    }
  }

  /**
   * All functions and blocks that declare something, by where they end. A variable that is declared
   * twice in one is told with its first place.
   */
  public static List<InnerScope> of(String script) {
    InnerScopes scopes = new InnerScopes(script);
    scopes.read();
    return scopes.found;
  }

  private void read() {
    Open whole = new Open('{', 0, 0, "");
    whole.function = true;
    open.push(whole);
    boolean named = false;
    boolean isClass = false;
    while (tokens.next() && noted < MOST) {
      String word = tokens.word();
      if (word.isEmpty()) {
        mark(tokens.mark());
        named &= tokens.mark() == '*';
      } else {
        word(word, named, isClass);
        named = NAMED.contains(word) && !isProperty() && beginsStatement();
        isClass = word.equals("class") && !isProperty();
        if (isClass && !named && lastMark == '=' && parameters != null) {
          parameters.names.keySet().forEach(this::markClass);
        }
      }
      lastWord = word;
      lastMark = word.isEmpty() ? tokens.mark() : 0;
      lastLine = tokens.line();
      lastColumn = tokens.column();
    }
    while (!open.isEmpty()) {
      pop();
    }
  }

  private boolean beginsStatement() {
    return tokens.startsLine()
        || lastWord.isEmpty() && (lastMark == ';' || lastMark == '{' || lastMark == '}')
        || lastWord.equals("export")
        || lastWord.equals("default")
        || lastWord.equals("async");
  }

  /** Whether the word that is read is the name of a property. */
  private boolean isProperty() {
    return lastWord.isEmpty() && lastMark == '.' && !spread;
  }

  private void word(String word, boolean named, boolean isClass) {
    beginArrow();
    spread = dots == 3;
    dots = 0;
    closed = null;
    if (isProperty()) {
      open.peek().nameIsNext = false;
      return;
    }
    if (tokens.startsLine() && STATEMENT.contains(word)) {
      closeArrows();
    }
    Open in = open.peek();
    int[] place = {tokens.line(), tokens.column(), named && isClass ? 1 : 0};
    if (named) {
      note(word, place, !isClass);
    } else if (VARIABLES.contains(word)) {
      in.declaring = true;
      in.nameIsNext = true;
      in.hoisted = word.equals("var");
    } else if (in.nameIsNext) {
      note(word, place, in.hoisted);
      in.nameIsNext = false;
    } else if (word.equals("in") || word.equals("of")) {
      in.declaring = false;
    } else if (mayBind(in) && in.names.size() < MOST_PARAMETERS) {
      in.names.putIfAbsent(word, place);
    }
  }

  /** Whether what stands at this place would be a parameter, if these are parameters. */
  private boolean mayBind(Open in) {
    return (in.mark == '(' || in.pattern)
        && lastWord.isEmpty()
        && (lastMark == in.mark || lastMark == ',' || lastMark == ':' || spread);
  }

  private void mark(char mark) {
    if (lastMark == '=' && mark == '>' && lastWord.isEmpty()) {
      arrow = parameters;
      closed = null;
      return;
    }
    if (mark == '=') {
      parameters = closed == null && !lastWord.isEmpty() ? single() : closed;
      closed = null;
      beginArrow();
      return;
    }
    boolean body = mark == '{' && (arrow != null || isBody());
    if (mark != '.') {
      dots = 0;
      spread = false;
    } else {
      dots++;
    }
    if (!body) {
      beginArrow();
    }
    switch (mark) {
      case '(', '[' -> push(mark);
      case '{' -> brace(body);
      case ')', ']', '}' -> close(mark);
      case ',', ';' -> separator(mark);
      case ':' -> rename();
        // from one part of a template to the next
      case ' ' -> closeArrows();
      default -> {}
    }
    if (mark != ')') {
      closed = null;
    }
  }

  private Open single() {
    Open one = new Open('(', lastLine, lastColumn, "");
    one.names.put(lastWord, new int[] {lastLine, lastColumn, 0});
    return one;
  }

  private boolean isBody() {
    return closed != null && !CONTROL.contains(closed.before);
  }

  /** Begins an arrow function that has no braces, if an arrow was just read. */
  private void beginArrow() {
    if (arrow != null) {
      Open scope = new Open('>', arrow.line, arrow.column, "");
      scope.function = true;
      scope.names.putAll(arrow.names);
      noted += scope.names.size();
      open.push(scope);
    }
    arrow = null;
  }

  private void push(char mark) {
    Open in = open.peek();
    Open next = new Open(mark, tokens.line(), tokens.column(), lastWord);
    next.pattern = mark == '[' && (in.nameIsNext || mayBind(in));
    declarePattern(in, next);
    open.push(next);
  }

  private static void declarePattern(Open in, Open next) {
    next.hoisted = in.hoisted;
    if (in.nameIsNext) {
      next.declaring = true;
      in.nameIsNext = false;
    }
  }

  private void brace(boolean body) {
    Open in = open.peek();
    Open from = body ? (arrow != null ? arrow : closed) : null;
    int line = from == null ? tokens.line() : from.line;
    int column = from == null ? tokens.column() : from.column;
    Open next = new Open('{', line, column, lastWord);
    if (from != null) {
      next.function = !from.before.equals("catch");
      next.names.putAll(from.names);
      noted += next.names.size();
    } else {
      next.pattern = in.nameIsNext || mayBind(in);
      declarePattern(in, next);
    }
    arrow = null;
    open.push(next);
  }

  /** Takes off what has ended, up to the bracket that is closed. */
  private void close(char mark) {
    char begin = mark == ')' ? '(' : mark == ']' ? '[' : '{';
    closeArrows();
    if (open.size() > 1 && open.peek().mark == begin) {
      Open was = pop();
      closed = mark == ')' ? was : null;
    }
  }

  private void closeArrows() {
    while (open.peek().mark == '>') {
      pop();
    }
  }

  private Open pop() {
    Open was = open.pop();
    if (was.isScope() && !was.names.isEmpty()) {
      found.add(new InnerScope(was.line, was.column, tokens.line(), tokens.column(), was.names));
    } else if (was.pattern) {
      Open in = open.peek();
      if (was.declaring) {
        was.names.forEach((name, place) -> note(name, place, was.hoisted));
      } else if (in.mark == '(' || in.pattern) {
        was.names.forEach(
            (name, place) -> {
              if (in.names.size() < MOST_PARAMETERS) {
                in.names.putIfAbsent(name, place);
              }
            });
      }
    }
    return was;
  }

  private void separator(char mark) {
    closeArrows();
    Open in = open.peek();
    if (mark == ';') {
      in.declaring = false;
    }
    in.nameIsNext = mark == ',' && in.declaring && !in.pattern;
  }

  /** In a pattern, what stands before a colon is the name of a property. */
  private void rename() {
    Open in = open.peek();
    if (in.pattern && !lastWord.isEmpty()) {
      in.names.remove(lastWord);
    }
  }

  /** Notes that what a variable is set to is a class. */
  private void markClass(String name) {
    for (Open in : open) {
      int[] place = in.isScope() ? in.names.get(name) : null;
      if (place != null) {
        place[2] = 1;
        return;
      }
    }
  }

  /** Notes a variable in the block or, if it is hoisted, in the function around. */
  private void note(String name, int[] place, boolean hoisted) {
    for (Open in : open) {
      if (in.isScope() && (in.function || !hoisted)) {
        noted += in.names.putIfAbsent(name, place) == null ? 1 : 0;
        return;
      }
    }
  }
}
