package lipsanon.select;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import lipsanon.index.IdStyle;
import lipsanon.select.Selection.Comparison;
import lipsanon.select.Selection.Figure;
import lipsanon.select.SelectionTokens.Token;

/**
 * Reads the text of a selection.
 *
 * <pre>
 * selection --> part { ("or" | ",") part }
 * part      --> factor { "and" factor }
 * factor    --> "not" factor | "(" selection ")" | predicate
 * predicate --> NAME                                a type: its name, a part of it, a pattern
 *             | "type" NAME | "kind" NAME           a type | with all its subtypes
 *             | "loader" NAME | "own" | "all"
 *             | "strong" | "soft" | "finalizer" | "unretained"
 *             | "root" [ NAME ]
 *             | ("shallow" | "retained" | "depth" | "length") COMPARISON NUMBER
 *             | "text" ( COMPARISON TEXT | "contains" TEXT | "length" COMPARISON NUMBER )
 *             | FIELD { "." FIELD } ( COMPARISON VALUE | "contains" TEXT )
 *             | "kept" "by" factor | "freed" "with" factor
 *             | "refers" "to" factor [ "through" FIELD ]
 *             | "referred" "to" "by" factor [ "through" FIELD ]
 *             | "new" "since" FILE
 *             | "allocated" "in" NAME | "allocated" "from" SECONDS "to" SECONDS
 *             | ID | "$" NAME                       an object | a named selection
 * COMPARISON --> "=" | "!=" | "&lt;" | "&lt;=" | ">" | ">=" | "~"
 * </pre>
 *
 * Sizes take units ({@code 10kB}, {@code 1.5MB}; a kB is 1,000 bytes). Names and texts with spaces
 * or signs in them stand in quotes. Parentheses nest to a bounded depth, so that no text exhausts
 * the stack.
 */
public final class SelectionParser {
  private static final int DEEPEST = 100;

  private static final Set<String> STRENGTHS = Set.of("strong", "soft", "finalizer", "unretained");

  /** Words that begin a predicate of more than one word, and what may follow them. */
  private static final Set<String> JOINING = Set.of("and", "or", "through");

  private static final Set<String> WORDS =
      Set.of(
          "and",
          "or",
          "not",
          "all",
          "own",
          "type",
          "kind",
          "loader",
          "strong",
          "soft",
          "finalizer",
          "unretained",
          "root",
          "text",
          "kept",
          "freed",
          "refers",
          "referred",
          "new",
          "allocated",
          "through",
          "contains",
          "shallow",
          "retained",
          "depth",
          "length");

  private final String text;
  private final List<Token> tokens;
  private int at;
  private int depth;

  private SelectionParser(String text) throws SelectionException {
    this.text = text;
    this.tokens = SelectionTokens.of(text);
  }

  /** Reads a text whole. */
  public static Selection parse(String text) throws SelectionException {
    SelectionParser parser = new SelectionParser(text);
    if (parser.tokens.isEmpty()) {
      throw new SelectionException("nothing is selected: give a type, or for example `own`", 0);
    }
    Selection selection = parser.selection();
    if (parser.at < parser.tokens.size()) {
      Token token = parser.tokens.get(parser.at);
      throw new SelectionException(
          "`"
              + token.text()
              + "` is not expected here; `and`, `or` or the end would be (names with spaces or"
              + " signs stand in quotes)",
          token.at());
    }
    return selection;
  }

  private Token peek() {
    return at < tokens.size() ? tokens.get(at) : null;
  }

  private boolean has(String word) {
    return peek() != null && peek().is(word);
  }

  private boolean takes(String word) {
    if (has(word)) {
      at++;
      return true;
    }
    return false;
  }

  private Token take(String wanted) throws SelectionException {
    if (at >= tokens.size()) {
      throw new SelectionException(wanted + " is missing at the end", text.length());
    }
    return tokens.get(at++);
  }

  private void expect(String word, String after) throws SelectionException {
    Token token = take("`" + word + "` after `" + after + "`");
    if (!token.is(word)) {
      throw new SelectionException(
          "`" + word + "` is expected after `" + after + "`, not `" + token.text() + "`",
          token.at());
    }
  }

