package lipsanon.format.hprof;

/**
 * How the VM lays out objects.
 *
 * @param objectHeader bytes before the first field: 8, 12 or 16
 * @param arrayHeader bytes before elements of up to 4 bytes: 12, 16, 20 or 24
 * @param reference bytes of a reference: 4 or 8
 * @param alignment objects begin at multiples of this
 */
record VmLayout(int objectHeader, int arrayHeader, int reference, int alignment) {

  /** Bytes of an array; {@code elementType} as in the dump. */
  long arrayBytes(int elementType, long length) {
    return aligned(arrayBegin(elementType) + length * elementBytes(elementType));
  }

  /** Bytes of an element in memory. */
  int elementBytes(int elementType) {
    return elementType == HprofFormat.OBJECT ? reference : HprofFormat.bytes(elementType, 8);
  }

  /** Where the elements of an array begin. */
  int arrayBegin(int elementType) {
    return elementBytes(elementType) == 8 ? arrayHeader + 7 & -8 : arrayHeader;
  }

  /** A size that ends so. A mask, as it is asked for every array; alignments are powers of two. */
  long aligned(long end) {
    return end + alignment - 1 & -(long) alignment;
  }
}
