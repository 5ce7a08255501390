"""What a layer is asked by the pipeline, and what it is given to answer."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any, ClassVar, Literal, NamedTuple, Self

import numpy as np

from facetine.core.arrays import FloatArray, IntArray
from facetine.core.columns import Columns
from facetine.grammar.layer import Layer
from facetine.scene.marks import Mark, Region
from facetine.scene.typeset import TextStyle

Space = Literal["data", "axis"]
"""Whether a layer computes on values as they are, or on places along the (perhaps logarithmic) axes."""


class Context(NamedTuple):
    """What a layer may know of its figure while it computes. A horizontal layer sees x and y exchanged."""

    where: str
    """The verb, for errors."""
    columns: Mapping[str, str]
    """The column that each aesthetic is mapped to."""
    kinds: Mapping[str, str]
    """The kind of each mapped aesthetic: number, time, or a discrete one."""
    say: Callable[[str], None]
    """Takes a note for the reader."""

    def discrete(self, aesthetic: str) -> bool:
        """Whether an aesthetic holds levels."""
        return self.kinds.get(aesthetic) in ("category", "ordered", "yes_no")


class Look(NamedTuple):
    """One aesthetic of some rows: few values, and which of them each row has."""

    values: tuple[Any, ...]
    which: IntArray | None = None
    """Shape (n,); None where all rows have the first value."""

    def of(self, row: int) -> Any:
        """The value of one row."""
        return self.values[0 if self.which is None else int(self.which[row])]

    def take(self, rows: Any) -> Look:
        """The look of some of the rows."""
        return self if self.which is None else Look(self.values, self.which[rows])


class PanelView(NamedTuple):
    """What a layer may know of the panel that it draws in."""

    box: Region
    """The rectangle between the axes, in points."""
    looks: Mapping[str, Look]
    """Every aesthetic that is no place: mapped, fixed, or the theme's."""
    seed: int
    """For everything that is left to chance."""
    up: int
    """−1 where larger y stand higher on the sheet; 1 in a horizontal layer, whose y runs to the right."""
    type: TextStyle
    """How labels are set."""
    ground: str
    """The color behind the marks."""
    x: Callable[[FloatArray], FloatArray]
    """From axis space to points, for computed values that are no aesthetics."""
    y: Callable[[FloatArray], FloatArray]


@dataclass(frozen=True, kw_only=True)
class DrawnLayer(Layer):
    """A layer that can be drawn: it answers what it needs, what it computes, and how it looks."""

    space: ClassVar[Space] = "data"
    keeps_gaps: ClassVar[bool] = False
    """Whether a row without y stays, to interrupt what is drawn."""
    from_zero: ClassVar[bool] = False
    """Whether its marks stand on zero."""
    can_turn: ClassVar[bool] = False
    """Whether a category on y and a number on x turns it."""
    from_theme: ClassVar[Mapping[str, str]] = {}
    """Options that take a setting of the theme where they are not said."""
    first: ClassVar[str | None] = None
    """The option that may be given without its name."""
    stands_alone: ClassVar[bool] = False
    """Whether it brings its own places instead of taking rows of the data."""
    computed_looks: ClassVar[Mapping[str, str]] = {}
    """Looks that it computes where nothing is mapped to them, and what their guides are called."""
    usual: ClassVar[Mapping[str, Any]] = {}
    """Looks that are other than the theme's where nothing is said."""
    looks: ClassVar[tuple[str, ...]] = ("color", "opacity")
    """The aesthetics beside places that its marks show."""

    @property
    def borrows(self) -> str | None:
        """The layer whose computed rows it takes instead of the data's; by method or name."""
        return None

    def value_title(self) -> str:
        """What the value axis is called where nothing is mapped to it; empty where it is not computed."""
        return ""

    def place_title(self) -> str:
        """What the other axis is called where nothing is mapped to it; empty where it is not computed."""
        return ""

    def lacks(self, mapped: Mapping[str, Any]) -> str | None:
        """The aesthetic that must be mapped and is not, None where all is there."""
        return next((name for name in self.required if mapped.get(name) is None), None)

    def own_rows(self, place: Callable[[str, Any], float]) -> Mapping[str, Any]:
        """The rows of a layer that stands alone; `place` turns a value on an axis into data."""
        raise NotImplementedError

    def prepare(self, rows: Columns, context: Context) -> Self:  # noqa: ARG002
        """What must be the same in all panels and groups, such as the edges of bins."""
        return self

    def compute(self, rows: Columns, context: Context) -> Columns:  # noqa: ARG002
        """From all rows to what is drawn; panels and groups are told by the rows' own numbers."""
        return rows

    def arrange_rows(self, rows: Columns, context: Context) -> Columns:  # noqa: ARG002
        """How marks on the same place share it."""
        return rows

    def labelled_rows(self, rows: Columns) -> Columns:
        """The computed rows that can bear a text."""
        return rows

    def scattered(self, rows: Columns, context: Context) -> Columns:  # noqa: ARG002
        """Marks moved apart along the axes, in axis space: only how they are drawn, not what is computed."""
        return rows

    def draw(self, rows: Columns, panel: PanelView) -> Iterator[Mark]:
        """From computed rows of one panel, their places in points, to batches of marks."""
        raise NotImplementedError

    def key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Mark]:
        """How one entry of a legend is drawn in a small box."""
        raise NotImplementedError


def combined(looks: Mapping[str, Look], names: tuple[str, ...], count: int) -> tuple[list[tuple[Any, ...]], IntArray | None]:
    """The distinct combinations of several looks among the rows.

    Args:
        looks: By aesthetic.
        names: The ones to combine.
        count: Number of rows.

    Returns:
        The combinations, and which of them each row has; None where all have the first.
    """
    mixed = [looks[name] for name in names if looks[name].which is not None]
    if not mixed or count == 0:
        return [tuple(looks[name].values[0] for name in names)], None
    code = np.zeros(count, np.int64)
    for look in mixed:
        assert look.which is not None
        code = code * len(look.values) + look.which
    if len(mixed) == 1:
        # One varying aesthetic: its values are the combinations already.
        values = mixed[0].values
        fixed = [looks[name].values if looks[name].which is None else None for name in names]
        return [tuple(value if one is None else one[0] for one in fixed) for value in values], mixed[0].which
    _, first, which = np.unique(code, return_index=True, return_inverse=True)
    return [tuple(looks[name].of(row) for name in names) for row in first.tolist()], which.astype(np.int64)


def batches(look: Look, count: int) -> Iterator[tuple[Any, IntArray | slice]]:
    """The rows that share a value of a look, value by value."""
    if count == 0:
        return
    if look.which is None:
        yield look.values[0], slice(None)
        return
    for number, value in enumerate(look.values):
        rows = np.flatnonzero(look.which == number)
        if len(rows):
            yield value, rows


def places(rows: Columns) -> FloatArray:
    """x and y of the rows, shape (n, 2)."""
    return np.column_stack([rows["x"], rows["y"]])
