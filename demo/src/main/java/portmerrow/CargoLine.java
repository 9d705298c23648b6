package portmerrow;

/** One line of a cargo manifest. */
record CargoLine(String goods, int crates, double tonnes) {}
