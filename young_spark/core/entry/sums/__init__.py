"""From an expression of figures, multipliers and pads to a reading with its working."""
