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
    int element = elementType == HprofFormat.OBJECT ? reference : HprofFormat.bytes(elementType, 8);
    long begin = element == 8 ? arrayHeader + 7 & -8 : arrayHeader;
    long end = begin + length * element;
    // a mask, since this runs for every array of a heap; alignments are powers of two
    return end + alignment - 1 & -(long) alignment;
  }
}
