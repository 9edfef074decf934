"""A transmitter with faults and the instruments around it. Its physics is its own: it shares no code with the core
that it exists to test."""
