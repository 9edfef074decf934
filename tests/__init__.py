"""Tests of Young Spark."""

import young_spark  # noqa: F401  (before numpy, as in the program itself: it says how many threads that takes)
