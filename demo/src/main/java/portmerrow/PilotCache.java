package portmerrow;

import java.util.HashMap;
import java.util.Map;

/** Pilots' certificates, looked up once each: fills with all pilots there are, and stops. */
final class PilotCache {
  static final int PILOTS = 400;

  private final Map<Integer, Certificate> certificates = new HashMap<>();

  /** A licence to guide vessels. */
  record Certificate(String pilot, byte[] seal) {}

  Certificate lookUp(int number) {
    return certificates.computeIfAbsent(
        number, n -> new Certificate("Pilot no. " + n, new byte[1_200]));
  }
}
