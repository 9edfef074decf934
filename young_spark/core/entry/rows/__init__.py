"""Figures in rows: over channels, bands, units alike, or one of them behind the other."""
