package lipsanon.fleet;

import java.io.IOException;
import java.sql.Array;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import lipsanon.label.Labels;

/**
 * What grows on how many hosts, since which build, and where to look first. The engine makes one
 * series of each place on each host and build; each is judged like the growth of a single series.
 */
public final class FleetQuestion {
  /** One series a row: the place on a host, over the snapshots of one build that succeeded. */
  private static final String SERIES =
      """
      WITH fine AS (
        SELECT task, service, build, host, taken, file FROM snapshots WHERE status = 'ok'),
      shots AS (
        SELECT service, build, host, count(*) AS shots FROM fine GROUP BY ALL HAVING count(*) >= 2),
      places AS (
        SELECT service, build, host, what, held_by, bool_or(own) AS own
        FROM holders JOIN shots USING (service, build, host) GROUP BY ALL)
      SELECT p.service, p.build, p.host, p.what, p.held_by, any_value(p.own),
        list(coalesce(h.count, 0) ORDER BY f.taken, f.file),
        list(coalesce(h.bytes, 0) ORDER BY f.taken, f.file),
        arg_max(f.file, coalesce(h.bytes, 0))
      FROM places p
      JOIN fine f USING (service, build, host)
      LEFT JOIN holders h ON h.task = f.task AND h.what = p.what AND h.held_by = p.held_by
      GROUP BY ALL ORDER BY p.service, p.what, p.held_by, p.build, p.host
      """;

  private static final String EVERYWHERE =
      """
      WITH latest AS (
        SELECT * FROM snapshots WHERE status = 'ok'
        QUALIFY row_number() OVER (PARTITION BY service, host ORDER BY taken DESC, file) = 1),
      hosts AS (SELECT service, count(*) AS hosts FROM latest GROUP BY ALL)
      SELECT l.service, h.what, h.held_by, count(DISTINCT l.host) AS with_it, any_value(s.hosts),
        median(h.count)::BIGINT, median(h.bytes)::BIGINT AS much,
        median(h.bytes / greatest(1, l.retained_bytes)) AS share
      FROM latest l JOIN holders h USING (task) JOIN hosts s ON s.service = l.service
      WHERE h.own
      GROUP BY ALL HAVING share >= 0.1
      ORDER BY with_it DESC, much DESC LIMIT ?
      """;

  private static final String OUTLIERS =
      """
      WITH latest AS (
        SELECT * FROM snapshots WHERE status = 'ok'
        QUALIFY row_number() OVER (PARTITION BY service, host ORDER BY taken DESC, file) = 1),
      usual AS (
        SELECT service, median(retained_bytes) AS usual FROM latest GROUP BY ALL
        HAVING count(*) >= 3)
      SELECT l.service, l.build, l.host, l.retained_bytes, u.usual::BIGINT,
        l.retained_bytes / u.usual AS times, l.file
      FROM latest l JOIN usual u USING (service)
      WHERE l.retained_bytes >= 2 * u.usual AND u.usual > 0
      ORDER BY times DESC LIMIT ?
      """;

  private final Connection connection;
  private final int limit;

  /** Builds of a service, in the order in which they were first seen. */
  private final Map<String, List<String>> builds = new HashMap<>();

  /** By service: hosts that can tell of growth; by service and build as well. */
  private final Map<String, Long> watched = new HashMap<>();

  private final Set<String> watchedBuilds = new HashSet<>();

  private FleetQuestion(Connection connection, int limit) {
    this.connection = connection;
    this.limit = limit;
  }

  /**
   * Answers.
   *
   * @param limit rows at most in each list
   */
  public static FleetAnswer ask(FleetTables tables, int limit) throws SQLException, IOException {
    return new FleetQuestion(tables.connection(), limit).answer(tables.folder().toString());
  }

  private FleetAnswer answer(String folder) throws SQLException {
    builds();
    watched();
    List<FleetAnswer.Growing> growing = growing();
    List<FleetAnswer.Everywhere> everywhere = growing.isEmpty() ? everywhere() : List.of();
    List<FleetAnswer.Outlier> outliers = outliers();
    try (Statement statement = connection.createStatement();
        ResultSet all =
            statement.executeQuery(
                "SELECT count(*) FILTER (status = 'ok'), count(*) FILTER (status = 'failed'),"
                    + " count(DISTINCT service), count(DISTINCT nullif(build, '')),"
                    + " count(DISTINCT service || chr(10) || host),"
                    + " coalesce(sum(file_bytes), 0)::BIGINT,"
                    + " coalesce(sum(row_bytes), 0)::BIGINT,"
                    + " coalesce(sum(cpu_millis), 0)::BIGINT FROM snapshots")) {
      all.next();
      return new FleetAnswer(
          folder,
          all.getLong(1),
          all.getLong(2),
          all.getLong(3),
          all.getLong(4),
          all.getLong(5),
          all.getLong(6),
          all.getLong(7),
          all.getLong(8),
          sentence(growing, everywhere),
          growing,
          everywhere,
          outliers,
          first(growing, outliers),
          failures());
    }
  }

