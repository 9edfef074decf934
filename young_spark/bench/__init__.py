"""The outside world: instruments, the process that owns them, and the simulated bench."""