  private Selection selection() throws SelectionException {
    List<Selection> parts = new ArrayList<>();
    do {
      parts.add(part());
    } while (takes("or") || takes(","));
    return parts.size() == 1 ? parts.get(0) : new Selection.Or(List.copyOf(parts));
  }

  private Selection part() throws SelectionException {
    List<Selection> parts = new ArrayList<>();
    do {
      parts.add(factor());
    } while (takes("and"));
    return parts.size() == 1 ? parts.get(0) : new Selection.And(List.copyOf(parts));
  }

  private Selection factor() throws SelectionException {
    if (++depth > DEEPEST) {
      throw new SelectionException("nested too deeply", peek() == null ? 0 : peek().at());
    }
    try {
      if (takes("not")) {
        return new Selection.Not(factor());
      }
      if (takes("(")) {
        int open = tokens.get(at - 1).at();
        Selection inside = selection();
        if (!takes(")")) {
          throw new SelectionException("this parenthesis is not closed", open);
        }
        return inside;
      }
      return predicate();
    } finally {
      depth--;
    }
  }

  private Selection predicate() throws SelectionException {
    Token token = take("a selection");
    if (token.sign()) {
      throw new SelectionException(
          "a selection is expected, not `" + token.text() + "`", token.at());
    }
    Comparison comparison = comparison();
    if (token.quoted()) {
      // a field that is called like a word of the language stands in quotes
      return comparison == null
          ? new Selection.OfType(token.text(), token.at())
          : new Selection.WithField(path(token), comparison, value(), token.at());
    }
    String word = token.text().toLowerCase(Locale.ROOT);
    if (comparison != null) {
      return compared(token, word, comparison);
    }
    Selection known = ofWord(token, word);
    return known != null ? known : name(token);
  }

  /** A predicate that begins with a word of the language; null for a name. */
  private Selection ofWord(Token token, String word) throws SelectionException {
    if (STRENGTHS.contains(word)) {
      return new Selection.OfStrength(word);
    }
    switch (word) {
      case "all":
        return new Selection.All();
      case "own":
        return new Selection.Own();
      case "type":
        return new Selection.OfType(take("a type").text(), tokens.get(at - 1).at());
      case "kind":
        return new Selection.OfKind(take("a type").text(), tokens.get(at - 1).at());
      case "loader":
        return new Selection.LoadedBy(take("a loader").text(), tokens.get(at - 1).at());
      case "root":
        boolean more = peek() != null && !peek().sign() && !JOINING.contains(lower(peek()));
        return new Selection.Rooted(more ? take("").text() : "", token.at());
      case "text":
        return ofText(token);
      case "kept":
        expect("by", "kept");
        return new Selection.KeptBy(factor());
      case "freed":
        expect("with", "freed");
        return new Selection.FreedWith(factor());
      case "refers":
        expect("to", "refers");
        Selection targets = factor();
        return new Selection.RefersTo(targets, through());
      case "referred":
        expect("to", "referred");
        expect("by", "referred to");
        Selection sources = factor();
        return new Selection.ReferredToBy(sources, through());
      case "new":
        expect("since", "new");
        return new Selection.NewSince(take("a snapshot's file").text(), tokens.get(at - 1).at());
      case "allocated":
        return allocated(token);
      default:
        return null;
    }
  }

  private static String lower(Token token) {
    return token.quoted() ? "" : token.text().toLowerCase(Locale.ROOT);
  }

  private String through() throws SelectionException {
    return takes("through") ? take("a field's name").text() : "";
  }

  private Selection allocated(Token token) throws SelectionException {
    if (takes("in")) {
      return new Selection.AllocatedIn(take("a function's name").text(), tokens.get(at - 1).at());
    }
    expect("from", "allocated");
    long from = millis(take("a time in seconds"));
    expect("to", "allocated from");
    return new Selection.AllocatedDuring(from, millis(take("a time in seconds")), token.at());
  }

  private static long millis(Token token) throws SelectionException {
    try {
      return Math.round(Double.parseDouble(token.text()) * 1000);
    } catch (NumberFormatException e) {
      throw new SelectionException("`" + token.text() + "` is no time in seconds", token.at());
    }
  }

