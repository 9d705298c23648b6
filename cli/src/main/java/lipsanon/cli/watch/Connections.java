package lipsanon.cli.watch;

import java.io.IOException;
import java.nio.file.Path;
import lipsanon.capture.CaptureException;
import lipsanon.capture.CheckedCapture;
import lipsanon.capture.CodeFile;
import lipsanon.capture.HeapMeter;
import lipsanon.capture.LiveRuntime;
import lipsanon.capture.RuntimeInfo;
import lipsanon.capture.Runtimes;
import lipsanon.format.nettrace.NettraceNames;
import lipsanon.snapshot.Snapshots;

/** Connects to runtimes; snapshots of a kind that may lack something are looked at. */
public final class Connections {
  private Connections() {}

  /** Connects in order to look at the heap again and again. */
  public static HeapMeter meter(RuntimeInfo info) throws CaptureException {
    return info.kind().equals(RuntimeInfo.DOTNET)
        ? DotnetMeter.connect(info)
        : Runtimes.meter(info);
  }

  /** Connects. */
  public static LiveRuntime to(RuntimeInfo info) throws CaptureException {
    LiveRuntime live = Runtimes.connect(info);
    if (live instanceof CheckedCapture checked) {
      checked.check(new Check());
    }
    return live;
  }

  private static final class Check implements CheckedCapture.SnapshotCheck {
    @Override
    public String missing(Path file) throws IOException {
      return Snapshots.missing(file);
    }

    @Override
    public void complete(Path file, CheckedCapture.LoadedCode code) throws IOException {
      NettraceNames.append(
          file, code.files().stream().map(Assembly::new).toList(), code.packages(), code.own());
    }
  }

  private record Assembly(CodeFile file) implements NettraceNames.Code {
    @Override
    public String name() {
      return file.name();
    }

    @Override
    public byte[] read() throws IOException {
      return file.read();
    }
  }
}
