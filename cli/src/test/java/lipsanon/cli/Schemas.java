package lipsanon.cli;

import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.lang.reflect.ParameterizedType;
import java.lang.reflect.RecordComponent;
import java.lang.reflect.Type;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** JSON schemas of answers, from the records that they are. */
final class Schemas {
  static final ObjectMapper JSON = new ObjectMapper();

  /** Each answer with the records that it may be. */
  static final Map<String, List<String>> ANSWERS = answers();

  private final ObjectNode definitions = JSON.createObjectNode();

  private Schemas() {}

  private static Map<String, List<String>> answers() {
    Map<String, List<String>> all = new LinkedHashMap<>();
    String command = "lipsanon.cli.command.";
    String question = "lipsanon.question.";
    all.put("runtimes", List.of(command + "live.RuntimesCommand$Found"));
    all.put("capture", List.of(command + "live.CaptureCommand$Captured"));
    all.put("survey", List.of(question + "SurveyAnswer"));
    all.put("types", List.of(question + "TypesAnswer", question + "GroupsAnswer"));
    all.put(
        "keepers",
        List.of(
            question + "KeepersAnswer", question + "SetKeepersAnswer", question + "GroupsAnswer"));
    all.put("sift", List.of(question + "SiftAnswer"));
    all.put("show", List.of(question + "ShowAnswer"));
    all.put("refs", List.of(question + "RefsAnswer"));
    all.put("why", List.of(question + "WhyAnswer", question + "CutAnswer"));
    all.put("savings", List.of(question + "SavingsAnswer"));
    all.put("sql", List.of(command + "look.SqlCommand$Result"));
    all.put("fleet", List.of("lipsanon.fleet.FleetAnswer"));
    all.put("fleet-run", List.of("lipsanon.fleet.LocalFleet$Result"));
    all.put("growth", List.of("lipsanon.change.GrowthAnswer"));
    all.put(
        "diff",
        List.of(
            "lipsanon.change.DiffAnswer",
            "lipsanon.change.TypesDiff",
            "lipsanon.change.RefsChangesAnswer"));
    all.put("prove", List.of("lipsanon.change.ProofAnswer"));
    all.put("gate", List.of("lipsanon.change.BudgetAnswer"));
    all.put(
        "origins",
        List.of("lipsanon.origin.OriginsAnswer", command + "look.OriginsCommand$Recorded"));
    all.put(
        "record",
        List.of(command + "live.RecordCommand$Recorded", command + "live.RecordCommand$Flown"));
    all.put("index", List.of(command + "setup.IndexCommand$Indexed"));
    all.put("index-check", List.of(command + "setup.IndexCommand$Checked"));
    all.put("report", List.of(command + "share.ReportCommand$Reported"));
    all.put("export", List.of(command + "share.ExportCommand$Exported"));
    all.put(
        "redact",
        List.of(command + "share.RedactCommand$Redacted", command + "share.RedactCommand$Checked"));
    all.put("ready", List.of(command + "setup.ReadyCommand$Ready"));
    all.put("config", List.of(command + "setup.ConfigCommand$Config"));
    return all;
  }

  /** The schema of an answer. */
  static ObjectNode of(String answer) throws ClassNotFoundException {
    Schemas schemas = new Schemas();
    ObjectNode schema = JSON.createObjectNode();
    schema.put("$schema", "https://json-schema.org/draft/2020-12/schema");
    schema.put("title", "The answer of lipsanon " + answer);
    ArrayNode any = JSON.createArrayNode();
    for (String name : ANSWERS.get(answer)) {
      ObjectNode one = schemas.object(Class.forName(name));
      ObjectNode head = JSON.createObjectNode();
      head.set("answer", JSON.createObjectNode().put("const", answer));
      head.set("version", JSON.createObjectNode().put("const", 1));
      head.setAll((ObjectNode) one.get("properties"));
      one.set("properties", head);
      ((ArrayNode) one.get("required")).add("answer").add("version");
      any.add(one);
    }
    if (any.size() == 1) {
      schema.setAll((ObjectNode) any.get(0));
    } else {
      schema.set("anyOf", any);
    }
    schema.set("$defs", schemas.definitions);
    return schema;
  }

  private ObjectNode object(Class<?> type) {
    ObjectNode schema = JSON.createObjectNode().put("type", "object");
    ObjectNode properties = schema.putObject("properties");
    ArrayNode required = schema.putArray("required");
    for (RecordComponent component : type.getRecordComponents()) {
      properties.set(component.getName(), value(component.getGenericType()));
      required.add(component.getName());
    }
    return schema;
  }

  private ObjectNode value(Type type) {
    ObjectNode schema = JSON.createObjectNode();
    if (type instanceof ParameterizedType list) {
      schema.put("type", "array");
      schema.set("items", value(list.getActualTypeArguments()[0]));
      return schema;
    }
    Class<?> plain = (Class<?>) type;
    if (plain == Object.class) {
      return schema;
    }
    if (plain.isRecord()) {
      String name = plain.getName().replaceAll(".*\\.", "").replace('$', '.');
      if (!definitions.has(name)) {
        definitions.putObject(name);
        definitions.set(name, object(plain));
      }
      ArrayNode any = schema.putArray("anyOf");
      any.addObject().put("$ref", "#/$defs/" + name);
      any.addObject().put("type", "null");
    } else if (plain == boolean.class) {
      schema.put("type", "boolean");
    } else if (plain == double.class || plain == Double.class) {
      schema.put("type", "number");
    } else if (plain == int.class || plain == long.class || Number.class.isAssignableFrom(plain)) {
      schema.put("type", "integer");
    } else {
      schema.putArray("type").add("string").add("null");
    }
    return schema;
  }
}
