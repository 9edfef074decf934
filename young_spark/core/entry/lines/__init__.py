"""Lines of words: found, did, turned; and what can be told apart in them."""
