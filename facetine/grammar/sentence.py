"""One grammar sentence: data, mapping, layers, facet, scales, titles, theme."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from itertools import pairwise
from typing import Any

from facetine.core.scales.templates import parsed
from facetine.data.codebook import Codebook
from facetine.data.reread import as_kind
from facetine.data.table import KINDS, Column, Levels, Table, no_column
from facetine.errors import OptionError, told, unknown
from facetine.grammar.aesthetics import MapValue
from facetine.grammar.given import Length, Options
from facetine.grammar.layer import Layer
from facetine.grammar.lengths import in_points
from facetine.grammar.options import anything, choice, flag, names, numbers, option, text, whole
from facetine.grammar.scale import NOTHING, ScaleSpec
from facetine.grammar.theme import THEMES, Theme


def _breaks(value: object, where: str) -> tuple[float, ...]:
    ends = numbers(value, where)
    if not ends or any(after <= before for before, after in pairwise(ends)):
        raise OptionError(f"{where} is a list of increasing numbers, not {told(value)}", "such as [60, 180]")
    return ends


def _length(value: object, where: str) -> str | float:
    in_points(value, where)
    return value if isinstance(value, str) else float(value)  # type: ignore[arg-type]


def _separate(value: object, where: str) -> str | dict[str, str]:
    if not isinstance(value, Mapping):
        return str(choice("x", "y", "xy", name="axes")(value, where))
    for axis, sharing in value.items():
        choice("x", "y", name="axes")(axis, where)
        choice("row", "column", "panel", name="words")(sharing, f"{where}[{axis!r}]")
    return {str(axis): str(sharing) for axis, sharing in value.items()}


@dataclass(frozen=True, kw_only=True)
class Facet:
    """Panels for the values of a column."""

    by: str = option("", anything, "The column; empty for panels in rows and columns.")
    rows: str | None = option(None, text, "The column whose values are rows of panels.")
    columns: str | None = option(None, text, "The column whose values are columns of panels.")
    per_row: int | None = option(None, whole(1, 1000), "How many panels stand side by side.")
    order: Levels | None = option(None, names, "The values in their order; others follow.")
    per_column: int | None = option(None, whole(1, 1000), "How many stand below each other, one after the other.")
    separate: str | Mapping[str, str] | None = option(
        None,
        _separate,
        'The axes that each panel has of its own: "x", "y" or "xy"; {"y": "row"}: one a row of panels. Shared by default.',
    )
    breaks: tuple[float, ...] | None = option(None, _breaks, "Where classes of a column of numbers part, each a panel.")
    gap_x: Length = option(None, _length, 'Room between columns of panels, such as "4 mm"; the theme\'s `panel_gap` by default.')
    gap_y: Length = option(None, _length, "Room between rows of panels.")
    repeat_axes: bool = option(False, flag, "Whether every panel has the labels of its axes.")
    empty: str = option("keep", choice("keep", "drop", name="words"), "Whether crossed panels without any row are kept.")
    heading: str | Callable[[Any], str] = option(
        "{value}", anything, 'What stands over a panel: "{value}", "{name}: {value}" or a callable.'
    )

    @property
    def variables(self) -> tuple[str, ...]:
        """The columns whose values make panels: that of the rows first."""
        return (self.by,) if self.by else tuple(name for name in (self.rows, self.columns) if name is not None)

    @property
    def sharing(self) -> dict[str, str]:
        """What has an axis of its own, for x and y: a panel, a row, a column; nothing where all share one."""
        if isinstance(self.separate, Mapping):
            return dict(self.separate)
        return dict.fromkeys(self.separate or "", "panel")


@dataclass(frozen=True)
class Titles:
    """Texts of a figure; None where nothing is said."""

    title: str | None = None
    subtitle: str | None = None
    note: str | None = None
    guides: Mapping[str, str] = field(default_factory=dict)
    """Titles of axes and legends by aesthetic."""


@dataclass(frozen=True)
class Sentence:
    """Everything that a figure says."""

    table: Table | None
    codebook: Codebook
    mapping: Mapping[str, MapValue] = field(default_factory=dict)
    kinds: Mapping[str, str] = field(default_factory=dict)
    layers: tuple[Layer, ...] = ()
    scales: Mapping[str, ScaleSpec] = field(default_factory=dict)
    facet: Facet | None = None
    titles: Titles = Titles()
    theme: Theme = THEMES["press"]
    theme_said: Options = field(default_factory=dict)
    steps: tuple[tuple[str, Options], ...] = ()
    """What was kept and derived, in order, as it was said; `table` has it done."""
    swapped: bool = False
    """Whether x and y change places."""
    seed: int = 1
    """Of all that is left to chance."""

    def scale(self, aesthetic: str) -> ScaleSpec:
        """What is said of a scale."""
        return self.scales.get(aesthetic, NOTHING)

    def said_title(self, aesthetic: str) -> str | None:
        """The title that was said, for the figure or the scale; None for none."""
        title = self.titles.guides.get(aesthetic)
        return self.scale(aesthetic).title if title is None else title

    def column_title(self, column: str) -> str:
        """What a column is called, with its unit; crossed columns each."""
        return " × ".join(self.codebook.title(name) for name in column.split(" × "))

    def said_order(self, name: str) -> Levels:
        """The codebook's order of a column's categories, by their words."""
        entry = self.codebook.entry(name)
        return tuple(entry.word(code) for code in entry.order)

    def missing_policy(self, aesthetic: str, name: str) -> str | None:
        """What becomes of rows without a value: the scale's word, else the codebook's."""
        return self.scale(aesthetic).missing or self.codebook.entry(name).missing

    def missing_color(self, aesthetic: str, name: str) -> str:
        """The color of rows without a value: what was said, else the theme's."""
        color = self.missing_policy(aesthetic, name)
        return self.theme.missing_color if color is None or color in ("drop", "show") else color

    def with_kinds(self, given: Mapping[str, str], where: str) -> Sentence:
        """The sentence with columns read as these kinds.

        Raises:
            MappingError: There is no such column.
            OptionError: There is no such kind.
            KindError: A column can't be read so.
        """
        for name, kind in given.items():
            if not isinstance(kind, str) or kind.partition(":")[0] not in KINDS:
                raise unknown(OptionError, where, f"column {name!r}: no kind", kind, KINDS, "kinds")
            if self.table is not None:
                if name not in self.table.names:
                    raise no_column(name, self.table.names, where, f"kind {kind!r}")
                as_kind(self.table.column(name), kind, where)
        return replace(self, kinds={**self.kinds, **given})

    def column(self, table: Table, name: str, where: str, use: str) -> Column:
        """A column of a table in the kind that the sentence, or else the codebook, says."""
        column = table.need(name, where, use)
        kind = self.kinds.get(name) or self.codebook.entry(name).kind
        return column if kind is None else as_kind(column, kind, where)


