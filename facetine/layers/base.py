"""What a layer is asked by the pipeline, and what it is given to answer."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field
from typing import Any, ClassVar, Literal, NamedTuple, Self

import numpy as np

from facetine.core.arrays import AnyArray, FloatArray, IntArray
from facetine.core.columns import Columns
from facetine.core.scales.kinds.base import Transform
from facetine.core.scales.kinds.linear import Linear
from facetine.findings import Findings, Severity
from facetine.grammar.layer import Layer
from facetine.scene.marks import Mark, Region
from facetine.scene.typeset import TextStyle

Space = Literal["data", "axis"]
"""Whether a layer computes on values as they are, or on places along the (perhaps logarithmic) axes."""
NUMERIC_LOOKS = ("color", "outline", "opacity", "size", "line_width")
"""Looks that can follow a number."""


class Computed(NamedTuple):
    """A value that a layer computes, under a name that templates may use."""

    says: str
    """What it is, in words."""
    sort: Literal["x", "y", "color", "number", "count", "words"] = "number"
    """Whether it is a value on one of the layer's axes, or else what kind of value."""
    column: str = ""
    """The column of the layer's table that holds it; that of its own name where nothing is said."""


class Drawn(NamedTuple):
    """What a layer shows along an axis or in a look."""

    how: str = ""
    """The aggregate of the mapped column; empty for its values."""
    title: str = ""
    """The whole title where it is no value of the column, such as "Count"."""


class AxisSpace(NamedTuple):
    """What a layer may know of an axis before it is settled."""

    transform: Transform = Linear()
    kind: str = "number"
    """number, time, or a discrete one."""
    zone: str | None = None

    @property
    def even(self) -> bool:
        """Whether places on the axis are the values themselves."""
        return self.transform.even


class Title(NamedTuple):
    """What a column is called."""

    label: str
    unit: str

    @property
    def whole(self) -> str:
        """Label with unit in parentheses."""
        return f"{self.label} ({self.unit})" if self.unit else self.label

    @property
    def inside(self) -> str:
        """The label as it stands inside a sentence."""
        first = self.label[:1].lower() if self.label[1:2].islower() else self.label[:1]
        return first + self.label[1:]


class Shared(NamedTuple):
    """How groups stand side by side, the same in all layers that know the same groups."""

    groups: tuple[int, ...]
    """The numbers of all groups, in their order."""
    crowded: bool
    """Whether some slot holds more than one of them, so that each has a place of its own."""


@dataclass(frozen=True)
class Context:
    """What a layer may know of its figure while it computes. A horizontal layer sees x and y exchanged."""

    where: str
    """The verb, for errors and findings."""
    columns: Mapping[str, str] = field(default_factory=dict)
    """The column that each aesthetic is mapped to."""
    kinds: Mapping[str, str] = field(default_factory=dict)
    """The kind of each mapped aesthetic: number, time, or a discrete one."""
    findings: Findings = field(default_factory=Findings)
    axes: Mapping[str, AxisSpace] = field(default_factory=dict)
    titles: Mapping[str, Title] = field(default_factory=dict)
    """What the column of each aesthetic is called."""
    panels: tuple[str, ...] = ()
    """What the panels are called; empty for one without a name."""
    groups: Mapping[int, str] = field(default_factory=dict)
    """What the groups are called."""
    seed: int = 1
    room: tuple[float, float] = (200.0, 150.0)
    """Width and height of a panel in points, at most, before it is laid out."""
    shared: Shared | None = None
    """Where groups stand side by side."""
    beside: bool = False
    """Whether another layer draws boxes, bars or the like of the same groups side by side."""
    half: str | None = None
    """The side of their slot that half violins of another layer fill."""
    bin_edges: FloatArray | None = None
    """The edges of a histogram of the figure along the same axis, in the unit of the data."""

    def say(self, code: str, text: str, mend: str = "", *, part: Columns | None = None, severity: Severity = "note") -> None:
        """Makes a remark.

        Args:
            code: What it is about, in words joined by dashes.
            text: What was found.
            mend: What to write where that is not meant.
            part: Rows of one panel and group, which are named.
            severity: "note" or "warning".
        """
        self.findings.add(code, self.where, text, mend, severity, self.place(part) if part is not None else "")

    def place(self, part: Columns) -> str:
        """The panel and the group of some rows, in words; empty where there is one of each."""
        words = []
        if len(self.panels) > 1 and len(part):
            words.append(f"panel {self.panels[int(part.panel[0])]!r}")
        if len(self.groups) > 1 and len(part) and int(part.group[0]) in self.groups:
            words.append(f"group {self.groups[int(part.group[0])]!r}")
        return ", ".join(words)

    def discrete(self, aesthetic: str) -> bool:
        """Whether an aesthetic holds levels."""
        return self.kinds.get(aesthetic) in ("category", "ordered", "yes_no")

    def axis(self, name: str) -> AxisSpace:
        """What is known of an axis."""
        return self.axes.get(name, AxisSpace())

    def weight_title(self) -> str:
        """What a sum of weights is called."""
        return f"Sum of {self.titles['weight'].inside}" if "weight" in self.titles else "Count"


