"""How many ways lead through a function: one, and one more for each decision in it.

Decisions are branches, loops, handlers, cases, conditions of comprehensions, and each boolean operator: `a and b or c`
is two of them, which the usual count (McCabe) leaves out."""

import ast
from collections.abc import Iterator
from pathlib import Path

BRANCHES = (ast.If, ast.IfExp, ast.For, ast.AsyncFor, ast.While, ast.ExceptHandler, ast.match_case)
GREATEST = 15


def ways_through(function: ast.FunctionDef | ast.AsyncFunctionDef) -> int:
    """The count for one function, with the functions inside of it."""
    found = 1
    for node in ast.walk(function):
        if isinstance(node, BRANCHES):
            found += 1
        elif isinstance(node, ast.BoolOp):
            found += len(node.values) - 1
        elif isinstance(node, ast.comprehension):
            found += len(node.ifs)
    return found


def too_many(folder: Path) -> Iterator[str]:
    """Every function below a folder that has more ways than are allowed."""
    for file in sorted(folder.rglob("*.py")):
        for node in ast.walk(ast.parse(file.read_text())):
            if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef) and (ways := ways_through(node)) > GREATEST:
                yield f"{file.relative_to(folder)}: {node.name} has {ways}"
