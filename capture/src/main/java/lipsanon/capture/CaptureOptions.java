package lipsanon.capture;

import java.nio.file.Path;

/**
 * How to take a snapshot.
 *
 * @param file where it goes
 * @param all keep garbage: no collection before
 * @param force overwrite a file that is there
 * @param numbers record the values of numbers too, where the runtime leaves them out otherwise
 */
public record CaptureOptions(Path file, boolean all, boolean force, boolean numbers) {}
