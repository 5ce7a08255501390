"""One grammar sentence: data, mapping, layers, facet, scales, titles, theme."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import NamedTuple

from facetine.core.arrays import is_number
from facetine.data.codebook import Codebook
from facetine.data.reread import column_of_kind
from facetine.data.table import KINDS, Column, Levels, Table, no_column
from facetine.grammar.aesthetics import MapValue, with_computed
from facetine.grammar.choice import Choice, ChosenRows, Response
from facetine.grammar.facet import Facet
from facetine.grammar.given import NOT_GIVEN, Options, Plain
from facetine.grammar.highlight import Highlight
from facetine.grammar.layer import Layer
from facetine.grammar.marginal import Marginal
from facetine.grammar.matrix import Matrix
from facetine.grammar.panel import PanelSpec
from facetine.grammar.sample import Sample
from facetine.grammar.scale import NOTHING, ScaleSpec
from facetine.grammar.sheet import SheetSpec
from facetine.grammar.theme import THEMES, Theme
from facetine.grammar.variables import Variables
from facetine.messages.errors import OptionError, told, unknown


class Pool(NamedTuple):
    """Levels that are kept, and what the others are called together; None where they are left out."""

    kept: Levels
    rest: str | None


@dataclass(frozen=True)
class Titles:
    """Texts of a figure; None where nothing is said."""

    title: str | None = None
    subtitle: str | None = None
    note: str | None = None
    source: str | None = None
    """Where the data come from."""
    guides: Mapping[str, str] = field(default_factory=dict)
    """Titles of axes and legends by aesthetic."""

    def with_guide(self, aesthetic: str, title: str | None) -> Titles:
        """With the title of one axis or legend; None takes it back."""
        rest = {name: text for name, text in self.guides.items() if name != aesthetic}
        return replace(self, guides=rest if title is None else {**self.guides, aesthetic: title})

    @property
    def below(self) -> str:
        """What stands below all else: the note, and the source on a line of its own."""
        return "\n".join(text for text in (self.note, self.source) if text)


def said_texts(given: Mapping[str, object], where: str) -> dict[str, str | None]:
    """Those of some texts that are said; None stands for one that is taken back.

    Raises:
        OptionError: One is no text.
    """
    said: dict[str, str | None] = {}
    for name, text in given.items():
        if text is NOT_GIVEN:
            continue
        if text is not None and not isinstance(text, str):
            raise OptionError(where, f"{name} is a text, not {told(text)}")
        said[name] = text
    return said


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
    scales_of: Mapping[tuple[str, str], ScaleSpec] = field(default_factory=dict)
    """What is said of scales where they show one column: by aesthetic and column."""
    over_variables: Variables | None = None
    """The columns over which it is repeated."""
    matrix: Matrix | None = None
    """The columns that are set against each other, with the layers of their pairs."""
    insets: tuple[Inset, ...] = ()
    """Figures set into its panels."""
    marginals: tuple[Marginal, ...] = ()
    """Distributions at the edges of the panels."""
    panel: PanelSpec = PanelSpec()
    """What is said of the size of panels."""
    sheet: SheetSpec = SheetSpec()
    """What is said of the size of the sheet."""
    titles: Titles = Titles()
    theme: Theme = THEMES["press"]
    theme_said: Options = field(default_factory=dict)
    steps: tuple[tuple[str, Options], ...] = ()
    """What was kept and derived, in order, as it was said; `table` has it done."""
    swapped: bool = False
    """Whether x and y change places."""
    pools: Mapping[str, Pool] = field(default_factory=dict)
    """Levels of aesthetics that are pooled, once it is known which."""
    seed: int = 1
    """Of all that is left to chance."""
    sample: Sample | None = None
    """The part of its rows that is drawn and computed from."""
    highlight: Highlight | None = None
    """The rows that keep their inks, while the others are quiet."""
    choices: Mapping[str, Choice] = field(default_factory=dict)
    """What a reader of a page can choose in it, by name."""
    responses: Mapping[str, Response] = field(default_factory=dict)
    """What it does with choices of the sheet, by their names."""
    chosen: ChosenRows | None = None
    """The rows that it is computed of, where some were chosen; what they can't change is settled by all."""
    live: bool = False
    """Whether choices are left to a reader, so that what is chosen at first is not drawn."""

    def shows(self, aesthetic: str) -> bool:
        """Whether something is mapped to an aesthetic: for all layers or for one, or column by column."""
        varied = self.matrix is not None or (
            self.over_variables is not None and bool(getattr(self.over_variables, aesthetic, None))
        )
        if varied and aesthetic in ("x", "y"):
            return True
        return any(mapping.get(aesthetic) is not None for mapping in (self.mapping, *(layer.map for layer in self.layers)))

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

    def with_named_places(self) -> Sentence:
        """Columns called x and y as what stands there, where nothing at all is mapped."""
        if self.mapping or self.table is None or any(layer.map for layer in self.layers):
            return self
        named: dict[str, MapValue] = {name: name for name in ("x", "y") if name in self.table.names}
        return replace(self, mapping=named) if named else self

    def crossed_names(self, column: str) -> tuple[str, ...]:
        """What each of the columns that a crossed one holds is called, without units."""
        return tuple(self.codebook.parts(name)[0] for name in column.split(" × "))

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
                column_of_kind(self.table, name, kind, where)
        return replace(self, kinds={**self.kinds, **given})

    def with_computed(self, where: str, *, again: bool = False) -> Sentence:
        """The sentence with the columns in its table that expressions in mappings make.

        Raises:
            MappingError: An expression fails.
        """
        if self.table is None:
            return self
        mappings = [self.mapping, *(layer.map for layer in self.layers if layer.data is None)]
        table = with_computed(self.table, mappings, where, again=again)
        return self if table is self.table else replace(self, table=table)

    def column(self, table: Table, name: str, where: str, use: str) -> Column:
        """A column of a table in the kind that the sentence, or else the codebook, says."""
        column = table.need(name, where, use)
        kind = self.kinds.get(name) or self.codebook.entry(name).kind
        return column if kind is None else column_of_kind(table, name, kind, where)


