package leakyard.library;

import leakyard.Program;
import org.apache.commons.pool2.BasePooledObjectFactory;
import org.apache.commons.pool2.PooledObject;
import org.apache.commons.pool2.impl.DefaultPooledObject;
import org.apache.commons.pool2.impl.GenericObjectPool;
import org.apache.commons.pool2.impl.GenericObjectPoolConfig;

/** Objects that are borrowed from a pool and never given back. */
public final class Launches implements Program {
  /** Ready to act. */
  public Launches() {}

  private static final Pier PIER = new Pier();

  static final class Pier {
    private GenericObjectPool<Launch> launches = pool();
  }

  private static GenericObjectPool<Launch> pool() {
    GenericObjectPoolConfig<Launch> config = new GenericObjectPoolConfig<>();
    config.setJmxEnabled(false);
    GenericObjectPool<Launch> pool = new GenericObjectPool<>(new Yard(), config);
    pool.setMaxTotal(-1);
    return pool;
  }

  static final class Launch {
    final byte[] tank = new byte[1500];
  }

  static final class Yard extends BasePooledObjectFactory<Launch> {
    @Override
    public Launch create() {
      return new Launch();
    }

    @Override
    public PooledObject<Launch> wrap(Launch launch) {
      return new DefaultPooledObject<>(launch);
    }
  }

  @Override
  public void act(int number) throws Exception {
    Launch used = PIER.launches.borrowObject();
    used.tank[0]++;
    PIER.launches.returnObject(used);
    PIER.launches.borrowObject();
  }

  @Override
  public void release() {
    PIER.launches = pool();
  }
}
