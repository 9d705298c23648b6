package portmerrow;

import java.util.ArrayList;
import java.util.List;
import java.util.SplittableRandom;

/** Runs the harbour, a day at a time. */
final class HarbourOffice {
  /** Vessels that call on one day. */
  static final int CALLS_A_DAY = 40;

  private static final int LINES = 18;

  private final TideBoard tideBoard = new TideBoard();
  private final ChartLibrary charts = new ChartLibrary();
  private final EventLog log = new EventLog();
  private final PilotCache pilots = new PilotCache();
  private final SplittableRandom random = new SplittableRandom(1713);
  private final boolean fixed;
  private int day;
  private int vessels;

  /** With {@code fixed}, vessels that leave are taken off the tide board. */
  HarbourOffice(boolean fixed) {
    this.fixed = fixed;
  }

  synchronized String runDay() {
    day++;
    List<VesselCall> inHarbour = new ArrayList<>();
    int crates = 0;
    for (int i = 0; i < CALLS_A_DAY; i++) {
      VesselCall call = arrive(i % 12);
      inHarbour.add(call);
      crates += call.cargo();
      crates += pilots.lookUp(random.nextInt(PilotCache.PILOTS)).seal().length / 1_200;
      crates += charts.depthAt(i, day) / 100;
      crates += weatherReport().length() / 100_000;
    }
    tideBoard.announce(300 + random.nextInt(200));
    for (VesselCall call : inHarbour) {
      leave(call);
    }
    return "day " + day + ": " + inHarbour.size() + " vessels, " + crates + " crates";
  }

  private VesselCall arrive(int berth) {
    String vessel = "MV Example " + ++vessels;
    Manifest manifest = new Manifest(vessel);
    for (int i = 0; i < LINES; i++) {
      manifest.add(new CargoLine("goods " + vessels + "/" + i, 1 + random.nextInt(50), i * 0.5));
    }
    VesselCall call = new VesselCall(vessel, berth, manifest);
    tideBoard.subscribe(call);
    log.note("arrived: " + vessel);
    return call;
  }

  private void leave(VesselCall call) {
    if (fixed) {
      tideBoard.unsubscribe(call);
    }
    log.note("left: " + call.vessel());
  }

  /** Work that leaves nothing behind. */
  private String weatherReport() {
    StringBuilder report = new StringBuilder();
    for (int i = 0; i < 200; i++) {
      report.append("wind ").append(random.nextInt(12)).append("; ");
    }
    return report.toString();
  }

  synchronized String status() {
    return "day " + day + ", " + tideBoard.subscriberCount() + " on the tide board";
  }
}