  private void builds() throws SQLException {
    try (Statement statement = connection.createStatement();
        ResultSet rows =
            statement.executeQuery(
                "SELECT service, build, min(taken) FROM snapshots WHERE status = 'ok'"
                    + " GROUP BY ALL ORDER BY 1, 3, 2")) {
      while (rows.next()) {
        builds.computeIfAbsent(rows.getString(1), key -> new ArrayList<>()).add(rows.getString(2));
      }
    }
  }

  private void watched() throws SQLException {
    try (Statement statement = connection.createStatement();
        ResultSet rows =
            statement.executeQuery(
                "SELECT service, build, host, count(*) FROM snapshots WHERE status = 'ok'"
                    + " GROUP BY ALL")) {
      Set<String> hosts = new HashSet<>();
      while (rows.next()) {
        if (PlaceSeries.tells(rows.getLong(4))) {
          if (hosts.add(rows.getString(1) + "\n" + rows.getString(3))) {
            watched.merge(rows.getString(1), 1L, Long::sum);
          }
          watchedBuilds.add(rows.getString(1) + "\n" + rows.getString(2));
        }
      }
    }
  }

  /** What is known of a place over all hosts of a service. */
  private static final class Place {
    final String service;
    final String what;
    final String heldBy;
    boolean own;
    final Set<String> with = new HashSet<>();
    final Set<String> growing = new HashSet<>();
    final Set<String> builds = new HashSet<>();
    final List<Double> counts = new ArrayList<>();
    final List<Double> bytes = new ArrayList<>();
    long largestCount;
    long largestBytes = -1;
    String largestHost = "";
    String file = "";

    Place(String service, String what, String heldBy) {
      this.service = service;
      this.what = what;
      this.heldBy = heldBy;
    }
  }

  private List<FleetAnswer.Growing> growing() throws SQLException {
    Map<String, Place> places = new LinkedHashMap<>();
    try (Statement statement = connection.createStatement();
        ResultSet rows = statement.executeQuery(SERIES)) {
      while (rows.next()) {
        String service = rows.getString(1);
        String what = rows.getString(4);
        String heldBy = rows.getString(5);
        Place place =
            places.computeIfAbsent(
                service + "\n" + what + "\n" + heldBy, key -> new Place(service, what, heldBy));
        place.own |= rows.getBoolean(6);
        place.with.add(rows.getString(3));
        PlaceSeries series = new PlaceSeries(longs(rows.getArray(7)), longs(rows.getArray(8)));
        if (series.grows()) {
          add(place, series, rows.getString(2), rows.getString(3), rows.getString(9));
        }
      }
    }
    return places.values().stream()
        .filter(place -> !place.growing.isEmpty())
        .sorted(
            Comparator.comparing((Place place) -> !place.own)
                .thenComparing(place -> -place.growing.size() * median(place.bytes)))
        .limit(limit)
        .map(this::told)
        .toList();
  }

  private static void add(Place place, PlaceSeries series, String build, String host, String file) {
    place.growing.add(host);
    place.builds.add(build);
    place.counts.add(series.countPerSnapshot());
    place.bytes.add(series.bytesPerSnapshot());
    long most = Arrays.stream(series.bytes()).max().orElse(0);
    if (most > place.largestBytes) {
      place.largestBytes = most;
      place.largestCount = Arrays.stream(series.counts()).max().orElse(0);
      place.largestHost = host;
      place.file = file;
    }
  }

  private static long[] longs(Array array) throws SQLException {
    Object[] values = (Object[]) array.getArray();
    long[] longs = new long[values.length];
    for (int i = 0; i < longs.length; i++) {
      longs[i] = ((Number) values[i]).longValue();
    }
    return longs;
  }

