package lipsanon.format.nettrace;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import lipsanon.format.metadata.AssemblyFile;
import lipsanon.format.metadata.AssemblyTypes;
import lipsanon.format.metadata.Metadata;
import lipsanon.io.ByteSource;
import lipsanon.io.BytesSource;
import lipsanon.io.FileSource;
import lipsanon.io.Progress;

/**
 * Adds to a snapshot what a runtime's events leave out and its assemblies say: names of fields, of
 * the classes of static variables, of the types around nested ones. They are added as events, so
 * that the file stays a stream as the runtime writes them.
 */
public final class NettraceNames {
  private NettraceNames() {}

  /**
   * An assembly that the process has loaded.
   *
   * @param types what it defines
   * @param foreign whether it is a library that the program brings along
   */
  record Assembly(AssemblyTypes types, boolean foreign) {}

  /** An assembly's bytes, read when they are asked for. */
  public interface Code {
    /** How its file is called, with its ending. */
    String name();

    /**
     * Reads it.
     *
     * @throws IOException if it is gone or not to be read
     */
    byte[] read() throws IOException;
  }

  /**
   * Adds what is found; a stream that is not whole stays as it is.
   *
   * @param files of the assemblies that the process has loaded
   * @param packages names of those files that are known as libraries
   * @param own names of those that are known as the program's own; others are libraries if they are
   *     signed, and not all are
   */
  public static void append(
      Path file, List<? extends Code> files, Set<String> packages, Set<String> own)
      throws IOException {
    List<Assembly> assemblies = new ArrayList<>();
    List<Assembly> signed = new ArrayList<>();
    boolean unsigned = false;
    for (Code one : files) {
      try {
        String name = one.name();
        Metadata metadata = AssemblyFile.metadata(new BytesSource(name, one.read()));
        if (metadata != null) {
          AssemblyTypes types = new AssemblyTypes(metadata);
          boolean known = packages.contains(name) || own.contains(name);
          assemblies.add(new Assembly(types, packages.contains(name)));
          if (!known && types.signed()) {
            signed.add(assemblies.get(assemblies.size() - 1));
          }
          unsigned |= !packages.contains(name) && !types.signed();
        }
      } catch (IOException e) {
        // gone, not ours to read, or no assembly: its types go by the names that the events have
        continue;
      }
    }
    if (unsigned) {
      for (Assembly one : signed) {
        assemblies.set(assemblies.indexOf(one), new Assembly(one.types(), true));
      }
    }
    append(file, assemblies);
  }

  static void append(Path file, List<Assembly> assemblies) throws IOException {
    if (assemblies.isEmpty()) {
      return;
    }
    HeapEvents events = new HeapEvents();
    long end;
    byte[] objects;
    try (ByteSource source = new FileSource(file)) {
      NettraceStream stream = new NettraceStream(source);
      stream.read(
          event -> {
            if (event.id == NettraceFormat.BULK_TYPE || event.id == NettraceFormat.BULK_STATIC) {
              events.event(event);
            }
          },
          Progress.NONE);
      if (!stream.ended()) {
        return;
      }
      end = source.size() - 1;
      NameBook book = new NameFinder(assemblies, events.types).find(events.statics);
      objects = NameWriter.objects(book, end, stream.startTicks());
    }
    try (FileChannel out = FileChannel.open(file, StandardOpenOption.WRITE)) {
      // the mark of the end moves behind them; until it is written the stream is told as cut off
      ByteBuffer bytes = ByteBuffer.allocate(objects.length + 1);
      bytes.put(objects).put((byte) NettraceFormat.NULL_REFERENCE).flip();
      for (long at = end; bytes.hasRemaining(); ) {
        at += out.write(bytes, at);
      }
      out.force(true);
    }
  }
}
