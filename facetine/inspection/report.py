"""A page about a table: every variable drawn, the strongest relations, what is missing, and figures to begin with."""

from __future__ import annotations

import base64
import warnings
from collections.abc import Sequence
from html import escape
from importlib.resources import files
from pathlib import Path
from string import Template
from typing import Any, NamedTuple

import numpy as np

from facetine.data.related import COLUMNS, ROWS, Relation, missing_patterns, relations
from facetine.data.table import Column, Table
from facetine.export.files import write_whole
from facetine.layers.suggest import suggest
from facetine.layers.suggestions import Suggestion, options_for
from facetine.messages.errors import ExportError, FacetineError, FacetineFinding
from facetine.messages.version import VERSION

_LEVELS, _RELATIONS, _PATTERNS = 10, 6, 12
_SMALL, _WIDE = ("70 mm", "45 mm"), ("85 mm", "65 mm")


class Seen(NamedTuple):
    """What is known of a table at a first look."""

    table: Table
    suggestions: Sequence[Suggestion]
    facts: str
    """Its columns, as a table in HTML."""


def write_report(seen: Seen, path: Path, title: str, source: str | None) -> Path:
    """Writes the page; see `Inspection.report`."""
    if path.suffix.lower() not in (".html", ".htm"):
        raise ExportError("inspect", f"the report is a page, and {path.name!r} is none", f"such as {path.stem or 'look'}.html")
    write_whole(path, page(seen, title, source).encode("utf-8", "replace"))
    return path


def page(seen: Seen, title: str, source: str | None) -> str:
    """The page as HTML."""
    from facetine.figures.start import figure

    table = seen.table
    base = figure(table.source)
    parts = {
        "title": escape(title),
        "summary": escape(f"{table.height:,} rows, {len(table.names)} columns. Facetine {VERSION}."),
        "facts": seen.facts.partition("</p>")[2].partition("<p>First rows")[0],
        "variables": "\n".join(_variable(base, table.column(name)) for name in table.names),
        "relations": _relations(base, table),
        "missing": _missing(table),
        "suggestions": _suggestions(base, seen, source),
    }
    room = files("facetine.inspection")
    style = (files("facetine.export") / "page.css").read_text("utf-8") + (room / "report.css").read_text("utf-8")
    return Template((room / "report.html").read_text("utf-8")).substitute(parts, style=style)


def _variable(base: Any, column: Column) -> str:
    """One variable: how its values are spread."""
    there = column.values[~column.missing]
    if not len(there):
        return _shown(column.name, None, "no value")
    if column.discrete:
        distinct = len(np.unique(there))
        if distinct == len(there) > _LEVELS:
            return _shown(column.name, None, f"{distinct:,} values, each in one row: nothing to count")
        scale = {"top": _LEVELS, "rest_as": "all others"} if distinct > _LEVELS else {}
        figure = base.map(y=column.name).bars()
        figure = figure.scale("y", order="falling", **scale) if column.kind != "ordered" or scale else figure
        said = f"{column.kind}, {distinct:,} values"
    else:
        figure = base.map(x=column.name).histogram()
        said = column.kind
    gone = int(column.missing.sum())
    return _shown(column.name, figure.sheet(*_SMALL), said + (f", {gone:,} missing" if gone else ""))


def _relations(base: Any, table: Table) -> str:
    found = relations(table, _RELATIONS)
    if not found:
        return "<p>No two variables of which that is known.</p>"
    looked = f"{ROWS:,} rows in even steps" if table.height > ROWS else "all rows"
    told = f", the first {COLUMNS} columns that may be related" if len(table.names) > COLUMNS else ""
    said = (
        f"From 0 to 1, in {looked}{told}: two numbers by their rank correlation, a number and a category by the root "
        "of the share of variance between groups (ε²), two categories by Cramér's V; both corrected for the number of groups."
    )
    return f'<p class="summary">{said}</p><div class="grid">{"".join(_relation(base, table, one) for one in found)}</div>'


def _relation(base: Any, table: Table, found: Relation) -> str:
    first, second = (table.column(name) for name in (found.first, found.second))
    # What is measured stands upright; groups stand below.
    x, y = (second, first) if second.discrete and not first.discrete else (first, second)
    y, x = (x, y) if y.kind == "time" and x.kind == "number" else (y, x)
    best = suggest(table, x=x.name, y=y.name)[0]
    figure = getattr(base.map(x=x.name, y=y.name), best.layer)(**options_for(best.layer, table, {"x": x.name, "y": y.name}))
    return _shown(f"{found.first} and {found.second}", figure.sheet(*_WIDE), f"{found.measure}: {found.strength:.2f}")


def _missing(table: Table) -> str:
    patterns = missing_patterns(table)
    if not patterns:
        return "<p>No cell is missing.</p>"
    rows = "".join(
        f"<tr><td>{escape(', '.join(one.columns))}</td><td>{one.rows:,}</td><td>{one.rows / table.height:.1%}</td>"
        f'<td><span class="bar" style="width:{100 * one.rows / table.height:.2f}%"></span></td></tr>'
        for one in patterns[:_PATTERNS]
    )
    more = f"<p>and {len(patterns) - _PATTERNS:,} more patterns</p>" if len(patterns) > _PATTERNS else ""
    head = "<tr><th>Missing together</th><th>Rows</th><th>Share</th><th></th></tr>"
    return f"<table><thead>{head}</thead><tbody>{rows}</tbody></table>{more}"


def _suggestions(base: Any, seen: Seen, source: str | None) -> str:
    shown = []
    for number, one in enumerate(seen.suggestions, 1):
        said = f"<pre>{escape(one.sentence)}{escape(chr(10) + one.command(source, number)) if source else ''}</pre>"
        shown.append(_shown(one.reason, one.added(base).sheet(*_WIDE), "", said))
    return f'<div class="grid">{"".join(shown)}</div>' if shown else "<p>None.</p>"


def _shown(title: str, figure: Any, said: str, more: str = "") -> str:
    picture = f'<p class="none">{escape(said)}</p>' if figure is None else _picture(figure, title)
    words = f'<p class="summary">{escape(said)}</p>' if said and figure is not None else ""
    return f"<article><h3>{escape(title)}</h3>{words}{picture}{more}</article>"


def _picture(figure: Any, title: str) -> str:
    """A figure as the page shows it, on a light and on a dark ground."""
    import tempfile

    sources = []
    with tempfile.TemporaryDirectory(prefix="facetine-") as folder, warnings.catch_warnings():
        warnings.simplefilter("ignore", FacetineFinding)
        for ground in (True, "dark"):
            try:
                (file,) = figure.export(Path(folder) / "a.svg", transparent=ground, fonts="outline").files
            except FacetineError as problem:
                return f'<p class="none">not drawn: {escape(problem.headline)}</p>'
            coded = base64.b64encode(Path(file.path).read_bytes()).decode("ascii")
            sources.append(f"data:image/svg+xml;base64,{coded}")
    dark = f'<source media="(prefers-color-scheme: dark)" srcset="{sources[1]}">'
    return f'<picture>{dark}<img src="{sources[0]}" alt="{escape(title, quote=True)}"></picture>'
