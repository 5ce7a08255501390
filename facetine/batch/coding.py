"""The figures of a plan as sentences in Python, to go on from."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any

from facetine.batch.books import books_of
from facetine.batch.making import Figures
from facetine.batch.plan import Plain, Plan
from facetine.batch.sources import Sources
from facetine.data.wishes import known_beside
from facetine.grammar.spec import spelled

_EXPRESSION = re.compile(r"(?<![\w.])sql\(")


def code_of(plan: Plan, only: str | None) -> str:
    """A program that makes the figures of a plan, or one of them.

    Raises:
        FacetineError: There is no such figure, or one can't be said.
    """
    figures = Figures(plan, Sources(plan))
    names = plan.names if only is None else [only]
    blocks: list[str] = []
    written: dict[str, str] = {}
    for name in names:
        figures.made(name)
        if name in plan.figure:
            blocks += _figure(plan, figures, name, written)
        else:
            for inner in dict.fromkeys(one for one in plan.plate[name].members() if one in plan.figure):
                if f"figure {inner}" not in written:
                    blocks += _figure(plan, figures, inner, written)
            blocks.append(_plate(plan, name))
    return "import facetine as ft\n\n" + "\n\n".join(blocks) + "\n"


def _figure(plan: Plan, figures: Figures, name: str, written: dict[str, str]) -> list[str]:
    said, blocks = plan.figure[name], []
    if said.data is not None and said.data not in written:
        written[said.data] = _table(plan, said.data)
        blocks.append(f"{written[said.data]} = {_source(plan, said.data)}")
    books = _codebooks(plan, said.codebook)
    given, book = _table(plan, said.data) if said.data is not None else "None", ""
    if books:
        book = f", codebook={books[0]!r}" if len(books) == 1 else f", codebook={books!r}"
    verbs = spelled(figures.figure(name)._sentence, given, book, "ft.").splitlines()
    lines = [verbs[0], *(_EXPRESSION.sub("ft.sql(", verb.strip()) for verb in verbs[1:])]
    written[f"figure {name}"] = variable(name)
    blocks.append(f"{variable(name)} = (\n" + "\n".join(f"    {line}" for line in lines) + "\n)")
    return blocks


def _codebooks(plan: Plan, own: Plain) -> list[Any]:
    return [str(book) if isinstance(book, Path) else book for book in books_of(plan, own)]


def _source(plan: Plan, name: str) -> str:
    """Whole files are read as Python would; a query, a database or an address is the plan's to ask, as it does for itself."""
    source = plan.data[name]
    if source.sql is not None or source.url is not None or source.database is not None:
        return f"ft.plan({str(plan.said.path)!r}).table({name!r})"
    files = [str(file) for file in Sources(plan).files(source, f"data.{name}")]
    options = [f"{key}={value!r}" for key, value in {**source.text(), "names": source.names}.items() if value is not None]
    if known_beside({}, Sources(plan).books(name)):
        # What is a category there is read as it is written.
        books = _codebooks(plan, {})
        options.append(f"codebook={(books[0] if len(books) == 1 else books)!r}")
    return f"ft.read({', '.join([repr(files[0] if len(files) == 1 else files), *options])})"


def _plate(plan: Plan, name: str) -> str:
    said = plan.plate[name]
    defaults = type(said)(rows=[])
    options = [f"{key}={value!r}" for key, value in said.options().items() if value != getattr(defaults, key)]
    rows = "[" + ", ".join("[" + ", ".join(_cell(plan, cell) for cell in row) + "]" for row in said.rows) + "]"
    verbs = [f".{key}({_called(value)})" for key, value in said.looks().items() if key in ("titles", "theme", "sheet")]
    verbs += [f".same_scale({', '.join(map(repr, said.same_scale))})"] if said.same_scale else []
    verbs += [f".scale({one!r}, {_called(value)})" for one, value in said.scale.items()]
    lines = [f"ft.plate({', '.join([rows, *options])})", *verbs]
    return f"{variable(name)} = (\n" + "\n".join(f"    {line}" for line in lines) + "\n)"


def _called(value: Any) -> str:
    """A table as the options of a verb; its first word where that has no name."""
    if not isinstance(value, dict):
        return repr(value)
    first = [repr(value[key]) for key in ("title", "name", "kind") if key in value][:1]
    rest = [f"{key}={one!r}" for key, one in value.items() if key not in ("title", "name", "kind")]
    return ", ".join([*first, *rest])


def _cell(plan: Plan, cell: Any) -> str:
    if cell == "":
        return "None"
    if isinstance(cell, list):
        return "[" + ", ".join(_cell(plan, one) for one in cell) + "]"
    if isinstance(cell, dict):
        options = [f"{key}={value!r}" for key, value in cell.items() if key != "picture"]
        return f"ft.picture({', '.join([repr(str(plan.folder / cell['picture'])), *options])})"
    return variable(str(cell))


def _table(plan: Plan, name: str) -> str:
    """The variable of a source, which a figure of the same name does not take."""
    word = variable(name)
    return f"{word}_data" if word in map(variable, (*plan.figure, *plan.plate)) else word


def variable(name: str) -> str:
    """A name of a plan as one of a variable."""
    word = re.sub(r"\W", "_", name)
    return word if word[:1].isalpha() or word[:1] == "_" else f"figure_{word}"
