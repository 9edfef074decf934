"""The whole of a text understood: in one breath, clause by clause, as words, or as a question."""
