package portmerrow;

/** A vessel's stay in the harbour. */
final class VesselCall implements TideListener {
  private final String vessel;
  private final int berth;
  private final Manifest manifest;
  private int waterAtBerth;

  VesselCall(String vessel, int berth, Manifest manifest) {
    this.vessel = vessel;
    this.berth = berth;
    this.manifest = manifest;
  }

  @Override
  public void tideChanged(int centimetres) {
    waterAtBerth = centimetres - 10 * berth;
  }

  String vessel() {
    return vessel;
  }

  int cargo() {
    return manifest.lineCount() + Math.max(0, waterAtBerth) / 100_000;
  }
}