  private FleetAnswer.Growing told(Place place) {
    List<String> order = builds.getOrDefault(place.service, List.of());
    List<String> on = order.stream().filter(place.builds::contains).toList();
    String since = on.isEmpty() ? "" : on.get(0);
    boolean earlier =
        order.subList(0, Math.max(0, order.indexOf(since))).stream()
            .anyMatch(build -> watchedBuilds.contains(place.service + "\n" + build));
    return new FleetAnswer.Growing(
        place.service,
        place.what,
        place.heldBy,
        place.own,
        place.growing.size(),
        watched.getOrDefault(place.service, 0L),
        place.with.size(),
        since,
        earlier,
        on,
        median(place.counts),
        median(place.bytes),
        place.largestCount,
        place.largestBytes,
        place.largestHost,
        place.file);
  }

  private static double median(List<Double> values) {
    double[] sorted = values.stream().mapToDouble(Double::doubleValue).sorted().toArray();
    int n = sorted.length;
    return n == 0 ? 0 : (sorted[(n - 1) / 2] + sorted[n / 2]) / 2;
  }

  private List<FleetAnswer.Everywhere> everywhere() throws SQLException {
    return list(
        EVERYWHERE,
        rows ->
            new FleetAnswer.Everywhere(
                rows.getString(1),
                rows.getString(2),
                rows.getString(3),
                rows.getLong(4),
                rows.getLong(5),
                rows.getLong(6),
                rows.getLong(7),
                rows.getDouble(8)));
  }

  private List<FleetAnswer.Outlier> outliers() throws SQLException {
    return list(
        OUTLIERS,
        rows ->
            new FleetAnswer.Outlier(
                rows.getString(1),
                rows.getString(2),
                rows.getString(3),
                rows.getLong(4),
                rows.getLong(5),
                rows.getDouble(6),
                rows.getString(7)));
  }

  private List<FleetAnswer.Failure> failures() throws SQLException {
    return list(
        "SELECT file, service, host, problem FROM snapshots WHERE status = 'failed'"
            + " ORDER BY taken DESC, file LIMIT ?",
        rows ->
            new FleetAnswer.Failure(
                rows.getString(1), rows.getString(2), rows.getString(3), rows.getString(4)));
  }

  /** Makes something of a row. */
  private interface Reader<T> {
    T of(ResultSet row) throws SQLException;
  }

  /** The rows of a question whose only parameter is how many. */
  private <T> List<T> list(String question, Reader<T> reader) throws SQLException {
    List<T> found = new ArrayList<>();
    try (PreparedStatement statement = connection.prepareStatement(question)) {
      statement.setInt(1, limit);
      try (ResultSet rows = statement.executeQuery()) {
        while (rows.next()) {
          found.add(reader.of(rows));
        }
      }
    }
    return found;
  }

  private String sentence(
      List<FleetAnswer.Growing> growing, List<FleetAnswer.Everywhere> everywhere) {
    if (!growing.isEmpty()) {
      FleetAnswer.Growing top = growing.get(0);
      return String.format(
          Locale.ROOT,
          "%s grows on %,d of %,d hosts of %s%s: %s more a snapshot, held by %s.",
          top.what(),
          top.hostsGrowing(),
          top.hostsWatched(),
          top.service(),
          since(top),
          Labels.bytes(Math.round(top.bytesPerSnapshot())),
          top.heldBy());
    }
    if (watched.isEmpty()) {
      return "No host has three snapshots of one build: growth cannot be told, only what there is"
          + (everywhere.isEmpty() ? "." : ", largest first.");
    }
    return "Nothing grows steadily on any host.";
  }

  private static String since(FleetAnswer.Growing place) {
    if (place.since().isEmpty()) {
      return "";
    }
    return place.newInSince()
        ? " since build " + place.since()
        : " (from the first build that was watched on, " + place.since() + ")";
  }

  private static FleetAnswer.OpenFirst first(
      List<FleetAnswer.Growing> growing, List<FleetAnswer.Outlier> outliers) {
    if (!growing.isEmpty()) {
      FleetAnswer.Growing top = growing.get(0);
      return new FleetAnswer.OpenFirst(
          top.file(),
          String.format(
              Locale.ROOT,
              "most %s at %s: %,d, %s, on %s",
              top.what(),
              top.heldBy(),
              top.largestCount(),
              Labels.bytes(top.largestBytes()),
              top.largestHost()));
    }
    if (!outliers.isEmpty()) {
      FleetAnswer.Outlier top = outliers.get(0);
      return new FleetAnswer.OpenFirst(
          top.file(),
          String.format(
              Locale.ROOT,
              "%s retains %.1f times the usual of its service",
              top.host(),
              top.times()));
    }
    return null;
  }
}
