"""How a hand writes: its text in one way of writing, with the words of the trade in it."""
