package lipsanon.cli.command;

import java.util.List;
import lipsanon.cli.Context;

/** Runs one question with the words of a command line. */
public interface Questions {
  /** Runs it and prints what it says, errors included. */
  void run(Context context, List<String> words);
}
