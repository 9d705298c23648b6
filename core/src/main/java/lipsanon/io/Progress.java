package lipsanon.io;

/**
 * Hears how far a long computation is. Calls come often; an implementation looks at the clock
 * itself if it draws. To cancel, it throws a {@link java.util.concurrent.CancellationException}
 * from {@link #at}.
 */
public interface Progress {
  /** Hears nothing. */
  Progress NONE =
      new Progress() {
        @Override
        public void phase(String name, long total) {}

        @Override
        public void at(long done) {}
      };

  /**
   * A new phase begins.
   *
   * @param name what is done, in a few words for the user
   * @param total the count of steps that {@link #at} will run to, or 0 if unknown
   */
  void phase(String name, long total);

  /** So many steps of the phase are done. Called from one thread at a time. */
  void at(long done);
}
