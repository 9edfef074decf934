"""Patterns of the data files: pieces that they share are named once, and stand in braces where they are used."""

from collections.abc import Mapping


def with_pieces(says: str, pieces: Mapping[str, str]) -> str:
    """A pattern with each piece in its place; a piece may stand in those that are named behind it in the file."""
    for name, piece in pieces.items():
        says = says.replace(f"{{{name}}}", piece)
    return says
