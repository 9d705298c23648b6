package lipsanon.format.v8;

import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.util.Arrays;
import java.util.HashMap;
import java.util.Map;

/**
 * What a reader of single objects must know of a snapshot's file.
 *
 * @param meta the columns
 * @param members where the file's members begin
 * @param synthetic nodes that are no objects, ascending
 * @param closureOfScript by script: an object that is a function of it
 * @param maps source maps that are not in the file
 */
record V8Layout(
    V8Meta meta,
    Map<String, Long> members,
    int[] synthetic,
    Map<Integer, Integer> closureOfScript,
    Maps maps) {
  /**
   * Source maps that were found on the machine where the file was indexed.
   *
   * @param folder where the user had them looked for, or ""
   * @param kept as in {@link ScriptMap}; empty if there were none
   */
  record Maps(String folder, byte[] kept) {
    static final Maps NONE = new Maps("", new byte[0]);
  }

  V8Layout with(Maps found) {
    return new V8Layout(meta, members, synthetic, closureOfScript, found);
  }

  /** The object of a node, or -1. Objects are all nodes but the synthetic ones, in order. */
  int objectOf(long node) {
    int at = Arrays.binarySearch(synthetic, (int) node);
    return at >= 0 ? -1 : (int) node - ~at;
  }

  void write(DataOutputStream out) throws IOException {
    meta.write(out);
    out.writeInt(members.size());
    for (Map.Entry<String, Long> member : members.entrySet()) {
      out.writeUTF(member.getKey());
      out.writeLong(member.getValue());
    }
    out.writeInt(synthetic.length);
    for (int node : synthetic) {
      out.writeInt(node);
    }
    out.writeInt(closureOfScript.size());
    for (Map.Entry<Integer, Integer> entry : closureOfScript.entrySet()) {
      out.writeInt(entry.getKey());
      out.writeInt(entry.getValue());
    }
    out.writeUTF(maps.folder());
    out.writeInt(maps.kept().length);
    out.write(maps.kept());
  }

  static V8Layout read(DataInputStream in) throws IOException {
    V8Meta meta = V8Meta.read(in);
    Map<String, Long> members = new HashMap<>();
    for (int left = in.readInt(); left > 0; left--) {
      members.put(in.readUTF(), in.readLong());
    }
    int[] synthetic = new int[in.readInt()];
    for (int i = 0; i < synthetic.length; i++) {
      synthetic[i] = in.readInt();
    }
    Map<Integer, Integer> closures = new HashMap<>();
    for (int left = in.readInt(); left > 0; left--) {
      closures.put(in.readInt(), in.readInt());
    }
    String folder = in.readUTF();
    byte[] kept = new byte[in.readInt()];
    in.readFully(kept);
    return new V8Layout(meta, members, synthetic, closures, new Maps(folder, kept));
  }
}
