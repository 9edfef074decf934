"""The rooms of the core: what each offers stands at its door, and nothing comes in that is not rules."""

import ast
import importlib
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest

from tests.complexity import too_many

ROOT = Path(__file__).resolve().parents[2]
CORE = ROOT / "young_spark" / "core"
ROOMS = sorted(p.parent.name for p in CORE.glob("*/__init__.py"))
LIBRARIES = {"numpy", "pydantic", "spellchecker", "tomlkit"}
NO_RULES = {
    "asyncio",
    "http",
    "multiprocessing",
    "os",
    "shutil",
    "socket",
    "sqlite3",
    "subprocess",
    "threading",
    "time",
}


def imports(file: Path) -> Iterator[tuple[str, str]]:
    """(module, name) of every import of a file, those inside of functions too."""
    for node in ast.walk(ast.parse(file.read_text())):
        if isinstance(node, ast.ImportFrom) and node.module:
            yield from ((node.module, alias.name) for alias in node.names)
        elif isinstance(node, ast.Import):
            yield from ((alias.name, "") for alias in node.names)


@pytest.mark.parametrize("room", ROOMS)
def test_a_room_says_what_it_is_and_offers_what_it_has(room):
    door = importlib.import_module(f"young_spark.core.{room}")
    assert door.__doc__ and len(door.__doc__.splitlines()) == 1
    assert len(door.__all__) == len(set(door.__all__))
    for name in door.__all__:
        assert hasattr(door, name) or importlib.import_module(f"{door.__name__}.{name}")


def test_a_room_is_entered_by_its_door():
    past = []
    for file in sorted((ROOT / "young_spark").rglob("*.py")):
        for module, name in imports(file):
            if not module.startswith("young_spark.core."):
                continue
            room, _, inner = module.removeprefix("young_spark.core.").partition(".")
            if CORE / room in file.parents:
                continue
            offered = importlib.import_module(f"young_spark.core.{room}").__all__
            if (inner or name) not in offered:
                past.append(f"{file.relative_to(ROOT)}: {module} {name}")
    assert past == []


def test_the_core_uses_no_library_but_its_own_and_touches_nothing_outside():
    used = {module.split(".")[0] for file in CORE.rglob("*.py") for module, _ in imports(file)}
    assert used - {"young_spark"} - set(sys.stdlib_module_names) <= LIBRARIES
    assert not used & NO_RULES


@pytest.mark.parametrize("folder", ["young_spark", "tests"])
def test_no_function_has_more_ways_through_it_than_a_reader_follows(folder):
    assert list(too_many(ROOT / folder)) == []
