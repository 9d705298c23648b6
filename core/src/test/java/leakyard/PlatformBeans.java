package leakyard;

import java.lang.management.ManagementFactory;
import javax.management.ObjectName;

/** Objects that are registered with the platform and never taken back. */
public final class PlatformBeans implements Program {
  /** Ready to act. */
  public PlatformBeans() {}

  /** What can be asked of a buoy. */
  public interface BuoyMBean {
    /** Its number. */
    int getNumber();
  }

  /** One of them. */
  public static final class Buoy implements BuoyMBean {
    private final byte[] log = new byte[300];
    private final int number;

    Buoy(int number) {
      this.number = number;
    }

    @Override
    public int getNumber() {
      return number + log[0];
    }
  }

  @Override
  public void act(int number) throws Exception {
    ManagementFactory.getPlatformMBeanServer()
        .registerMBean(new Buoy(number), new ObjectName("leakyard:type=Buoy,number=" + number));
  }
}
