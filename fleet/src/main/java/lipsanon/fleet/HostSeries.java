package lipsanon.fleet;

import java.io.IOException;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;

/**
 * What a place retains on one host over time.
 *
 * @param host the host
 * @param build the build that ran there
 * @param times of the snapshots, ISO 8601
 * @param bytes what the place retains in each; 0 where it is not among those that were told
 */
public record HostSeries(String host, String build, List<String> times, List<Long> bytes) {
  private static final String QUESTION =
      """
      WITH fine AS (
        SELECT task, service, build, host, taken FROM snapshots
        WHERE status = 'ok' AND service = ?),
      series AS (
        SELECT f.host, f.build, f.taken, coalesce(h.bytes, 0) AS bytes
        FROM fine f LEFT JOIN holders h ON h.task = f.task AND h.what = ? AND h.held_by = ?),
      most AS (
        SELECT host, build FROM series GROUP BY ALL HAVING count(*) >= 2 AND max(bytes) > 0
        ORDER BY max(bytes) - min(bytes) DESC, host, build LIMIT ?)
      SELECT host, build, strftime(taken, '%Y-%m-%dT%H:%M:%SZ'), bytes
      FROM series JOIN most USING (host, build) ORDER BY host, build, taken
      """;

  /**
   * The hosts on which a place changed most.
   *
   * @param limit hosts and builds at most
   */
  public static List<HostSeries> of(FleetTables tables, FleetAnswer.Growing place, int limit)
      throws SQLException, IOException {
    List<HostSeries> all = new ArrayList<>();
    try (PreparedStatement statement = tables.connection().prepareStatement(QUESTION)) {
      statement.setString(1, place.service());
      statement.setString(2, place.what());
      statement.setString(3, place.heldBy());
      statement.setInt(4, limit);
      try (ResultSet rows = statement.executeQuery()) {
        while (rows.next()) {
          String host = rows.getString(1);
          String build = rows.getString(2);
          HostSeries last = all.isEmpty() ? null : all.get(all.size() - 1);
          if (last == null || !last.host().equals(host) || !last.build().equals(build)) {
            last = new HostSeries(host, build, new ArrayList<>(), new ArrayList<>());
            all.add(last);
          }
          last.times().add(rows.getString(3));
          last.bytes().add(rows.getLong(4));
        }
      }
    }
    return all;
  }
}
