package lipsanon.array;

/** A sequence would pass 2^31 - 1 elements. */
public final class TooManyElementsException extends RuntimeException {
  private static final long serialVersionUID = 1L;

  TooManyElementsException() {
    super("more than 2,147,483,647 elements");
  }
}
