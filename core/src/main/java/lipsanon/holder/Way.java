package lipsanon.holder;

import java.util.ArrayList;
import java.util.List;

/** The way of a climb so far: where it is, and what it has passed that may become a name. */
final class Way {
  int at;

  /** What the last step came from; -1 if it was no reference of one object alone. */
  int below = -1;

  String properties = "";
  final List<String> inside = new ArrayList<>();
  Climb.Named foreign;
  boolean foreignIsPart;

  /** How many places inside were passed before it. */
  int belowForeign;

  /** The outermost field of a library above it that alone leads to it, or "". */
  String foreignOf = "";

  /** Whether the way went on where several fields lead, none of them alone. */
  boolean scattered;

  /** Whether a variable of a module, not the user's own, has what is held. */
  boolean ofModule;

  String anchor = "";

  /** Whether the anchor is a static field: it lasts by itself, whoever refers to its class. */
  boolean anchorLasts;

  Climb.Named runtime;
  boolean runtimeIsPart;
  boolean runtimeLasts;
  List<Climb.Named> keyed = List.of();

  /** Where it began. */
  final int first;

  /** The nearest element of a page on the way, or -1. */
  int element = -1;

  /** By which of its properties the way came to the element, as {@link #properties}. */
  String ofElement = "";

  Way(int at) {
    this.at = at;
    this.first = at;
  }
}
