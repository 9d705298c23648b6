package lipsanon.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.BufferedReader;
import java.io.InputStreamReader;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.concurrent.TimeUnit;
import lipsanon.cli.page.PageData;
import lipsanon.cli.page.PageFile;
import lipsanon.fleet.FleetAnswer;
import lipsanon.fleet.HostSeries;
import lipsanon.origin.OriginsAnswer;
import lipsanon.question.SavingsAnswer;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Report pages, in a real browser. */
class ReportTest {
  @TempDir static Path folder;

  @BeforeAll
  static void snapshot() throws Exception {
    Path file = folder.resolve("office.hprof");
    try (Harbour office = new Harbour()) {
      HttpClient.newHttpClient()
          .send(
              HttpRequest.newBuilder(URI.create(office.url + "days/20")).build(),
              HttpResponse.BodyHandlers.discarding());
      Tool.Result taken = Tool.run(folder, "capture", office.pid(), "-o", file.toString());
      assertThat(taken.code()).as(taken.both()).isZero();
    }
  }

  private static void report(String... args) throws Exception {
    List<String> all = new ArrayList<>(List.of("report"));
    all.addAll(List.of(args));
    Tool.Result result = Tool.run(folder, all.toArray(String[]::new));
    assertThat(result.code()).as(result.both()).isZero();
  }

  /** A picture for who looks at it: -Dlipsanon.pictures=FOLDER. */
  private static void picture(ChromePage page, String name) throws Exception {
    String into = System.getProperty("lipsanon.pictures");
    if (into != null) {
      Files.write(Path.of(into, name + ".png"), page.picture());
    }
  }

  private static ChromePage open(String name, String file) throws Exception {
    ChromePage page =
        new ChromePage(folder.resolve("profile-" + name), folder.resolve(file).toUri().toString());
    page.until("document.documentElement.dataset.ready === '1'");
    return page;
  }

  @Test
  void onePageOfASnapshot() throws Exception {
    report("office.hprof", "-o", "office.html");
    long bytes = Files.size(folder.resolve("office.html"));
    assertThat(bytes).isBetween(1_000_000L, 3_000_000L);
    assertThat(Files.getPosixFilePermissions(folder.resolve("office.html"))).hasSize(2);
    String text = Files.readString(folder.resolve("office.html"));
    assertThat(text).doesNotContain("src=\"http").doesNotContain("unsafe-");
    try (ChromePage page = open("one", "office.html")) {
      assertThat(page.eval("document.title").asText()).isEqualTo("Memory of office");
      assertThat(page.eval("document.querySelectorAll('nav.top a').length").asInt())
          .isGreaterThan(4);
      picture(page, "report");
      zoomsAndComesBack(page);
      sortsAndFilters(page);
      byKeysAlone(page);
      prints(page);
      assertThat(page.errors).isEmpty();
    }
    Tool.Result again = Tool.run(folder, "report", "office.hprof", "-o", "office.html");
    assertThat(again.code()).isEqualTo(ExitCodes.USAGE);
  }

  private static void zoomsAndComesBack(ChromePage page) throws Exception {
    page.eval("document.getElementById('keepers').scrollIntoView()");
    page.until("document.querySelector('#keepers canvas')");
    String first =
        page.eval("document.querySelector('#keepers .level button').textContent").asText();
    // the largest rectangle begins at the top on the left
    JsonNode box =
        page.eval(
            "(r => [r.left, r.top])(document.querySelector('#keepers canvas').getBoundingClientRect())");
    page.click(box.get(0).asDouble() + 40, box.get(1).asDouble() + 12);
    page.until("/^#keepers-\\d+$/.test(location.hash)");
    page.until("document.querySelectorAll('#keepers .trail button').length >= 2");
    assertThat(page.eval("document.querySelector('#keepers .panel').textContent").asText())
        .contains("retained")
        .contains("lipsanon show office.hprof");
    picture(page, "report-keepers");
    page.eval("history.back()");
    page.until("document.querySelectorAll('#keepers .trail button').length === 1");
    assertThat(page.eval("document.querySelector('#keepers .level button').textContent").asText())
        .isEqualTo(first);
  }

  private static void sortsAndFilters(ChromePage page) throws Exception {
    page.eval("document.getElementById('types').scrollIntoView()");
    assertThat(page.eval("document.querySelectorAll('#types tbody tr').length").asInt())
        .isLessThan(80);
    page.eval("document.querySelectorAll('#types th button')[0].click()");
    assertThat(page.eval("document.querySelectorAll('#types th')[0].ariaSort").asText())
        .isEqualTo("descending");
    page.eval("document.querySelectorAll('#types th button')[3].click()");
    assertThat(
            page.eval("document.querySelector('#types tbody td:last-child').textContent").asText())
        .isEqualTo(
            page.eval(
                    "[...JSON.parse(document.getElementById('data').textContent).types.names].sort()[0]")
                .asText());
    page.eval(
        "(f => { f.value = 'java.lang.Thr'; f.dispatchEvent(new Event('input')); })(document.getElementById('filter'))");
    assertThat(
            page.eval(
                    "[...document.querySelectorAll('#types tbody td:last-child')].every(c => c.textContent.includes('java.lang.Thr'))")
                .asBoolean())
        .isTrue();
    assertThat(page.eval("document.getElementById('total').textContent").asText()).contains(" of ");
    picture(page, "report-types");
  }