  private Selection ofText(Token token) throws SelectionException {
    if (takes("contains")) {
      return new Selection.WithText(Comparison.LIKE, part(take("a text").text()), -1);
    }
    if (takes("length")) {
      Comparison comparison = comparison();
      if (comparison == null || comparison == Comparison.LIKE) {
        throw new SelectionException("`text length` wants a comparison, such as > 100", token.at());
      }
      return new Selection.WithText(comparison, "", number(take("a number")));
    }
    return name(token);
  }

  /** A pattern for what contains a text. */
  private static String part(String text) {
    return "*" + text + "*";
  }

  private Selection compared(Token token, String word, Comparison comparison)
      throws SelectionException {
    for (Figure figure : Figure.values()) {
      if (word.equals(figure.name().toLowerCase(Locale.ROOT))) {
        if (comparison == Comparison.LIKE) {
          throw new SelectionException("`" + word + "` is a number: ~ is for texts", token.at());
        }
        return new Selection.Measured(figure, comparison, number(take("a number")));
      }
    }
    String value = value();
    return word.equals("text")
        ? new Selection.WithText(comparison, value, -1)
        : new Selection.WithField(path(token), comparison, value, token.at());
  }

  private String value() throws SelectionException {
    Token value = take("a value");
    if (value.sign()) {
      throw new SelectionException("a value is expected, not `" + value.text() + "`", value.at());
    }
    return value.text();
  }

  private static List<String> path(Token token) throws SelectionException {
    List<String> path = List.of(token.text().split("\\.", -1));
    if (path.contains("")) {
      throw new SelectionException("`" + token.text() + "` is no path of fields", token.at());
    }
    return path;
  }

  /** A comparison's sign, if one comes next. */
  private Comparison comparison() {
    Token token = peek();
    if (token != null && token.sign()) {
      for (Comparison comparison : Comparison.values()) {
        if (comparison.sign.equals(token.text())) {
          at++;
          return comparison;
        }
      }
    }
    return null;
  }

  private static long number(Token token) throws SelectionException {
    String digits = token.text().replaceAll("[A-Za-z_]+$", "").replace(",", "").replace("_", "");
    String unit = token.text().replaceAll("^[0-9.,_]*", "").toLowerCase(Locale.ROOT);
    double factor =
        switch (unit) {
          case "", "b" -> 1;
          case "k", "kb" -> 1e3;
          case "m", "mb" -> 1e6;
          case "g", "gb" -> 1e9;
          default -> 0;
        };
    try {
      if (factor > 0) {
        return Math.round(Double.parseDouble(digits) * factor);
      }
    } catch (NumberFormatException e) {
      // told below
    }
    throw new SelectionException(
        "`" + token.text() + "` is no number; sizes look like 300, 10kB or 1.5MB", token.at());
  }

  /** A name: further words belong to it, as answers print such names. */
  private Selection name(Token token) throws SelectionException {
    if (IdStyle.matches(token.text())) {
      return new Selection.Single(token.text(), token.at());
    }
    if (token.text().startsWith("$") && token.text().length() > 1) {
      return new Selection.Named(token.text().substring(1), token.at());
    }
    if (takes("contains")) {
      return new Selection.WithField(
          path(token), Comparison.LIKE, part(take("a text").text()), token.at());
    }
    StringBuilder name = new StringBuilder(token.text());
    while (peek() != null
        && !peek().sign()
        && !peek().quoted()
        && !JOINING.contains(lower(peek()))) {
      name.append(' ').append(take("").text());
    }
    return new Selection.OfType(name.toString(), token.at());
  }

  /** A name or text as the language takes it back. */
  public static String quoted(String text) {
    boolean plain =
        text.matches("[A-Za-z_$][A-Za-z0-9_.$:*?\\[\\]/]*")
            && !WORDS.contains(text.toLowerCase(Locale.ROOT));
    return plain ? text : "\"" + text.replace("\\", "\\\\").replace("\"", "\\\"") + "\"";
  }
}
