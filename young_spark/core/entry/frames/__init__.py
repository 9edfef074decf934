"""What the facts of a text say together, explained by frames; or what must be asked."""
