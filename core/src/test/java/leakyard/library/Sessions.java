package leakyard.library;

import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.sql.Statement;
import leakyard.Program;

/** Rows of a table in memory that nobody deletes. */
public final class Sessions implements Program {
  /** Ready to act. */
  public Sessions() {}

  private static final Office OFFICE = new Office();

  static final class Office {
    private final Connection archive;

    Office() {
      try {
        archive = DriverManager.getConnection("jdbc:h2:mem:harbour");
        try (Statement statement = archive.createStatement()) {
          statement.execute("CREATE TABLE calls(number INT, remark VARCHAR(1000))");
        }
      } catch (SQLException e) {
        throw new IllegalStateException(e);
      }
    }
  }

  @Override
  public void act(int number) throws Exception {
    try (PreparedStatement insert =
        OFFICE.archive.prepareStatement("INSERT INTO calls VALUES (?, ?)")) {
      for (int i = 0; i < 5; i++) {
        insert.setInt(1, number);
        insert.setString(2, "remark ".repeat(30) + number + i);
        insert.executeUpdate();
      }
    }
  }

  @Override
  public void release() throws Exception {
    try (Statement statement = OFFICE.archive.createStatement()) {
      statement.execute("DROP TABLE calls");
    }
    OFFICE.archive.close();
  }
}
