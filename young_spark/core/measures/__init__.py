"""One module a family: from what was read to the figure, with its working and its doubt."""
