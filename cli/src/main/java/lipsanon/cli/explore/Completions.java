package lipsanon.cli.explore;

import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.TreeSet;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.select.NamedSelections;
import org.jline.reader.Candidate;
import org.jline.reader.Completer;
import org.jline.reader.LineReader;
import org.jline.reader.ParsedLine;

/** What can be typed next: commands, types, fields, named selections, words of selections. */
final class Completions implements Completer {
  private static final List<String> WORDS =
      List.of(
          "and",
          "or",
          "not",
          "own",
          "all",
          "type",
          "kind",
          "loader",
          "strong",
          "soft",
          "finalizer",
          "unretained",
          "root",
          "shallow",
          "retained",
          "depth",
          "length",
          "text",
          "contains",
          "kept",
          "by",
          "freed",
          "with",
          "refers",
          "referred",
          "to",
          "through",
          "new",
          "since",
          "allocated",
          "in");

  private static final int MOST = 300;
  private static final int MOST_FIELD_TYPES = 4_000;

  private final Snapshot snapshot;
  private final Collection<String> commands;
  private Set<String> fields;

  Completions(Snapshot snapshot, Collection<String> commands) {
    this.snapshot = snapshot;
    this.commands = commands;
  }

  @Override
  public void complete(LineReader reader, ParsedLine line, List<Candidate> candidates) {
    if (line.wordIndex() == 0) {
      commands.forEach(command -> candidates.add(new Candidate(command)));
      return;
    }
    String begun = line.word();
    if (begun.startsWith("$")) {
      try {
        NamedSelections.of(snapshot).keySet().forEach(n -> candidates.add(new Candidate("$" + n)));
      } catch (java.io.IOException e) {
        // then there is nothing to offer
      }
      return;
    }
    for (String word : WORDS) {
      if (word.startsWith(begun)) {
        candidates.add(new Candidate(word));
      }
    }
    if (!begun.isEmpty()) {
      names(begun, candidates);
    }
  }

  private void names(String begun, List<Candidate> candidates) {
    String small = begun.toLowerCase(Locale.ROOT);
    Set<String> found = new TreeSet<>();
    for (int t = 0; t < snapshot.types().size() && found.size() < MOST; t++) {
      TypeInfo type = snapshot.types().get(t);
      String name = type.name();
      String simple = name.substring(Math.max(name.lastIndexOf('.'), name.lastIndexOf('$')) + 1);
      if (snapshot.counts(t).count() == 0 || name.indexOf(' ') >= 0) {
        continue;
      }
      if (name.toLowerCase(Locale.ROOT).startsWith(small)) {
        found.add(name);
      } else if (simple.toLowerCase(Locale.ROOT).startsWith(small)) {
        found.add(simple);
      }
    }
    for (String field : fields()) {
      if (field.toLowerCase(Locale.ROOT).startsWith(small)) {
        found.add(field);
      }
    }
    new ArrayList<>(found).forEach(name -> candidates.add(new Candidate(name)));
  }

  /** Names of fields of the program's own types, read once from an object of each. */
  private Set<String> fields() {
    if (fields == null) {
      fields = new TreeSet<>();
      boolean[] seen = new boolean[snapshot.types().size()];
      int left = MOST_FIELD_TYPES;
      lipsanon.index.PackedColumn types = snapshot.typeColumn();
      int most = Math.min(snapshot.objectCount(), 2_000_000);
      try {
        for (int n = 0; n < most && left > 0; n++) {
          int type = types.getInt(n);
          if (!seen[type] && !snapshot.types().get(type).library()) {
            seen[type] = true;
            left--;
            snapshot.objects().fields(n, 60).forEach(field -> add(field.via().name()));
          }
        }
      } catch (java.io.IOException e) {
        // what was found will do
      }
    }
    return fields;
  }

  private void add(String name) {
    if (name.matches("[A-Za-z_$][A-Za-z0-9_$]*")) {
      fields.add(name);
    }
  }
}
