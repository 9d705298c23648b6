package lipsanon.sql;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayDeque;
import java.util.Iterator;
import java.util.Locale;
import java.util.NoSuchElementException;
import lipsanon.index.ObjectReader;
import lipsanon.index.Snapshot;

/** All references of a snapshot, object by object. One thread. */
final class References implements Iterator<Object[]> {
  private final Snapshot snapshot;
  private final ObjectReader objects;
  private final ArrayDeque<Object[]> some = new ArrayDeque<>();
  private int next;

  References(Snapshot snapshot) throws IOException {
    this.snapshot = snapshot;
    this.objects = snapshot.openReader();
  }

  @Override
  public boolean hasNext() {
    try {
      while (some.isEmpty() && next < snapshot.objectCount()) {
        int from = next++;
        objects.references(
            from,
            reference ->
                some.add(
                    new Object[] {
                      from,
                      reference.target(),
                      reference.kind().name().toLowerCase(Locale.ROOT),
                      reference.via().text(),
                      snapshot.id(from),
                      snapshot.id(reference.target())
                    }));
      }
      if (some.isEmpty()) {
        objects.close();
      }
      return !some.isEmpty();
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  @Override
  public Object[] next() {
    if (!hasNext()) {
      throw new NoSuchElementException();
    }
    return some.poll();
  }
}
