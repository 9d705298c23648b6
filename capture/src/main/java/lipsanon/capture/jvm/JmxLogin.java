package lipsanon.capture.jvm;

/**
 * How to reach the management port of a remote JVM.
 *
 * @param host its name or address
 * @param port of its management agent
 * @param user name, or "" for none
 * @param password never printed
 * @param tls whether the registry behind the port speaks TLS too
 */
public record JmxLogin(String host, int port, String user, String password, boolean tls) {
  /** From {@code HOST:PORT}. */
  public static JmxLogin of(String at, String user, String password, boolean tls) {
    int colon = at.lastIndexOf(':');
    String port = at.substring(colon + 1);
    if (colon < 1 || !port.matches("[0-9]{1,5}") || Integer.parseInt(port) > 65535) {
      throw new IllegalArgumentException("\"" + at + "\" is no HOST:PORT");
    }
    return new JmxLogin(at.substring(0, colon), Integer.parseInt(port), user, password, tls);
  }

  /** {@code HOST:PORT}. */
  public String at() {
    return host + ":" + port;
  }

  @Override
  public String toString() {
    return at();
  }
}
