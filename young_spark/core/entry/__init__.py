"""What a person types in the one field, and what it means or what is unclear."""

from young_spark.core.entry.understanding import EntryContext, Meaning, Understanding, understand

__all__ = ["EntryContext", "Meaning", "Understanding", "understand"]
