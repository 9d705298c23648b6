package lipsanon.capture.jvm;

import java.io.IOException;
import java.lang.management.ManagementFactory;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeSet;
import javax.management.InstanceNotFoundException;
import javax.management.JMException;
import javax.management.JMRuntimeException;
import javax.management.MBeanServerConnection;
import javax.management.ObjectName;
import javax.management.openmbean.CompositeData;
import javax.management.remote.JMXConnector;
import javax.management.remote.JMXConnectorFactory;
import javax.management.remote.JMXServiceURL;
import javax.rmi.ssl.SslRMIClientSocketFactory;
import lipsanon.capture.CaptureException;
import lipsanon.capture.CaptureOptions;
import lipsanon.capture.CaptureProgress;
import lipsanon.capture.CaptureResult;
import lipsanon.capture.HeapMeter;
import lipsanon.capture.HeapReading;
import lipsanon.capture.LiveRuntime;
import lipsanon.capture.RuntimeInfo;
import lipsanon.capture.TypeCounts;

/**
 * A JVM on another machine, through the management port that its owner has opened. A snapshot is
 * written by that JVM on its own disk.
 */
public final class JmxRuntime implements LiveRuntime, HeapMeter {
  private static final String DIAGNOSTIC = "com.sun.management:type=DiagnosticCommand";
  private static final String HOTSPOT = "com.sun.management:type=HotSpotDiagnostic";
  private static final String POOLS = ManagementFactory.MEMORY_POOL_MXBEAN_DOMAIN_TYPE + ",name=*";
  private static final String COLLECTORS =
      ManagementFactory.GARBAGE_COLLECTOR_MXBEAN_DOMAIN_TYPE + ",name=*";

  private final JmxLogin login;
  private final JMXConnector connector;
  private final MBeanServerConnection server;

  private JmxRuntime(JmxLogin login, JMXConnector connector) throws IOException {
    this.login = login;
    this.connector = connector;
    this.server = connector.getMBeanServerConnection();
  }

  /**
   * Connects.
   *
   * @throws CaptureException with the reason, and what to do
   */
  public static JmxRuntime connect(JmxLogin login) throws CaptureException {
    Map<String, Object> environment = new HashMap<>();
    if (!login.user().isEmpty()) {
      environment.put(JMXConnector.CREDENTIALS, new String[] {login.user(), login.password()});
    }
    if (login.tls()) {
      environment.put("com.sun.jndi.rmi.factory.socket", new SslRMIClientSocketFactory());
    }
    try {
      JMXServiceURL url =
          new JMXServiceURL("service:jmx:rmi:///jndi/rmi://" + login.at() + "/jmxrmi");
      return new JmxRuntime(login, JMXConnectorFactory.connect(url, environment));
    } catch (SecurityException e) {
      throw new CaptureException(
          login.at()
              + (login.user().isEmpty()
                  ? " asks for a user and password: give --user, and the password by"
                      + " LIPSANON_JMX_PASSWORD, --password-file or at the prompt"
                  : " refuses user " + login.user() + " with this password"),
          e);
    } catch (IOException e) {
      throw new CaptureException(
          "no JVM answers at the management port " + login.at() + ": " + reason(e), e);
    }
  }

  private static String reason(IOException e) {
    String all = String.valueOf(e.getMessage());
    for (Throwable cause = e.getCause(); cause != null; cause = cause.getCause()) {
      all += " " + cause.getMessage() + " " + cause.getClass().getSimpleName();
    }
    if (all.contains("SSL") || all.contains("non-JRMP server")) {
      return "it speaks TLS, or does not: give --tls or leave it out; certificates are trusted by"
          + " JAVA_TOOL_OPTIONS=-Djavax.net.ssl.trustStore=FILE";
    }
    if (all.contains("refused")) {
      return "connection refused; is it started with -Dcom.sun.management.jmxremote.port, and does"
          + " -Djava.rmi.server.hostname name an address that can be reached from here?";
    }
    if (all.contains("UnknownHost")) {
      return "the host is not known";
    }
    if (all.contains("ConnectIOException")) {
      return "the connection broke while it was made (has it ended, or is that another port?)";
    }
    return String.valueOf(e.getMessage()).lines().findFirst().orElse("no reason given");
  }

  /** What runs there. */
  public RuntimeInfo info() throws CaptureException {
    String runtime = ManagementFactory.RUNTIME_MXBEAN_NAME;
    HeapReading heap = read();
    String command = "";
    for (Object row :
        ((javax.management.openmbean.TabularData) get(runtime, "SystemProperties")).values()) {
      CompositeData entry = (CompositeData) row;
      if ("sun.java.command".equals(entry.get("key"))) {
        command = String.valueOf(entry.get("value"));
      }
    }
    return new RuntimeInfo(
        login.at(),
        -1,
        RuntimeInfo.JVM,
        String.valueOf(get(runtime, "VmVersion")),
        command.isEmpty() ? login.at() : command.split(" ", 2)[0],
        ((Number) get(runtime, "Uptime")).longValue(),
        heap.usedBytes(),
        heap.maxBytes(),
        "yes",
        "");
  }

