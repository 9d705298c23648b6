package lipsanon.capture;

import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import lipsanon.capture.dotnet.DotnetCapture;
import lipsanon.capture.dotnet.DotnetTargets;
import lipsanon.capture.jvm.JvmCapture;
import lipsanon.capture.jvm.JvmMeter;
import lipsanon.capture.jvm.JvmTargets;
import lipsanon.capture.v8.Inspectors;
import lipsanon.capture.v8.NodeTargets;
import lipsanon.capture.v8.V8Capture;
import lipsanon.capture.v8.V8Meter;

/** All runtimes that can be looked into, of whatever kind. */
public final class Runtimes {
  private Runtimes() {}

  /**
   * The JVMs, Node.js and .NET processes of this machine, by process id, or what a port shows.
   *
   * @param at HOST:PORT of a browser or process started with a debugging port, or null
   */
  public static List<RuntimeInfo> list(String at) throws IOException {
    if (at != null) {
      return Inspectors.list(at);
    }
    List<RuntimeInfo> all = new ArrayList<>(JvmTargets.list());
    all.addAll(NodeTargets.list());
    all.addAll(DotnetTargets.list());
    all.sort(Comparator.comparingLong(RuntimeInfo::pid));
    return all;
  }

  /**
   * The runtime that a user means.
   *
   * @param target a process id or identifier, or a unique part of the command line or address; null
   *     where there is only one
   * @param at as for {@link #list}
   * @param open whether a Node.js process may be made to open its inspector
   * @throws CaptureException if there is none, more than one, or one that cannot be looked into
   */
  public static RuntimeInfo find(String target, String at, boolean open) throws IOException {
    if (at == null && target != null && target.matches("[0-9]{1,9}")) {
      RuntimeInfo only = byPid(Long.parseLong(target));
      if (only != null) {
        return accessible(only, open);
      }
    }
    List<RuntimeInfo> all = list(at);
    List<RuntimeInfo> fitting = new ArrayList<>();
    for (RuntimeInfo info : all) {
      if (target != null && info.id().equals(target)) {
        return accessible(info, open);
      }
      if (target == null ? !info.kind().equals("worker") : line(info).contains(lower(target))) {
        fitting.add(info);
      }
    }
    String wanted = target == null ? "" : " called \"" + target + "\"";
    if (fitting.isEmpty()) {
      throw new CaptureException(
          at == null
              ? "no JVM, Node.js or .NET process has process id or command \""
                  + target
                  + "\"; see `lipsanon runtimes`"
              : "no page or process" + wanted + " is at " + at);
    }
    if (fitting.size() > 1) {
      List<String> each =
          fitting.stream().map(info -> info.id() + " (" + shortened(command(info)) + ")").toList();
      throw new CaptureException(
          (target == null ? at + " shows " : "\"" + target + "\" fits ")
              + fitting.size()
              + " runtimes: give one of "
              + String.join(", ", each));
    }
    return accessible(fitting.get(0), open);
  }

  /** A process by its number: no other one is asked anything. Null if it is no runtime. */
  private static RuntimeInfo byPid(long pid) {
    RuntimeInfo jvm = JvmTargets.look(pid);
    RuntimeInfo node = jvm != null ? jvm : NodeTargets.look(pid);
    return node != null ? node : DotnetTargets.look(pid);
  }

  private static String lower(String text) {
    return text.toLowerCase(Locale.ROOT);
  }

  private static String line(RuntimeInfo info) {
    return lower(info.program() + " " + command(info));
  }

  private static String command(RuntimeInfo info) {
    return info.pid() < 0
        ? info.program()
        : String.join(" ", Processes.command(Path.of("/proc/" + info.pid())));
  }

  /** What tells one command from another stands at its end. */
  private static String shortened(String command) {
    return command.length() > 60 ? "..." + command.substring(command.length() - 57) : command;
  }

  private static RuntimeInfo accessible(RuntimeInfo info, boolean open) throws IOException {
    if (info.access().equals(RuntimeInfo.CLOSED)) {
      if (open) {
        return NodeTargets.open(info);
      }
      throw new CaptureException(
          "the inspector of Node.js process "
              + info.id()
              + " is closed; --open makes it open one (SIGUSR1: a debug port on 127.0.0.1:9229,"
              + " through which any user of this machine can control the process)");
    }
    if (!info.accessible()) {
      throw new CaptureException("process " + info.id() + " is " + info.access());
    }
    return info;
  }

  /** Connects. */
  public static LiveRuntime connect(RuntimeInfo info) throws CaptureException {
    if (info.kind().equals(RuntimeInfo.DOTNET)) {
      return DotnetCapture.connect(info.pid());
    }
    return info.kind().equals(RuntimeInfo.JVM)
        ? JvmCapture.connect(info.pid())
        : V8Capture.connect(info);
  }

  /** Connects in order to look at the heap again and again. */
  public static HeapMeter meter(RuntimeInfo info) throws CaptureException {
    return info.kind().equals(RuntimeInfo.JVM)
        ? JvmMeter.connect(info.pid())
        : V8Meter.connect(info);
  }
}
