package portmerrow;

import java.util.ArrayList;
import java.util.List;

/** What a vessel has aboard. */
final class Manifest {
  private final String vessel;
  private final List<CargoLine> lines = new ArrayList<>();

  Manifest(String vessel) {
    this.vessel = vessel;
  }

  void add(CargoLine line) {
    lines.add(line);
  }

  String vessel() {
    return vessel;
  }

  int lineCount() {
    return lines.size();
  }
}
