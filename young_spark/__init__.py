"""Young Spark: the slip of paper beside a transmitter under test that does the sums."""