  /** Tab reaches a level's first object, Enter opens it, and the trail leads out again. */
  private static void byKeysAlone(ChromePage page) throws Exception {
    page.eval("document.querySelector('nav.top a').focus()");
    boolean[] reached = new boolean[3];
    for (int i = 0; i < 80 && !(reached[0] && reached[1] && reached[2]); i++) {
      page.key("Tab", 9);
      String where =
          page.eval(
                  "(e => (e.closest('section') || {id: 'top'}).id + ' ' + e.className + ' ' + e.id + ' ' + (e.dataset.place || ''))(document.activeElement)")
              .asText();
      if (where.matches("keepers .*\\d+") && !reached[0]) {
        reached[0] = true;
        page.key("Enter", 13);
        page.until("document.querySelectorAll('#keepers .trail button').length >= 2");
        page.eval("document.querySelector('#keepers .trail button').focus()");
        page.key("Enter", 13);
        page.until("document.querySelectorAll('#keepers .trail button').length === 1");
        page.eval(
            "document.querySelector('#keepers .level li:last-child button, #keepers .level button').focus()");
        page.eval("[...document.querySelectorAll('#keepers .level button')].pop().focus()");
      }
      reached[1] |= where.startsWith("types") && where.contains("filter");
      reached[2] |= where.startsWith("types rows");
    }
    assertThat(reached).containsOnly(true);
  }

  private static void prints(ChromePage page) throws Exception {
    String pdf =
        page.ask("Page.printToPDF", java.util.Map.of("printBackground", true)).get("data").asText();
    assertThat(pdf.length()).isGreaterThan(20_000);
    String into = System.getProperty("lipsanon.pictures");
    if (into != null) {
      Files.write(Path.of(into, "report.pdf"), java.util.Base64.getDecoder().decode(pdf));
    }
  }

  private static PageData.Fleet hostileFleet(String evil) {
    return new PageData.Fleet(
        new FleetAnswer(
            evil,
            3,
            1,
            1,
            1,
            1,
            100,
            10,
            1,
            evil,
            List.of(
                new FleetAnswer.Growing(
                    evil,
                    evil,
                    evil,
                    true,
                    1,
                    1,
                    1,
                    evil,
                    true,
                    List.of(evil),
                    1,
                    10,
                    3,
                    30,
                    evil,
                    evil)),
            List.of(new FleetAnswer.Everywhere(evil, evil, evil, 1, 1, 3, 30, 0.3)),
            List.of(new FleetAnswer.Outlier(evil, evil, evil, 30, 10, 3, evil)),
            new FleetAnswer.OpenFirst(evil, evil),
            List.of(new FleetAnswer.Failure(evil, evil, evil, evil))),
        List.of(
            new HostSeries(
                evil,
                evil,
                List.of("2026-11-20T10:00:00Z", "2026-11-21T10:00:00Z"),
                List.of(10L, 20L))));
  }