def check_facet(facet: Facet, where: str) -> None:
    """What a facet says must go together.

    Raises:
        OptionError: It wraps and crosses at once, or says something of one form that belongs to the other.
    """
    crossed = facet.rows is not None or facet.columns is not None
    if crossed and facet.by:
        raise OptionError(
            f"{where}: {facet.by!r} and rows= or columns= say the panels twice", 'rows="milk", columns="rind" crosses two'
        )
    if facet.rows is not None and facet.rows == facet.columns:
        raise OptionError(f"{where}: rows and columns are both {facet.rows!r}", "a column crosses another one")
    for name in ("per_row", "per_column", "order", "breaks"):
        if crossed and getattr(facet, name) is not None:
            mends = {"order": "the codebook orders the values of a column", "breaks": "the codebook's classes divide a column"}
            mend = mends.get(name, f"facet({facet.variables[0]!r}, {name}=…) wraps")
            raise OptionError(f"{where}: {name} is for panels that wrap, not for rows= and columns=", mend)
    if facet.per_row is not None and facet.per_column is not None:
        raise OptionError(f"{where}: per_row and per_column say the same thing", "give one of them")
    if not crossed and facet.empty == "drop":
        raise OptionError(f"{where}: empty is for rows= and columns=", "panels that wrap are those of values that occur")
    if not crossed and any(sharing != "panel" for sharing in facet.sharing.values()):
        raise OptionError(
            f"{where}: separate by rows and columns is for rows= and columns=", 'separate="y" gives each panel its own'
        )


HEADING_PARTS = ("name", "value", "count")


def checked_heading(heading: object, where: str) -> str | Callable[[Any], str]:
    """A heading's template with known parts, or a callable.

    Raises:
        OptionError: It is neither, or names an unknown part.
    """
    if callable(heading):
        return heading
    if not isinstance(heading, str):
        raise OptionError(f'{where}: heading is a text such as "{{name}}: {{value}}" or a callable, not {told(heading)}')
    try:
        parts = parsed(heading).names
    except ValueError as problem:
        raise OptionError(f"{where}: heading {told(heading)} is no template: {problem}") from problem
    for part in parts:
        if part not in HEADING_PARTS:
            raise unknown(OptionError, where, "heading has no part", part, HEADING_PARTS, "parts")
    return heading
