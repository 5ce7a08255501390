"""Who imports whom in the package: files, rooms and the steps of the pipeline, lazy and type-only imports too."""

from __future__ import annotations

import ast
from collections import defaultdict
from collections.abc import Iterable, Mapping
from functools import cache
from pathlib import Path
from typing import NamedTuple

import facetine

ROOT = Path(facetine.__file__).parent


class Import(NamedTuple):
    """One file that imports from another."""

    source: str
    """Its path below the package."""
    target: str
    line: int


@cache
def files() -> tuple[str, ...]:
    """All files of the package, by their paths below it."""
    return tuple(sorted(str(path.relative_to(ROOT)) for path in ROOT.rglob("*.py")))


@cache
def imports() -> tuple[Import, ...]:
    """All imports of one file of the package by another, wherever they stand."""
    known = set(files())
    found = []
    for source in files():
        for node in ast.walk(ast.parse((ROOT / source).read_text("utf-8"))):
            if isinstance(node, ast.ImportFrom) and node.level == 0 and (node.module or "").partition(".")[0] == "facetine":
                base = "/".join(str(node.module).split(".")[1:])
                for name in node.names:
                    target = _file(f"{base}/{name.name}".lstrip("/"), known) or _file(base, known)
                    if target is not None and target != source:
                        found.append(Import(source, target, node.lineno))
            elif isinstance(node, ast.Import):
                for name in node.names:
                    if name.name.partition(".")[0] == "facetine":
                        target = _file("/".join(name.name.split(".")[1:]), known)
                        if target is not None and target != source:
                            found.append(Import(source, target, node.lineno))
    return tuple(found)


def _file(path: str, known: Iterable[str]) -> str | None:
    for one in (f"{path}.py" if path else "__init__.py", f"{path}/__init__.py"):
        if one in known:
            return one
    return None


def room_of(file: str, *, steps: bool = False) -> str:
    """The room in which a file stands; of the pipeline its step where that is asked for."""
    parts = file.split("/")
    if len(parts) == 1:
        return "__init__" if parts[0] == "__init__.py" else parts[0]
    return "/".join(parts[:2]) if steps and parts[0] == "pipeline" and len(parts) > 2 else parts[0]


def arrows(*, steps: bool = False) -> dict[tuple[str, str], list[Import]]:
    """Rooms that import from other rooms, with the imports that do so."""
    found: dict[tuple[str, str], list[Import]] = defaultdict(list)
    for one in imports():
        ends = room_of(one.source, steps=steps), room_of(one.target, steps=steps)
        if ends[0] != ends[1]:
            found[ends].append(one)
    return dict(found)


def circles(graph: Mapping[str, Iterable[str]]) -> list[list[str]]:
    """Groups of which each member is reached from each other one (Tarjan 1972, SIAM J. Comput. 1, 146–160)."""
    number: dict[str, int] = {}
    low: dict[str, int] = {}
    stack: list[str] = []
    found: list[list[str]] = []

    def visit(one: str) -> None:
        number[one] = low[one] = len(number)
        stack.append(one)
        for other in graph.get(one, ()):
            if other not in number:
                visit(other)
                low[one] = min(low[one], low[other])
            elif other in stack:
                low[one] = min(low[one], number[other])
        if low[one] == number[one]:
            members = [stack.pop()]
            while members[-1] != one:
                members.append(stack.pop())
            if len(members) > 1:
                found.append(sorted(members))

    for one in graph:
        if one not in number:
            visit(one)
    return sorted(found)


def circles_of_files() -> list[list[str]]:
    """Files that import each other, directly or by way of others; what a package's own file says of its parts is no way."""
    graph: dict[str, set[str]] = {file: set() for file in files()}
    for one in imports():
        if not one.target.endswith("__init__.py"):
            graph[one.source].add(one.target)
    return circles(graph)


def circles_of_rooms(*, steps: bool = False) -> list[list[str]]:
    """Rooms that import each other."""
    graph: dict[str, set[str]] = defaultdict(set)
    for source, target in arrows(steps=steps):
        graph[source].add(target)
    return circles(graph)
