package lipsanon.cli.settings;

import java.util.List;
import java.util.Locale;

/**
 * What can be set beside the command line.
 *
 * @param name as in the files, and of the option with two dashes before it
 * @param values what it takes, in words
 * @param meaning in a sentence
 * @param anywhere whether a project's file may set it; otherwise only the user may
 */
public record Setting(String name, String values, String meaning, boolean anywhere) {
  /** All of them. */
  public static final List<Setting> ALL =
      List.of(
          new Setting(
              "mine",
              "packages",
              "Your own packages, where they are not found by themselves.",
              true),
          new Setting(
              "hide-contents",
              "true or false",
              "Lengths and keyed hashes in place of texts and values.",
              true),
          new Setting("bytes", "true or false", "Sizes as exact byte counts.", true),
          new Setting("limit", "a number", "Rows of a table at most.", true),
          new Setting("index-dir", "a folder", "Where indexes go.", false));

  /** The variable of the environment. */
  public String variable() {
    return "LIPSANON_" + name.toUpperCase(Locale.ROOT).replace('-', '_');
  }

  /** What is wrong with a value, or "". */
  String fault(String value) {
    return switch (values) {
      case "true or false" -> value.equals("true") || value.equals("false") ? "" : values;
      case "a number" -> value.matches("[1-9]\\d{0,8}") ? "" : "a number from 1 on";
      default -> value.isBlank() ? values : "";
    };
  }
}
