"""Which quantity each figure is, by the names, units and places beside it."""
