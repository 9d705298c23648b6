package leakyard.library;

import com.google.common.eventbus.EventBus;
import com.google.common.eventbus.Subscribe;
import java.util.ArrayList;
import java.util.List;
import leakyard.Program;

/** Subscribers of an event bus that are never taken off. */
public final class Bus implements Program {
  /** Ready to act. */
  public Bus() {}

  private static final Office OFFICE = new Office();

  static final class Office {
    private EventBus tides = new EventBus("tides");
  }

  static final class Pilot {
    final byte[] chart = new byte[900];

    /** Hears a tide. */
    @Subscribe
    public void tide(Integer height) {
      chart[0] = height.byteValue();
    }
  }

  @Override
  public void act(int number) {
    List<String> words = new ArrayList<>();
    words.add("call " + number);
    OFFICE.tides.register(new Pilot());
    OFFICE.tides.post(number + words.size());
  }

  @Override
  public void release() {
    OFFICE.tides = new EventBus("tides");
  }
}
