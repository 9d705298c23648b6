/** Tests that fail when something piles up in their own VM. */
module lipsanon.junit {
  requires lipsanon.core;
  requires transitive org.junit.jupiter.api;
  requires java.management;
  requires jdk.management;

  exports lipsanon.junit;

  opens lipsanon.junit to
      org.junit.platform.commons;
}