  private interface Question {
    Object ask() throws IOException, JMException;
  }

  private Object ask(String what, Question question) throws CaptureException {
    try {
      return question.ask();
    } catch (InstanceNotFoundException e) {
      throw new CaptureException(
          login.at() + " does not offer " + what + " (a runtime image without that module?)", e);
    } catch (JMException | JMRuntimeException e) {
      Throwable cause = e.getCause() == null ? e : e.getCause();
      throw new CaptureException(login.at() + " refused " + what + ": " + cause.getMessage(), e);
    } catch (SecurityException e) {
      throw new CaptureException(
          login.at()
              + " does not let user "
              + login.user()
              + " do this: it takes one who may write",
          e);
    } catch (IOException e) {
      throw new CaptureException(login.at() + " vanished or closed the connection", e);
    }
  }

  private Object get(String bean, String attribute) throws CaptureException {
    return ask(attribute, () -> server.getAttribute(new ObjectName(bean), attribute));
  }

  /** A diagnostic command, such as {@code gcRun}. */
  private String command(String name, String... arguments) throws CaptureException {
    return (String)
        ask(
            "the diagnostic command " + name,
            () ->
                server.invoke(
                    new ObjectName(DIAGNOSTIC),
                    name,
                    new Object[] {arguments},
                    new String[] {String[].class.getName()}));
  }

  @Override
  public HeapReading read() throws CaptureException {
    CompositeData heap =
        (CompositeData) get(ManagementFactory.MEMORY_MXBEAN_NAME, "HeapMemoryUsage");
    long now = System.currentTimeMillis();
    long collections = 0;
    long millis = 0;
    long survived = 0;
    List<HeapReading.Area> areas = new ArrayList<>();
    for (ObjectName name : names(COLLECTORS)) {
      collections += ((Number) get(name.toString(), "CollectionCount")).longValue();
      millis += ((Number) get(name.toString(), "CollectionTime")).longValue();
    }
    for (ObjectName name : names(POOLS)) {
      CompositeData usage = (CompositeData) get(name.toString(), "Usage");
      boolean isHeap = "HEAP".equals(get(name.toString(), "Type"));
      if (usage != null) {
        String area = name.getKeyProperty("name");
        long used = number(usage, "used");
        areas.add(
            new HeapReading.Area(
                area, used, number(usage, "committed"), number(usage, "max"), isHeap));
        survived += isHeap && !area.contains("Eden") ? used : 0;
      }
    }
    return new HeapReading(
        now,
        number(heap, "used"),
        number(heap, "committed"),
        number(heap, "max"),
        collections,
        millis * 1000,
        survived,
        areas);
  }

  private static long number(CompositeData data, String key) {
    return ((Number) data.get(key)).longValue();
  }

  @SuppressWarnings("unchecked")
  private Iterable<ObjectName> names(String pattern) throws CaptureException {
    return (Iterable<ObjectName>)
        ask("its beans", () -> new TreeSet<>(server.queryNames(new ObjectName(pattern), null)));
  }

  @Override
  public TypeCounts count(boolean collect) throws CaptureException {
    long start = System.nanoTime();
    String text = collect ? command("gcClassHistogram") : command("gcClassHistogram", "-all");
    long cost = (System.nanoTime() - start) / 1_000_000;
    return Histogram.parse(text, System.currentTimeMillis(), cost, collect);
  }

  @Override
  public boolean counts() {
    return true;
  }

  /** Between two looks eden is refilled, and pools of regions are not told apart from it. */
  @Override
  public boolean tellsSurvivors() {
    return false;
  }

  @Override
  public long heapUsed() throws CaptureException {
    return read().usedBytes();
  }

  @Override
  public void collect() throws CaptureException {
    command("gcRun");
    command("gcRun");
  }

  @Override
  public long collectOnce() throws CaptureException {
    long start = System.nanoTime();
    command("gcRun");
    return (System.nanoTime() - start) / 1_000_000;
  }

  /** The file is written by the remote JVM, on its own disk: its size is not known here. */
  @Override
  public CaptureResult capture(CaptureOptions options, CaptureProgress progress)
      throws CaptureException {
    Path file = options.file();
    if (!file.isAbsolute()) {
      throw new CaptureException(
          "the snapshot is written on "
              + login.host()
              + ": give the whole path of a file there, with -o /folder/name.hprof");
    }
    long start = System.nanoTime();
    long before = -1;
    long after = -1;
    if (!options.all()) {
      progress.at("collecting garbage", 0, 0);
      before = heapUsed();
      collect();
      after = heapUsed();
    }
    progress.at("writing on " + login.host(), 0, 0);
    ask(
        "the heap dump",
        () ->
            server.invoke(
                new ObjectName(HOTSPOT),
                "dumpHeap",
                new Object[] {file.toString(), !options.all()},
                new String[] {String.class.getName(), boolean.class.getName()}));
    return new CaptureResult(file, -1, (System.nanoTime() - start) / 1_000_000, before, after);
  }

  @Override
  public LiveRuntime runtime() {
    return this;
  }

  @Override
  public void close() {
    try {
      connector.close();
    } catch (IOException e) {
      // it is gone already
      return;
    }
  }
}
