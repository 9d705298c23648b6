package leakyard.library;

import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import leakyard.Program;

/**
 * A table of a database in memory: its rows are in the leaves of a tree, none of which has many.
 */
public final class Register implements Program {
  private final Desk desk = new Desk();

  static final class Desk {
    private final PreparedStatement entry;

    Desk() {
      try {
        Connection connection = DriverManager.getConnection("jdbc:h2:mem:register");
        connection.createStatement().execute("create table vessel (id int, name varchar)");
        entry = connection.prepareStatement("insert into vessel values (?, ?)");
      } catch (java.sql.SQLException e) {
        throw new IllegalStateException(e);
      }
    }
  }

  /** Ready to act. */
  public Register() {}

  @Override
  public void act(int number) throws Exception {
    desk.entry.setInt(1, number);
    desk.entry.setString(2, "a vessel with the number " + number + " and a name of some length");
    desk.entry.execute();
  }
}
