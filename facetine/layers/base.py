"""What a layer is asked by the pipeline, and what it is given to answer."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import ClassVar, NamedTuple, Self

import numpy as np

from facetine.core.arrays import AnyArray, FloatArray
from facetine.core.columns import Columns
from facetine.core.query import Source
from facetine.data.table import Table
from facetine.grammar.aesthetics import POSITIONS, TURNED, LookValue, Mapped, Placing
from facetine.grammar.layer import Layer
from facetine.layers.context import BinsBeside, Computed, Context, Drawn, Space
from facetine.layers.example import Example
from facetine.layers.finish import Finish
from facetine.layers.look import Look
from facetine.scene.marks import Mark
from facetine.scene.region import Region
from facetine.scene.typeset import TextStyle

_FURTHER = POSITIONS.keys() - {"x", "y"}
"""Places beside those at which a mark stands."""


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
    around: Callable[[], FloatArray] = lambda: np.zeros((0, 2))
    """The places of the marks of other layers, shape (n, 2), also of those drawn later."""
    taken: list[Region] | None = None
    """Where texts stand in the panel so far; what searches its place adds it here."""
    lines: Sequence[Region] = ()
    """The lines of references in the panel, as thin regions."""
    say: Callable[..., None] = lambda *_, **__: None
    """Makes a remark, as `Context.say`."""
    tally: Callable[..., None] = lambda *_, **__: None
    """Makes a remark on a number of things: code, amount, thing, fate and fix."""


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
    alone: ClassVar[str] = "such as opacity=0.5"
    """What to write where a value is given without its option's name; {} stands for the value."""
    examples: ClassVar[tuple[Example, ...]] = ()
    """Small figures of it, for the catalog."""
    in_slots: ClassVar[bool] = False
    """Whether all of its rows may stand in one slot of an axis on which nothing is."""
    undivided: ClassVar[bool] = False
    """Whether it shows all rows of a pair of a matrix, which no group divides."""
    shows_spread: ClassVar[bool] = False
    """Whether a mark shows how rows are spread, which of few rows is nothing."""
    averages: ClassVar[bool] = False
    """Whether a mark is an average of rows, whatever is said."""
    column_as: ClassVar[str] = ""
    """What its marks are called where they show a column as it is; empty where they add to what others show."""
    through_rows: ClassVar[bool] = False
    """Whether its lines go from row to row."""
    in_order: ClassVar[bool] = False
    """Whether its points stand in order on a curve, so that none hides what another one says."""
    reaches: ClassVar[str] = ""
    """Whether its marks are intervals: always, or where ends are given."""
    fits: ClassVar[bool] = False
    """Whether its lines are fitted, with slopes that may be told."""
    kept_free: ClassVar[bool] = False
    """Whether texts keep off what lies between the ends of its marks."""
    amounts: ClassVar[bool] = False
    """Whether what it shows of a level adds up over panels and groups."""
    color_is_value: ClassVar[bool] = False
    """Whether its color is what it shows of a place."""
    ends_count: ClassVar[bool] = False
    """Whether what it shows of a level is where its line ends."""
    bordered: ClassVar[bool] = False
    """Whether line_width is that of borders alone, which are drawn where they have an outline."""
    filled_marks: ClassVar[bool] = False
    """Whether its marks are areas on which lines of the same color would vanish."""
    line_marks: ClassVar[bool] = False
    """Whether its marks are lines or dots that can vanish on areas of their own color."""
    thing: ClassVar[str] = "row"
    """What one of its computed rows is, for counts of what lies outside a window."""
    missing_says: ClassVar[str] = (
        "A row without a value that it shows is left out, and a finding counts it; where every row is a mark, one that lacks "
        "only a color, an outline or a shape is drawn in that of missing values."
    )
    """What it does with missing values."""
    rows_unseen: ClassVar[bool] = False
    """Whether no row shows in it, so that none is missed that has no value."""
    over_edges: ClassVar[bool] = False
    """Whether it goes on to the edges of its panel, at which it is cut."""
    fills_panel: ClassVar[bool] = False
    """Whether its marks fill their panel, whatever part of the axes is seen."""
    at_edges: ClassVar[bool] = False
    """Whether its marks are ticks at the edges of the panel, each of which stands on one axis alone."""
    rows_alone: ClassVar[bool] = False
    """Whether a mark is a row of the data and nothing else, so that others may be left out beside it."""
    settled_columns: ClassVar[tuple[str, ...]] = ()
    """What it computes of all rows alone, also where some are chosen, such as where lines break."""
    chosen_says: ClassVar[str] = "Of all rows."
    """What it does where a reader chooses rows of which a figure is to be computed."""
    by_place: ClassVar[bool] = False
    """Whether rows at one x are taken together, so that those which differ by rounding are at one too."""
    drops_outside: ClassVar[bool] = False
    """Whether a mark outside a window is left out whole, instead of being cut at its edge."""
    scatters: ClassVar[bool] = False
    """Whether chance moves its marks, so that those near an edge may be mirrored at it."""
    takes_ends: ClassVar[bool] = False
    """Whether it shows given ends along x, along y, or along both."""
    can_turn: ClassVar[bool] = False
    """Whether a category on y and a number on x turns it."""
    explains: ClassVar[bool] = False
    """Whether it explains other layers: what it does not show is shown elsewhere."""
    counts_by_bins: ClassVar[bool] = False
    """Whether its counts are those of the bins of another layer along the same axis, where there is one."""
    compares_spaces: ClassVar[bool] = False
    """Whether a reader compares it with others of its axis, which then should compute in the same space."""
    spans: ClassVar[bool] = False
    """Whether its marks are lines from end to end, of which the values written on other layers stand clear."""
    dark_on_own: ClassVar[bool] = False
    """Whether it takes the ink of texts over filled marks of its own color, since its place tells its group."""
    values_inside: ClassVar[bool] = False
    """Whether what is written on its marks stands in their middle, or nowhere."""
    keeps_groups: ClassVar[bool] = True
    """Whether each of its computed rows is of one group."""
    stands_level: ClassVar[bool] = False
    """Whether its marks are drawn as the reader sees x and y, also where the axes are swapped, since texts stay level."""
    drawn_at_once: ClassVar[bool] = False
    """Whether its marks make room for each other while they are drawn, so that all are drawn in one go."""
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
    usual: ClassVar[Mapping[str, LookValue]] = {}
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

    def names_told(self, context: Context, horizontal: bool) -> Mapping[str, Computed]:  # noqa: ARG002
        """What it computes of what is mapped, under the names that readers use: x and y as they see them."""
        if not horizontal:
            return self.names()
        return {
            TURNED[name] if name in _FURTHER else name: entry._replace(column=entry.column or name) if name in _FURTHER else entry
            for name, entry in self.names().items()
        }

    def summarises(self, mapped: Mapped) -> bool:  # noqa: ARG002
        """Whether a mark stands for several rows, so that no look can follow a number of theirs."""
        return False

    def results(self, mapped: Mapped) -> bool:
        """Whether the rows of its table are results of their own, and not rows of the data."""
        return self.summarises(mapped)

    def a_mark_each(self, mapped: Mapped) -> bool:
        """Whether each row is a mark of its own, so that one without a look is still there to be drawn."""
        return not self.results(mapped)

    def shows(self, mapped: Mapped) -> tuple[str, ...]:  # noqa: ARG002
        """The aesthetics that it has a use for."""
        return self.takes

    def uses_weight(self, mapped: Mapped) -> bool:  # noqa: ARG002
        """Whether a weight changes what it computes."""
        return bool(self.weighs)

    def seeing(self, table: Table) -> Self:  # noqa: ARG002
        """The layer once it knows its table, of which it may need a column that shows in no mark."""
        return self

    def lines_of(self, rows: Columns, box: Region) -> list[Region]:  # noqa: ARG002
        """The lines across a panel that texts keep off, as thin regions; its rows are given in points."""
        return []

    def bins_of_axis(self) -> BinsBeside | None:
        """The edges of its bins, shape (k + 1,), in the unit of the data; None where it has none."""
        return None

    def redraws_rows(self) -> bool:
        """Whether some of its marks are rows of the data, which a layer of all rows would draw again."""
        return False

    def finish(self, context: Context) -> Finish | None:
        """How a page computes it anew of chosen rows; None where it stays as all rows make it."""
        return Finish("rows", "row") if self.rows_alone and not self.results(context.columns) else None

    def cell_edges(self, source: Source, context: Context) -> Mapping[str, FloatArray] | None:  # noqa: ARG002
        """The edges of its square cells along x and along y, as places on the axes; None where it has none."""
        return None

    def nothing(self, rows: Columns) -> Columns:
        """Computed rows as they take their places where none of their rows are chosen."""
        return rows

    def text_side(self, groups: int, horizontal: bool) -> str:
        """The side of its marks at which a text about them stands: beyond their end, inside it, or "middle"."""
        if self.values_inside:
            return "middle"
        inside = getattr(self, "arrange", "") in ("stack", "share") and groups > 1 and self.filled_marks
        if horizontal:
            return "left" if inside else "right"
        return "below" if inside else "above"

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

    def own_rows(self, place: Placing) -> Mapping[str, Sequence[float]]:
        """The rows of a layer that stands alone; `place` turns a value on an axis into data."""
        raise NotImplementedError

    def prepare(self, source: Source, context: Context) -> Self:  # noqa: ARG002
        """What must be the same in all panels and groups, such as the edges of bins."""
        return self

    def prepare_apart(self, along_x: Source, along_y: Source, context: Context) -> Self:  # noqa: ARG002
        """Likewise for panels that share one axis with some panels and the other one with others.

        Args:
            along_x: The rows of all panels that share x.
            along_y: The rows of all panels that share y.
            context: What it may know.
        """
        return self.prepare(along_x, context)

    def compute(self, source: Source, context: Context) -> Columns:  # noqa: ARG002
        """From all rows to what is drawn; panels and groups are told by the rows' own numbers.

        What sums can say is asked of the source, which may have its rows elsewhere; `source.rows()` fetches them.
        """
        return source.rows()

    @property
    def smooths(self) -> bool:
        """Whether its curve follows the rows near each place, so that it says nothing where there are none."""
        return False

    def small(self, size: float) -> Self:  # noqa: ARG002
        """The layer in panels that are many and small, with marks of a size where they have one that nobody said."""
        return self

    def stands_side_by_side(self, context: Context) -> bool:  # noqa: ARG002
        """Whether its groups stand side by side in their slots."""
        return getattr(self, "arrange", "") == "side_by_side"

    def arrange_rows(self, rows: Columns, context: Context) -> Columns:  # noqa: ARG002
        """How marks on the same place share it."""
        return rows

    def things(self, rows: Columns) -> AnyArray | None:  # noqa: ARG002
        """What each computed row is, for counts of what lies outside a window; None where all are a `thing`."""
        return None

    def described(self, rows: Columns, context: Context) -> list[str]:  # noqa: ARG002
        """Sentences about what it found, for readers who can't see the figure."""
        return []

    def beyond_slots(self) -> tuple[float, float]:
        """How far its marks reach beyond the first and the last slot of an axis of categories, in slots: the room it gives."""
        return 0.0, 0.0

    def spanning(self, rows: Columns) -> Columns:
        """The computed rows that say how far an axis of a panel's own reaches."""
        return rows

    def reaching(self, rows: Columns) -> Columns:
        """The computed rows that say how far any axis reaches."""
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

    def draw_key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Mark]:
        """How one entry of a legend is drawn in a small box."""
        raise NotImplementedError
