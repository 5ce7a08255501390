"""What stands in the cells of a plate: figures, pictures, plates and lists of these."""

from __future__ import annotations

from dataclasses import replace

from facetine.grammar.picture import Picture
from facetine.grammar.plate import Plate, cells_of
from facetine.grammar.sentence import Sentence
from facetine.messages.errors import OptionError, told


def plate_of(rows: object, where: str) -> Plate:
    """A plate of rows, or of a list of figures below each other."""
    if _said_by(rows) is not None or not isinstance(rows, list | tuple) or not rows:
        raise OptionError(where, f"rows are lists of figures, not {told(rows)}", "such as [[a, b], [c, c]]")
    lists = [list(row) if isinstance(row, list | tuple) else [row] for row in rows]
    if any(not row for row in lists):
        raise OptionError(where, "a row is empty", "None leaves a place empty")
    seen: dict[int, object] = {}
    converted = [[_content(thing, seen, where) for thing in row] for row in lists]
    cells, count, columns = cells_of(converted, where)
    return Plate(cells=cells, rows=count, columns=columns)


def _said_by(thing: object) -> Sentence | Plate | None:
    """What a figure or a plate says; None for anything else."""
    said = getattr(thing, "_sentence", thing)
    return said if isinstance(said, Sentence | Plate) else None


def _content(thing: object, seen: dict[int, object], where: str) -> object:
    """What stands in a cell; the same thing again for the same figure."""
    if thing is None:
        return None
    if id(thing) not in seen:
        said = _said_by(thing)
        if isinstance(said, Plate):
            _check_inner(said, where)
        if said is not None:
            # A span is told by the thing that stands in it, so each needs one of its own.
            seen[id(thing)] = replace(said)
        elif isinstance(thing, Picture):
            seen[id(thing)] = replace(thing)
        elif isinstance(thing, list | tuple):
            seen[id(thing)] = plate_of([[inner] if not isinstance(inner, list | tuple) else inner for inner in thing], where)
        else:
            raise OptionError(where, f"{told(thing)} is no figure", "cells are figures, plates, pictures and None")
    return seen[id(thing)]


def _check_inner(inner: Plate, where: str) -> None:
    """Refuses of a plate in a plate what the outer one says for all.

    Raises:
        OptionError: It has letters, shared legends or shared scales of its own.
    """
    for name, given in (
        ("letters", inner.letters),
        ("share_legend", inner.share_legend),
        ("same_scale", inner.same),
        ("sheet", inner.sheet.said()),
    ):
        if given:
            raise OptionError(where, f"{name} of a plate in a plate says nothing", "say it of the outer one")
