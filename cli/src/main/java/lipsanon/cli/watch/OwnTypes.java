package lipsanon.cli.watch;

import java.util.List;
import lipsanon.change.TypeTable;

/** Tells the user's own types by name alone. */
final class OwnTypes {
  private OwnTypes() {}

  static boolean is(String type, List<String> mine) {
    if (mine.isEmpty()) {
      return !TypeTable.library(type);
    }
    for (String stem : mine) {
      if (type.startsWith(stem.endsWith("*") ? stem.substring(0, stem.length() - 1) : stem)) {
        return true;
      }
    }
    return false;
  }
}
