package portmerrow;

/** Wants to know when the tide changes. */
interface TideListener {
  void tideChanged(int centimetres);
}
