package lipsanon.cli.command.look;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import lipsanon.index.Snapshot;
import lipsanon.question.SavingsAnswer;

/**
 * The largest saving that was found in a snapshot, in a sentence beside its index: to find it reads
 * all texts and arrays, so a first look at the snapshot only names it once it is known.
 */
final class SavingsNote {
  private static final String NAME = "savings";
  private static final int LONGEST = 1000;

  private SavingsNote() {}

  static void write(Snapshot snapshot, SavingsAnswer answer) {
    String sentence = answer.kinds().isEmpty() ? "" : answer.kinds().get(0).sentence();
    Path file = snapshot.folder().resolve(NAME);
    try {
      Path temporary = Files.createTempFile(snapshot.folder(), ".savings-", ".tmp");
      Files.writeString(temporary, sentence, StandardCharsets.UTF_8);
      Files.move(temporary, file, StandardCopyOption.REPLACE_EXISTING);
    } catch (IOException e) {
      // the answer itself was given; the note is for later
      return;
    }
  }

  /** Whether it was looked for since the snapshot was indexed. */
  static boolean isKnown(Snapshot snapshot) {
    Path note = snapshot.folder().resolve(NAME);
    try {
      return Files.isRegularFile(note)
          && Files.getLastModifiedTime(note)
                  .compareTo(Files.getLastModifiedTime(snapshot.folder().resolve("meta")))
              >= 0;
    } catch (IOException e) {
      return false;
    }
  }

  /** "" if nothing is known, or nothing could be saved. */
  static String read(Snapshot snapshot) {
    Path file = snapshot.folder().resolve(NAME);
    try {
      return isKnown(snapshot) && Files.size(file) <= LONGEST
          ? Files.readString(file, StandardCharsets.UTF_8).strip()
          : "";
    } catch (IOException e) {
      return "";
    }
  }
}
