package leakyard;

import java.util.BitSet;
import java.util.Date;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicLong;

/**
 * Several tables of one kind that hang on the same object, since another has each of them as a
 * monitor; one of them has all sorts of things, of which one sort grows.
 */
public final class Counters implements Program {
  /** Ready to act. */
  public Counters() {}

  static final class Manifest {
    final byte[] pages = new byte[900];
  }

  private static final class Office {
    final Map<String, Object> services = new ConcurrentHashMap<>();
    final Map<String, Object> berths = new ConcurrentHashMap<>();
    final Map<String, Object> rates = new ConcurrentHashMap<>();
  }

  private record Guard(Object services, Object berths, Object rates) {}

  private record Hall(Office office, Guard guard) {}

  private static final Hall HALL = hall();

  private static Hall hall() {
    Office office = new Office();
    for (int i = 0; i < 100; i++) {
      office.services.put("count " + i, new AtomicLong(i));
      office.services.put("opened " + i, new Date(i));
      office.services.put("days " + i, new BitSet(300));
      for (int k = 0; k < 6; k++) {
        office.berths.put("berth " + i + " " + k, new int[40]);
        office.rates.put("rate " + i + " " + k, new double[20]);
      }
    }
    return new Hall(office, new Guard(office.services, office.berths, office.rates));
  }

  @Override
  public void act(int number) {
    Program.churn(number);
    HALL.office().services.put("manifest " + number, new Manifest());
  }
}
