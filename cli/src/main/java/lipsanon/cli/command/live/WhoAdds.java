package lipsanon.cli.command.live;

import java.util.ArrayList;
import java.util.List;
import java.util.function.Consumer;
import lipsanon.capture.v8.V8Adders;
import lipsanon.capture.v8.V8Capture;
import lipsanon.change.GrowthAnswer;
import lipsanon.change.Series;
import lipsanon.format.v8.WrittenPlaces;
import lipsanon.holder.Finding;

/** Watches the collection that grows while the action is done once more. */
final class WhoAdds {
  private WhoAdds() {}

  static List<GrowthAnswer.Adder> of(
      V8Capture capture, GrowthAnswer answer, V8Adders.Once once, Consumer<String> tell)
      throws Exception {
    Series collection = collection(answer);
    if (collection == null) {
      tell.accept("no collection was seen to grow: nobody can be watched adding to one");
      return List.of();
    }
    tell.accept(
        "watching "
            + collection.what()
            + " "
            + collection.id()
            + " during one more action: its adding methods are wrapped, and put back after");
    long number = Long.parseLong(collection.id().replaceAll("\\D", ""));
    List<GrowthAnswer.Adder> adders = new ArrayList<>();
    List<V8Adders.Adder> watched = V8Adders.watch(capture, number, once);
    WrittenPlaces places = WrittenPlaces.of(capture.sourceMaps());
    for (V8Adders.Adder adder : watched) {
      List<String> frames = adder.frames().stream().map(places::frame).toList();
      adders.add(new GrowthAnswer.Adder(own(frames), adder.count(), frames));
    }
    if (adders.isEmpty()) {
      tell.accept("nothing was added to it in that action");
    }
    return adders;
  }

  /** The one of the first finding, if it is among those that grew; else the one that grew most. */
  private static Series collection(GrowthAnswer answer) {
    for (Finding finding : answer.findings()) {
      for (Series row : answer.collections()) {
        if (row.heldBy().equals(finding.heldBy()) || row.id().equals(finding.containerId())) {
          return row;
        }
      }
    }
    return answer.collections().isEmpty() ? null : answer.collections().get(0);
  }

  /** The innermost frame that is neither the runtime's nor a package's. */
  private static String own(List<String> frames) {
    for (String frame : frames) {
      boolean foreign =
          frame.contains("node:")
              || frame.contains("/node_modules/")
              || frame.contains("<anonymous>");
      if (!foreign) {
        return frame;
      }
    }
    return frames.isEmpty() ? "unknown" : frames.get(0);
  }
}
