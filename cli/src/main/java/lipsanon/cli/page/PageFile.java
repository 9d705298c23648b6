package lipsanon.cli.page;

import java.io.IOException;
import java.io.InputStream;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.io.Writer;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.Base64;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import lipsanon.cli.term.JsonAnswers;

/**
 * Writes a report page as one HTML file. What comes from the heap is in it as JSON only, in a block
 * that no browser runs, with every sign escaped that could end the block; the page's script gives
 * it to the browser as text, never as markup. A content security policy allows the page's own two
 * scripts by their hashes and nothing else.
 */
public final class PageFile {
  private static final String CHARTS =
      "/META-INF/resources/webjars/echarts/5.3.1/dist/echarts.min.js";
  private static final Pattern SLOT = Pattern.compile("\\$\\{([a-z]+)\\}");

  private PageFile() {}

  /** Writes a page. */
  public static void write(Writer out, PageData data) throws IOException {
    String style = text("page.css");
    String script = text("page.js");
    String charts = resource(CHARTS);
    String policy =
        "default-src 'none'; script-src "
            + hash(charts)
            + " "
            + hash(script)
            + "; style-src "
            + hash(style)
            + "; img-src data:; base-uri 'none'; form-action 'none'"
            + (data.live() ? "; connect-src 'self'" : "");
    Map<String, String> parts =
        Map.of(
            "policy", policy,
            "title", escaped(data.title()),
            "style", style,
            "data", json(data),
            "charts", charts,
            "script", script);
    String template = text("page.html");
    Matcher slots = SLOT.matcher(template);
    int at = 0;
    while (slots.find()) {
      out.write(template, at, slots.start() - at);
      out.write(parts.get(slots.group(1)));
      at = slots.end();
    }
    out.write(template, at, template.length() - at);
  }

  /** The data, so that it can stand in a page. */
  static String json(PageData data) throws IOException {
    StringWriter json = new StringWriter();
    PrintWriter out = new PrintWriter(json);
    JsonAnswers.line(out, data);
    out.flush();
    return json.toString()
        .strip()
        .replace("<", "\\u003c")
        .replace(">", "\\u003e")
        .replace("&", "\\u0026")
        .replace("\u2028", "\\u2028")
        .replace("\u2029", "\\u2029");
  }

  private static String escaped(String text) {
    return text.replace("&", "&amp;")
        .replace("<", "&lt;")
        .replace(">", "&gt;")
        .replace("\"", "&quot;");
  }

  private static String text(String name) throws IOException {
    return resource("/lipsanon/cli/page/" + name);
  }

  private static String resource(String path) throws IOException {
    try (InputStream in = PageFile.class.getResourceAsStream(path)) {
      if (in == null) {
        throw new IllegalStateException(path + " is not in the program");
      }
      return new String(in.readAllBytes(), StandardCharsets.UTF_8);
    }
  }

  private static String hash(String script) {
    try {
      byte[] digest =
          MessageDigest.getInstance("SHA-256").digest(script.getBytes(StandardCharsets.UTF_8));
      return "'sha256-" + Base64.getEncoder().encodeToString(digest) + "'";
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException(e);
    }
  }
}
