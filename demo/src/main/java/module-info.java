/** The Port Merrow programs, which grow on purpose. */
module lipsanon.demo {
  requires jdk.httpserver;

  exports portmerrow;
}
