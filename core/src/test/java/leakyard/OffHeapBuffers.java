package leakyard;

import java.nio.ByteBuffer;
import java.util.ArrayList;
import java.util.List;

/** Buffers outside the heap: what stands for them inside is small, and in two lists. */
public final class OffHeapBuffers implements Program {
  /** Ready to act. */
  public OffHeapBuffers() {}

  private static final List<ByteBuffer> BUFFERS = new ArrayList<>();

  @Override
  public void act(int number) {
    for (int i = 0; i < 20; i++) {
      BUFFERS.add(ByteBuffer.allocateDirect(256));
    }
  }
}
