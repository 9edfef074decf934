"""A text cut into its facts, and what they say of where and how each figure was read."""