  /** What is in the heap must never run, whatever it is called. */
  @Test
  void hostileTextsStayTexts() throws Exception {
    String evil =
        "</script><script>window.owned=1</script><img src=x onerror=window.owned=2>\u2028${data}";
    List<String> names = new ArrayList<>(Collections.nCopies(20_000, ""));
    names.replaceAll(name -> "Type" + names.size());
    for (int i = 0; i < names.size(); i++) {
      names.set(i, "hostile." + (i % 100 == 0 ? evil : "Type") + i);
    }
    List<Long> numbers = new ArrayList<>();
    List<Boolean> own = new ArrayList<>();
    for (int i = 0; i < names.size(); i++) {
      numbers.add((long) i * 997 % 100_003);
      own.add(i % 3 == 0);
    }
    PageData data =
        new PageData(
            evil,
            evil,
            false,
            null,
            null,
            new lipsanon.question.KeeperTree(
                1000,
                1,
                List.of(
                    new lipsanon.question.KeeperTree.Node(
                        -1, evil, evil, evil, evil, evil, 10, 900))),
            null,
            new PageData.Types(names, numbers, numbers, numbers, own, true),
            List.of(),
            List.of(
                new PageData.Origins(
                    evil,
                    evil,
                    evil,
                    true,
                    List.of(new OriginsAnswer.FunctionRow(evil, evil, 1, 1, 5, 50, 0, 0, 0.5)),
                    List.of(
                        new OriginsAnswer.StackRow(0, evil, 5, 50, 1),
                        new OriginsAnswer.StackRow(1, evil, 5, 50, 1)))),
            List.of(
                new PageData.Watched(
                    evil,
                    evil,
                    List.of(List.of(0.0, 10.0), List.of(1.0, 20.0)),
                    List.of(List.of(0.5, 5.0)))),
            List.of(hostileFleet(evil)),
            new SavingsAnswer(
                null,
                List.of(
                    new SavingsAnswer.Kind(
                        evil,
                        1,
                        1,
                        evil,
                        evil,
                        List.of(new SavingsAnswer.Place(evil, 1, 1, evil)),
                        0,
                        List.of(new SavingsAnswer.Common(evil, 2, 1))))),
            new PageData.Made(
                evil, evil, List.of(new PageData.Source(evil, 1, evil)), List.of(evil)));
    Path file = folder.resolve("hostile.html");
    try (java.io.Writer out = Files.newBufferedWriter(file)) {
      PageFile.write(out, data);
    }
    try (ChromePage page = open("hostile", "hostile.html")) {
      page.eval("document.getElementById('keepers').scrollIntoView()");
      page.until("document.querySelector('#keepers canvas')");
      page.eval("location.hash = 'keepers-0'");
      page.until("document.querySelectorAll('#keepers .trail button').length === 2");
      for (String part : List.of("origins0", "watched0", "grows0")) {
        page.eval("document.getElementById('" + part + "').scrollIntoView()");
        page.until("document.querySelector('#" + part + " canvas')");
      }
      // 20,000 types: a sort and a scroll to the end stay below what is noticed as a wait
      assertThat(
              page.eval(
                      "(() => { const start = performance.now();"
                          + " document.querySelectorAll('#types th button')[0].click();"
                          + " const box = document.querySelector('#types .rows'); box.scrollTop = 1e9;"
                          + " box.dispatchEvent(new Event('scroll')); return performance.now() - start; })()")
                  .asDouble())
          .isLessThan(2_000);
      assertThat(page.eval("document.querySelectorAll('#types tbody tr').length").asInt())
          .isLessThan(80);
      assertThat(page.eval("typeof window.owned").asText()).isEqualTo("undefined");
      assertThat(page.eval("document.querySelectorAll('img, iframe, object').length").asInt())
          .isZero();
      assertThat(page.eval("document.scripts.length").asInt()).isEqualTo(3);
      assertThat(page.eval("document.title").asText()).contains("</script>");
      assertThat(page.errors).isEmpty();
      // and the policy holds: a script that somebody adds does not run
      page.eval(
          "document.body.append(Object.assign(document.createElement('script'), {textContent: 'window.owned=3'}))");
      assertThat(page.eval("typeof window.owned").asText()).isEqualTo("undefined");
    }
  }

  @Test
  void servedPagesAskAndNobodyElseDoes() throws Exception {
    Process process =
        Pty.builder(folder, Pty.command("report", "office.hprof", "--serve"))
            .redirectError(ProcessBuilder.Redirect.DISCARD)
            .start();
    try (BufferedReader out = new BufferedReader(new InputStreamReader(process.getInputStream()))) {
      String url = out.readLine();
      assertThat(url).matches("http://127\\.0\\.0\\.1:\\d+/[0-9a-f]{48}/");
      HttpClient client = HttpClient.newHttpClient();
      URI root = URI.create(url.replaceAll("/[0-9a-f]{48}/", "/"));
      assertThat(code(client, HttpRequest.newBuilder(root).build())).isEqualTo(404);
      assertThat(code(client, HttpRequest.newBuilder(URI.create(url + "show?id=../x")).build()))
          .isEqualTo(404);
      assertThat(
              code(
                  client,
                  HttpRequest.newBuilder(URI.create(url))
                      .POST(HttpRequest.BodyPublishers.noBody())
                      .build()))
          .isEqualTo(403);
      try (ChromePage page = new ChromePage(folder.resolve("profile-live"), url)) {
        page.until("document.documentElement.dataset.ready === '1'");
        page.eval("location.hash = 'keepers-0'");
        page.until("document.querySelectorAll('[data-ask]').length >= 4");
        page.eval("document.querySelector('.panel').scrollIntoView()");
        for (String what : List.of("show", "why", "keepers", "refs")) {
          page.eval("document.querySelector('[data-ask=" + what + "]').click()");
          page.until("document.querySelector('.panel .plain, .panel .warning')");
          assertThat(page.eval("document.querySelectorAll('.panel .warning').length").asInt())
              .as(what)
              .isZero();
        }
        picture(page, "report-live");
        page.eval("document.getElementById('types').scrollIntoView()");
        page.until("document.querySelector('[data-type]')");
        page.eval("document.querySelector('[data-type]').click()");
        page.until("document.querySelector('#types .panel .plain tbody tr')");
        assertThat(page.errors).isEmpty();
      }
      process.destroy();
      assertThat(process.waitFor(20, TimeUnit.SECONDS)).isTrue();
    } finally {
      process.destroyForcibly();
    }
  }

  private static int code(HttpClient client, HttpRequest request) throws Exception {
    return client.send(request, HttpResponse.BodyHandlers.discarding()).statusCode();
  }
}
