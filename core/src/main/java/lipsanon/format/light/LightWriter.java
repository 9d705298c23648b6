package lipsanon.format.light;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.util.MinimalPrettyPrinter;
import java.io.IOException;
import java.io.OutputStream;
import lipsanon.live.LightSnapshot;

/** Writes light snapshots as {@link LightFormat} says. */
public final class LightWriter {
  private LightWriter() {}

  /** Writes one; the stream stays open. */
  public static void write(LightSnapshot snapshot, OutputStream out) throws IOException {
    JsonGenerator json = new JsonFactory().createGenerator(out);
    json.disable(JsonGenerator.Feature.AUTO_CLOSE_TARGET);
    json.setPrettyPrinter(new MinimalPrettyPrinter("\n"));
    json.writeStartObject();
    json.writeStringField(LightFormat.KEY, LightFormat.KIND);
    json.writeNumberField("version", LightFormat.VERSION);
    json.writeStringField("runtime", snapshot.runtime());
    json.writeStringField("program", snapshot.program());
    json.writeStringField("process", snapshot.process());
    json.writeNumberField("takenAtMillis", snapshot.takenAtMillis());
    json.writeBooleanField("live", snapshot.live());
    json.writeEndObject();
    for (LightSnapshot.Type type : snapshot.types()) {
      json.writeStartObject();
      json.writeStringField("type", type.type());
      json.writeNumberField("count", type.count());
      json.writeNumberField("shallowBytes", type.shallowBytes());
      json.writeEndObject();
    }
    json.writeStartObject();
    json.writeNumberField("types", snapshot.types().size());
    json.writeNumberField("count", snapshot.count());
    json.writeNumberField("shallowBytes", snapshot.shallowBytes());
    json.writeEndObject();
    json.writeRaw('\n');
    json.close();
    out.flush();
  }
}
