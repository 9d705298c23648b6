package lipsanon.format.light;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonGenerator;
import java.io.IOException;
import java.io.OutputStream;
import java.util.List;
import lipsanon.live.HeapSeries;
import lipsanon.live.LightSnapshot;

/** Writes a series line by line; each line is out before the call returns. */
public final class SeriesWriter implements AutoCloseable {
  private final OutputStream out;
  private final JsonFactory factory = new JsonFactory();

  /** Begins with the head of a series, whose lists are written too if there is anything in them. */
  public SeriesWriter(OutputStream out, HeapSeries head) throws IOException {
    this.out = out;
    line(
        json -> {
          json.writeStringField(LightFormat.KEY, SeriesFormat.KIND);
          json.writeNumberField("version", SeriesFormat.VERSION);
          json.writeStringField("runtime", head.runtime());
          json.writeStringField("program", head.program());
          json.writeStringField("process", head.process());
          json.writeNumberField("startedAtMillis", head.startedAtMillis());
        });
    for (HeapSeries.Heap heap : head.heap()) {
      write(heap);
    }
    for (HeapSeries.Types types : head.counts()) {
      write(types);
    }
    for (HeapSeries.Mark mark : head.marks()) {
      write(mark);
    }
  }

  private interface Fields {
    void write(JsonGenerator json) throws IOException;
  }

  private void line(Fields fields) throws IOException {
    JsonGenerator json = factory.createGenerator(out);
    json.disable(JsonGenerator.Feature.AUTO_CLOSE_TARGET);
    json.writeStartObject();
    fields.write(json);
    json.writeEndObject();
    json.writeRaw('\n');
    json.close();
    out.flush();
  }

  /** Adds a reading. */
  public void write(HeapSeries.Heap heap) throws IOException {
    line(
        json -> {
          json.writeNumberField("atMillis", heap.atMillis());
          json.writeNumberField("usedBytes", heap.usedBytes());
          json.writeNumberField("committedBytes", heap.committedBytes());
          json.writeNumberField("maxBytes", heap.maxBytes());
          json.writeNumberField("collections", heap.collections());
          json.writeNumberField("pauseMicros", heap.pauseMicros());
          json.writeNumberField("survivedBytes", heap.survivedBytes());
        });
  }

  /** Adds a count; of its types the largest. */
  public void write(HeapSeries.Types counts) throws IOException {
    List<LightSnapshot.Type> types = counts.types();
    line(
        json -> {
          json.writeNumberField("atMillis", counts.atMillis());
          json.writeNumberField("costMillis", counts.costMillis());
          json.writeBooleanField("live", counts.live());
          json.writeNumberField("count", counts.count());
          json.writeNumberField("shallowBytes", counts.shallowBytes());
          json.writeArrayFieldStart("types");
          for (int i = 0; i < types.size() && i < SeriesFormat.MOST_TYPES; i++) {
            json.writeStartObject();
            json.writeStringField("type", types.get(i).type());
            json.writeNumberField("count", types.get(i).count());
            json.writeNumberField("shallowBytes", types.get(i).shallowBytes());
            json.writeEndObject();
          }
          json.writeEndArray();
        });
  }

  /** Adds a mark. */
  public void write(HeapSeries.Mark mark) throws IOException {
    line(
        json -> {
          json.writeNumberField("atMillis", mark.atMillis());
          json.writeStringField("mark", mark.mark());
          json.writeStringField("text", mark.text());
        });
  }

  @Override
  public void close() throws IOException {
    out.close();
  }
}
