"""Graphs of functions."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import partial
from typing import Any, ClassVar

from facetine.core.columns import Columns
from facetine.core.query import Source
from facetine.data.functions import applied
from facetine.grammar.aesthetics import LookValue, Mapped, Placing
from facetine.grammar.given import Ends
from facetine.grammar.options import option, pair
from facetine.layers.base import DrawnLayer, PanelView
from facetine.layers.context import Context, Drawn
from facetine.layers.example import Example
from facetine.layers.graphs import graph, within
from facetine.layers.lines import drawn_lines, eased, line_key
from facetine.layers.look import Look
from facetine.layers.marking import Stroked
from facetine.messages.errors import OptionError, told
from facetine.scene.marks import Mark, Paths
from facetine.scene.region import Region


def _expression(value: object, where: str) -> object:
    if isinstance(value, str) or callable(value):
        return value
    raise OptionError(where, f"is SQL in x, or a callable, not {told(value)}", 'such as "0.5 * x + 2"', of_option=True)


@dataclass(frozen=True, kw_only=True)
class Function(Stroked, DrawnLayer):
    """A function of x, over the whole axis of each panel or between limits."""

    verb: ClassVar[str] = "function"
    chosen_says: ClassVar[str] = "Of no rows."
    examples: ClassVar[tuple[Example, ...]] = (
        Example(
            "Beside other layers",
            5,
            {"x": "age_days", "y": "mass_kg"},
            [{"points": {"color": "silver"}}, {"function": {"expression": "2 + 6 * exp(-x / 90)"}}],
        ),
    )
    missing_says: ClassVar[str] = "No row is missed: rows only say how far x reaches."
    explains: ClassVar[bool] = True
    keeps_groups: ClassVar[bool] = False
    rows_unseen: ClassVar[bool] = True
    over_edges: ClassVar[bool] = True
    keeps_gaps: ClassVar[bool] = True
    takes: ClassVar[tuple[str, ...]] = ("x",)
    line_marks: ClassVar[bool] = True
    thing: ClassVar[str] = "curve"
    because: ClassVar[str] = "a function is one of values, whatever the axis"
    required: ClassVar[tuple[str, ...]] = ()
    looks: ClassVar[tuple[str, ...]] = ("color", "opacity", "dash", "line_width")
    usual: ClassVar[Mapping[str, LookValue]] = {"color": "text"}
    first: ClassVar[str | None] = "expression"

    expression: Any = option(None, _expression)
    limits: Ends | None = option(None, pair)

    @property
    def stands_alone(self) -> bool:  # type: ignore[override]
        """Whether its ends are said."""
        if self.expression is None:
            raise OptionError("figure.function", "there is no function", 'such as .function("0.5 * x + 2")')
        if self.limits is not None and None in self.limits:
            raise OptionError("figure.function", "limits has two ends here", "such as limits=(0, 10)")
        return self.limits is not None

    def lacks(self, mapped: Mapped) -> str | None:
        """The axis over which it runs."""
        return "x" if self.limits is None and mapped.get("x") is None else None

    def value_drawn(self, context: Context) -> Drawn | None:  # noqa: ARG002
        """Nothing that a title tells."""
        return None

    def place_drawn(self, context: Context) -> Drawn | None:  # noqa: ARG002
        """Nothing that a title tells."""
        return None

    def summarises(self, mapped: Mapped) -> bool:  # noqa: ARG002
        """Always: no row is one of its marks."""
        return True

    def own_rows(self, place: Placing) -> Mapping[str, Sequence[float]]:
        """Its ends."""
        assert self.limits is not None
        return {"x": [place("x", end) for end in self.limits]}

    def compute(self, source: Source, context: Context) -> Columns:
        """A row a place."""
        where = f"{context.where}: expression"
        call = partial(applied, self.expression, name="x", where=where, error=OptionError, gaps=True)
        return graph(call, source, context, exact=self.limits is not None)

    def reaching(self, rows: Columns) -> Columns:
        """Its places within the data."""
        return within(rows)

    def draw(self, rows: Columns, panel: PanelView) -> Iterator[Mark]:
        """A line through its places."""
        yield from drawn_lines(*eased(rows, panel, "y"))

    def draw_key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Paths]:
        """A short line across."""
        yield from line_key(box, looks)
