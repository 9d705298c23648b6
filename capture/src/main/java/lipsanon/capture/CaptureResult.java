package lipsanon.capture;

import java.nio.file.Path;

/**
 * A snapshot that was taken.
 *
 * @param file where it is
 * @param fileBytes its size
 * @param millis how long it took
 * @param heapBeforeBytes heap in use before the collection, or -1 if none was forced
 * @param heapAfterBytes heap in use after it, or -1
 */
public record CaptureResult(
    Path file, long fileBytes, long millis, long heapBeforeBytes, long heapAfterBytes) {}
