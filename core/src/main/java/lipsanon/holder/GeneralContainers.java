package lipsanon.holder;

import java.io.IOException;
import java.util.HashMap;
import java.util.HashSet;
import java.util.Map;
import java.util.Set;
import lipsanon.array.IntList;
import lipsanon.index.PackedColumn;
import lipsanon.index.Reference;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.index.Via;
import lipsanon.label.Families;
import lipsanon.label.Ownership;

/**
 * Recognises general containers among the user's own types by structure alone: the object holds
 * nothing but tables and links of its own kind, and another object of its type holds something
 * unrelated. Such a type's field says nothing of what it is for; whoever has the container does.
 */
final class GeneralContainers {
  private static final int SAMPLE = 12;
  private static final int MOST_LOOKED_AT = 64;

  private final Snapshot snapshot;
  private final Ownership ownership;
  private final Map<Integer, Boolean> known = new HashMap<>();

  GeneralContainers(Snapshot snapshot, Ownership ownership) {
    this.snapshot = snapshot;
    this.ownership = ownership;
  }

  /** Whether an object is one; the target is what is held in it. */
  boolean isGeneral(int node, int target) throws IOException {
    int type = snapshot.type(node);
    TypeInfo info = snapshot.types().get(type);
    if (info.plain() || snapshot.classNodes().contains(node) || !isPart(info, target)) {
      return false;
    }
    Boolean answer = known.get(type);
    if (answer == null) {
      answer = holdsUnrelated(type, info);
      known.put(type, answer);
    }
    return answer;
  }

  /**
   * A table or a link of the container's own: an array that may hold anything, or a nested type.
   */
  private boolean isPart(TypeInfo container, int node) {
    TypeInfo part = snapshot.types().get(snapshot.type(node));
    boolean table = part.array() && ownership.of(part) == Ownership.Whose.RUNTIME;
    return table || part.name().startsWith(container.name() + "$");
  }

  private boolean holdsUnrelated(int type, TypeInfo info) throws IOException {
    IntList some = objectsOf(type);
    Set<String> contents = new HashSet<>();
    for (int i = 0; i < some.size(); i++) {
      String content = content(some.get(i), info);
      if (content == null) {
        return false;
      }
      if (!content.isEmpty()) {
        contents.add(content);
      }
    }
    return contents.size() > 1;
  }

  private IntList objectsOf(int type) {
    IntList found = new IntList();
    PackedColumn column = snapshot.typeColumn();
    long[] block = new long[64];
    long blocks = column.count() + 63 >> 6;
    for (long b = 0; b < blocks && found.size() < SAMPLE; b++) {
      int size = column.block(b, block);
      for (int i = 0; i < size && found.size() < SAMPLE; i++) {
        if (block[i] == type) {
          found.add((int) (b << 6) + i);
        }
      }
    }
    return found;
  }

  /**
   * The type of what a container holds, through its tables and links.
   *
   * @return "" if it is empty, null if it refers to something else than its parts: it is none
   */
  private String content(int container, TypeInfo info) throws IOException {
    boolean[] other = {false};
    IntList parts = new IntList();
    snapshot
        .objects()
        .references(
            container,
            reference -> {
              if (reference.kind() == Reference.Kind.STRONG
                  && reference.via().kind() != Via.Kind.INTERNAL) {
                if (isPart(info, reference.target())) {
                  parts.add(reference.target());
                } else {
                  other[0] = true;
                }
              }
            });
    if (other[0]) {
      return null;
    }
    String[] content = {""};
    for (int i = 0; i < Math.min(parts.size(), MOST_LOOKED_AT) && content[0].isEmpty(); i++) {
      int[] left = {MOST_LOOKED_AT};
      snapshot
          .objects()
          .references(
              parts.get(i),
              reference -> {
                if (reference.via().kind() == Via.Kind.INTERNAL || left[0]-- <= 0) {
                  return;
                }
                if (isPart(info, reference.target())) {
                  parts.add(reference.target());
                } else if (content[0].isEmpty()) {
                  content[0] = Families.of(snapshot.typeName(reference.target()));
                }
              });
    }
    return content[0];
  }
}