class Look(NamedTuple):
    """One aesthetic of some rows: few values, and which of them each row has."""

    values: tuple[Any, ...]
    which: IntArray | None = None
    """Shape (n,); None where all rows have the first value."""

    def of(self, row: int) -> Any:
        """The value of one row."""
        return self.values[0 if self.which is None else int(self.which[row])]

    def of_each(self, rows: IntArray) -> list[Any]:
        """The values of some rows."""
        if self.which is None:
            return [self.values[0]] * len(rows)
        values = self.values
        return [values[place] for place in self.which[rows].tolist()]

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
    halo: bool = False
    """Whether lines need a seam of the ground, because marks of their own color lie below."""
    slot: float = 0.0
    """The width of a category's slot along x, in points; 0 where x holds no categories."""
    say: Callable[..., None] = lambda *_, **__: None
    """Makes a remark, as `Context.say`."""


@dataclass(frozen=True, kw_only=True)
class DrawnLayer(Layer):
    """A layer that can be drawn: it answers what it needs, what it computes, and how it looks."""

    computes_in: ClassVar[Space] = "data"
    """Where it computes when nothing is said."""
    keeps_gaps: ClassVar[bool] = False
    """Whether a row without y stays, to interrupt what is drawn."""
    apart: ClassVar[tuple[str, ...]] = ()
    """Aesthetics that are samples of their own: a row that lacks one of them still counts in the others."""
    from_zero: ClassVar[bool] = False
    """Whether its marks stand on zero."""
    stands: ClassVar[bool] = False
    """Whether the lengths of its marks are compared from zero on, so that no window may leave zero out."""
    filled_marks: ClassVar[bool] = False
    """Whether its marks are areas on which lines of the same color would vanish."""
    line_marks: ClassVar[bool] = False
    """Whether its marks are lines or dots that can vanish on areas of their own color."""
    thing: ClassVar[str] = "row"
    """What one of its computed rows is, for counts of what lies outside a window."""
    drops_outside: ClassVar[bool] = False
    """Whether a mark outside a window is left out whole, instead of being cut at its edge."""
    can_turn: ClassVar[bool] = False
    """Whether a category on y and a number on x turns it."""
    explains: ClassVar[bool] = False
    """Whether it explains other layers: what it does not show is shown elsewhere."""
    counts_by_bins: ClassVar[bool] = False
    """Whether its counts are those of the bins of another layer along the same axis, where there is one."""
    compares_spaces: ClassVar[bool] = False
    """Whether a reader compares it with others of its axis, which then should compute in the same space."""
    dark_on_own: ClassVar[bool] = False
    """Whether it takes the ink of texts over filled marks of its own color, since its place tells its group."""
    values_inside: ClassVar[bool] = False
    """Whether what is written on its marks stands in their middle, or nowhere."""
    draws_rows: ClassVar[bool] = False
    """Whether every row of the data is one of its marks."""
    from_theme: ClassVar[Mapping[str, str]] = {}
    """Options that take a setting of the theme where they are not said."""
    first: ClassVar[str | None] = None
    """The option that may be given without its name."""
    stands_alone: ClassVar[bool] = False
    """Whether it brings its own places instead of taking rows of the data."""
    computed_looks: ClassVar[tuple[str, ...]] = ()
    """Looks that it computes where nothing is mapped to them."""
    usual: ClassVar[Mapping[str, Any]] = {}
    """Looks that are other than the theme's where nothing is said."""
    looks: ClassVar[tuple[str, ...]] = ("color", "opacity")
    """The aesthetics beside places that its marks show."""
    computed: ClassVar[Mapping[str, Computed]] = {}
    """The names of what it computes."""
    because: ClassVar[str] = ""
    """Why it computes where it does; empty where it computes nothing."""
    weighs: ClassVar[str] = ""
    """What a weight means in it; empty where it has no use for one."""

    @property
    def works_in(self) -> Space:
        """Where it computes: where it is said, else where it usually does."""
        return getattr(self, "space", None) or self.computes_in

    def names(self) -> Mapping[str, Computed]:
        """What templates may name, with these options."""
        return self.computed

    def all_names(self) -> Mapping[str, Computed]:
        """What templates may name with some options, for the docs."""
        return self.computed

    def summarises(self, mapped: Mapping[str, Any]) -> bool:  # noqa: ARG002
        """Whether a mark stands for several rows, so that no look can follow a number of theirs."""
        return False

    def results(self, mapped: Mapping[str, Any]) -> bool:
        """Whether the rows of its table are results of their own, and not rows of the data."""
        return self.summarises(mapped)

    def shows(self, mapped: Mapping[str, Any]) -> tuple[str, ...]:  # noqa: ARG002
        """The aesthetics that it has a use for."""
        return self.takes

    def uses_weight(self, mapped: Mapping[str, Any]) -> bool:  # noqa: ARG002
        """Whether a weight changes what it computes."""
        return bool(self.weighs)

    def bins_of_axis(self) -> FloatArray | None:
        """The edges of its bins, shape (k + 1,), in the unit of the data; None where it has none."""
        return None

    def redraws_rows(self) -> bool:
        """Whether some of its marks are rows of the data, which a layer of all rows would draw again."""
        return False

    def text_side(self, groups: int, horizontal: bool) -> str:
        """The side of its marks at which a text about them stands: "above", "below" (inside) or "middle"."""
        if self.values_inside:
            return "middle"
        stacked = getattr(self, "arrange", "") in ("stack", "share") and groups > 1
        return "below" if stacked and self.filled_marks and not horizontal else "above"

    def explaining(self, other: DrawnLayer, groups: int, horizontal: bool) -> Self:  # noqa: ARG002
        """The layer as it stands at the marks of another one, whose computed rows it takes."""
        return self

    def key_size(self, size: float, looks: Mapping[str, Look]) -> tuple[float, float]:  # noqa: ARG002
        """Width and height of its key in a legend whose texts have a size, in points."""
        return 0.8 * size, 0.8 * size

    @property
    def borrows(self) -> str | None:
        """The layer whose computed rows it takes instead of the data's; by method or name."""
        return None

    def value_drawn(self, context: Context) -> Drawn | None:  # noqa: ARG002
        """What it shows on its value axis; None where it says nothing of it."""
        return Drawn()

    def place_drawn(self, context: Context) -> Drawn | None:  # noqa: ARG002
        """What it shows on its other axis."""
        return Drawn()

    def look_drawn(self, context: Context) -> Drawn:  # noqa: ARG002
        """What its color shows."""
        return Drawn()

    def as_share(self) -> tuple[str, ...]:
        """Aesthetics whose yes and no it reads as one and zero."""
        return ()

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

    def things(self, rows: Columns) -> AnyArray | None:  # noqa: ARG002
        """What each computed row is, for counts of what lies outside a window; None where all are a `thing`."""
        return None

    def described(self, rows: Columns, context: Context) -> list[str]:  # noqa: ARG002
        """Sentences about what it found, for readers who can't see the figure."""
        return []

    def spanning(self, rows: Columns) -> Columns:
        """The computed rows that say how far an axis of a panel's own reaches."""
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
    columns = [look.of_each(first) for look in (looks[name] for name in names)]
    return list(zip(*columns, strict=True)), which.astype(np.int64)


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
