package lipsanon.cli.watch;

import java.io.IOException;
import java.util.List;
import java.util.concurrent.atomic.AtomicBoolean;
import lipsanon.cli.term.SafeText;
import org.jline.terminal.Attributes;
import org.jline.terminal.Size;
import org.jline.terminal.Terminal;
import org.jline.utils.AttributedString;
import org.jline.utils.Display;
import org.jline.utils.InfoCmp.Capability;
import org.jline.utils.NonBlockingReader;

/** Watches on a terminal: draws, and does what keys ask for. */
public final class WatchTerminal {
  private static final int ESCAPE = 27;
  private static final int CTRL_C = 3;
  private static final int CTRL_L = 12;
  private static final long REDRAW_MILLIS = 1_000;

  private final Terminal terminal;
  private final Watching watching;
  private final Actions actions;
  private final Settings settings;
  private final Display display;
  private final AtomicBoolean stopped = new AtomicBoolean();
  private TypeRows.Sort sort = TypeRows.Sort.GROWTH;
  private String match;
  private boolean own;
  private boolean paused;
  private StringBuilder typing;
  private String message = "";

  /**
   * How to watch.
   *
   * @param title what is watched
   * @param everyMillis between two looks
   * @param forMillis how long, or {@link Long#MAX_VALUE}
   * @param match filter of the types, or ""
   * @param own whether only the user's own types at first
   * @param mine the user's packages
   * @param unicode whether the encoding has more than ASCII
   * @param color whether to colour
   */
  public record Settings(
      String title,
      long everyMillis,
      long forMillis,
      String match,
      boolean own,
      List<String> mine,
      boolean unicode,
      boolean color) {}

  /** What keys do besides. */
  public interface Actions {
    /** Saves a light snapshot of what is live; says where. */
    String light() throws IOException;

    /** Takes a whole snapshot; says where. */
    String full() throws IOException;
  }

  /** Draws on a terminal; its owner closes it. */
  public WatchTerminal(Terminal terminal, Watching watching, Actions actions, Settings settings) {
    this.terminal = terminal;
    this.watching = watching;
    this.actions = actions;
    this.settings = settings;
    this.match = settings.match();
    this.own = settings.own();
    this.display = new Display(terminal, true);
  }

  /** Until the user quits, the time is over, or the target ends. */
  public void run() throws IOException {
    Attributes before = terminal.enterRawMode();
    Terminal.SignalHandler interrupt =
        terminal.handle(Terminal.Signal.INT, signal -> stopped.set(true));
    AtomicBoolean resized = new AtomicBoolean(true);
    Terminal.SignalHandler resize =
        terminal.handle(Terminal.Signal.WINCH, signal -> resized.set(true));
    terminal.puts(Capability.enter_ca_mode);
    terminal.puts(Capability.cursor_invisible);
    terminal.flush();
    try {
      loop(resized);
    } finally {
      terminal.puts(Capability.cursor_visible);
      terminal.puts(Capability.exit_ca_mode);
      terminal.flush();
      terminal.setAttributes(before);
      terminal.handle(Terminal.Signal.INT, interrupt);
      terminal.handle(Terminal.Signal.WINCH, resize);
    }
  }

  private void loop(AtomicBoolean resized) throws IOException {
    long begun = System.nanoTime();
    long next = begun;
    long stale = begun;
    boolean changed = true;
    while (!stopped.get()) {
      long now = System.nanoTime();
      if ((now - begun) / 1_000_000 >= settings.forMillis()) {
        return;
      }
      if (now >= next) {
        if (!paused) {
          watching.tick();
        }
        next = Math.max(next + settings.everyMillis() * 1_000_000, System.nanoTime());
        changed = true;
      }
      boolean again = resized.getAndSet(false);
      // how long ago it was counted moves on by itself
      if (changed || again || System.nanoTime() >= stale) {
        draw(again);
        stale = System.nanoTime() + REDRAW_MILLIS * 1_000_000;
      }
      long wait = Math.max(1, (next - System.nanoTime()) / 1_000_000);
      // a resize is noticed between two looks too
      changed = key(terminal.reader().read(Math.min(wait, 100)));
    }
  }

  private void draw(boolean resized) {
    Size size = terminal.getSize();
    int width = size.getColumns() > 0 ? size.getColumns() : 80;
    int height = size.getRows() > 0 ? size.getRows() : 24;
    if (resized) {
      display.resize(height, width);
      display.clear();
    }
    WatchScreen.State state =
        new WatchScreen.State(
            settings.title(),
            sort,
            match,
            own,
            settings.mine(),
            paused,
            typing == null ? null : typing.toString(),
            message,
            watching.counting());
    List<AttributedString> lines =
        WatchScreen.draw(
            watching.watched(), state, settings.unicode(), settings.color(), width, height);
    display.update(lines, 0);
  }

  /** Does what a key asks for; whether there was one. */
  private boolean key(int key) throws IOException {
    if (key == NonBlockingReader.READ_EXPIRED || key < 0) {
      if (key == NonBlockingReader.EOF) {
        stopped.set(true);
      }
      return false;
    }
    if (typing != null) {
      typed(key);
      return true;
    }
    switch (key) {
      case 'q', 'Q', CTRL_C -> stopped.set(true);
      case 'p' -> paused = !paused;
      case 's' -> sort = sort.next();
      case 'o' -> own = !own;
      case '/' -> typing = new StringBuilder();
      case 'b' -> does("setting the baseline ...", watching::rebase);
      case 'c' -> does("collecting ...", watching::collect);
      case 'l' -> does("counting ...", actions::light);
      case 'f' -> does("taking a snapshot: the target stands still meanwhile ...", actions::full);
      case CTRL_L -> display.clear();
      case ESCAPE -> escape();
      default -> message = "No such key; the last line names them.";
    }
    return true;
  }

  /** An arrow or the like sends more characters: they mean nothing here. */
  private void escape() throws IOException {
    while (terminal.reader().read(5) >= 0) {
      message = "";
    }
  }

  private void typed(int key) {
    switch (key) {
      case '\r', '\n' -> {
        match = typing.toString();
        typing = null;
      }
      case ESCAPE, CTRL_C -> {
        match = "";
        typing = null;
      }
      case 127, '\b' -> typing.setLength(Math.max(0, typing.length() - 1));
      default -> {
        if (key >= ' ' && typing.length() < 200) {
          typing.append((char) key);
          match = typing.toString();
        }
      }
    }
  }

  private interface Deed {
    String run() throws IOException;
  }

  /** Says what is being done, does it, and says what came of it. */
  private void does(String meanwhile, Deed deed) throws IOException {
    message = meanwhile;
    draw(false);
    try {
      message = deed.run();
    } catch (java.nio.file.FileSystemException | lipsanon.capture.CaptureException e) {
      message = SafeText.message(e.getMessage());
    }
  }
}