@dataclass(frozen=True, kw_only=True)
class Inset:
    """A figure in a panel."""

    figure: Sentence
    at: tuple[float, float, float, float]
    """Left, lower, right and upper edge."""
    units: str = "share"
    """Whether these are shares of the panel or values on its axes."""
    panel: str | None = None
    """Which panel, by what it is called; the first where nothing is said."""
    zoom: bool = False
    """Whether a box in the panel shows what the inset shows, with lines between the two."""

    def said(self) -> Plain:
        """The options that differ from their defaults."""
        own: Plain = {"at": self.at}
        own |= {"units": self.units} if self.units != "share" else {}
        own |= {"panel": self.panel} if self.panel is not None else {}
        return own | ({"zoom": True} if self.zoom else {})


def checked_place(at: object, units: str, where: str) -> tuple[float, float, float, float]:
    """The four edges of an inset.

    Raises:
        OptionError: They are no four numbers that make a rectangle; or shares outside the panel.
    """
    if not isinstance(at, tuple | list) or len(at) != 4 or not all(is_number(edge) for edge in at):
        raise OptionError(
            where,
            f"at is (left, lower, right, upper), not {told(at)}",
            "such as (0.55, 0.55, 0.98, 0.98), in shares of the panel",
        )
    left, lower, right, upper = map(float, at)
    if not (left < right and lower < upper):
        raise OptionError(where, f"at {at!r} is no rectangle", "left is less than right, lower less than upper")
    if units == "share" and not (left >= 0 and right <= 1 and lower >= 0 and upper <= 1):
        raise OptionError(
            where, f"at {at!r} reaches beyond the panel", 'shares are from 0 to 1; units="data" takes values on the axes'
        )
    return left, lower, right, upper
