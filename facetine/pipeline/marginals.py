"""Distributions at the edges of panels: figures of their own that share one axis with the figure beside them."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np

from facetine.data.expressions import with_column
from facetine.data.table import Column, Table
from facetine.grammar.aesthetics import TURNED, MapValue
from facetine.grammar.facet import Facet
from facetine.grammar.marginal import Marginal
from facetine.grammar.scale import ScaleSpec
from facetine.grammar.sentence import Sentence, Titles
from facetine.messages.errors import MappingError, OptionError
from facetine.pipeline.arranged import Arranged
from facetine.pipeline.boxes import Words
from facetine.pipeline.headings import gaps_of, headed
from facetine.pipeline.marginal_rows import mapped_of, shown_rows, table_of, with_limits, with_missing
from facetine.pipeline.members import Member, Planned
from facetine.pipeline.panels import AxisTitle, Grid, Panel, Panels
from facetine.pipeline.sheet import styles_of
from facetine.pipeline.split import Owners

SLOT = "every row"
"""The column that puts all rows into one slot, for layers that need one."""
UNNAMED = ScaleSpec(format={"": ""})
"""The scale of that slot, which has no name."""
_APART = 3.0
"""Room between a panel and its marginal, in points."""
_GROUPING = ("color", "weight", "group")
"""What a marginal takes from the figure besides the axis."""


def planned_marginals(sentence: Sentence) -> tuple[Planned, ...]:
    """The figure itself, then a figure for each of its marginals.

    Raises:
        MappingError: A marginal is to share an axis on which no column of the data stands.
        OptionError: It is to stand at an edge that panels do not share.
    """
    main = with_limits(replace(sentence, marginals=()))
    planned = [Planned(main)]
    for number, marginal in enumerate(sentence.marginals, 1):
        owners = Owners(0, number) if marginal.axis == "x" else Owners(number, 0)
        planned.append(Planned(_sentence(main, marginal), owners, "over" if marginal.axis == "x" else "beside"))
    return tuple(planned)


def _sentence(main: Sentence, marginal: Marginal) -> Sentence:
    """What a marginal says: its layer, of the rows that the panel shows, along the axis that it shares."""
    where, shared = f"figure.marginal({marginal.side!r})", marginal.axis
    own = "y" if shared == "x" else "x"
    # A sentence whose axes are swapped is said the other way round.
    said, said_own = (TURNED[shared], TURNED[own]) if main.swapped else (shared, own)
    mapped, table = mapped_of(main), table_of(main)
    if mapped.get(said) is None or table is None:
        raise MappingError(
            f"{where}: no column stands on the {shared} axis, so there are no rows to be shown along it",
            f"map one with .map({said}=…), or choose a side along the other axis",
        )
    places = {said: mapped.get(said), said_own: mapped.get(said_own)}
    table = shown_rows(main, table, places, where, own_rows=marginal.layer.where is not None)
    taken = {
        name: mapped[name] for name in _GROUPING if mapped.get(name) is not None and _takes(main, table, marginal, name, mapped)
    }
    mapping: dict[str, MapValue] = {said: mapped[said], **taken}
    titles = {name: text for name, text in main.titles.guides.items() if name != said_own}
    scales = {name: spec for name, spec in main.scales.items() if name not in (said_own, "size", "shape", "dash", "opacity")}
    own_scale = ScaleSpec(reverse=True) if marginal.side in ("bottom", "left") else ScaleSpec()
    if marginal.layer.lacks({said: mapped[said]}) is not None or "y" in marginal.layer.required:
        table = with_slot(table)
        mapping[said_own], titles[said_own] = SLOT, ""
        own_scale = UNNAMED
    scales |= with_missing(main, table, taken)
    shared_scale = replace(scales[said], second_axis=None) if said in scales else ScaleSpec()
    layer = marginal.layer
    constant = next((layer.constant("color") for layer in main.layers if layer.constant("color") is not None), None)
    if layer.constant("color") is None and "color" not in mapping and constant is not None and hasattr(layer, "color"):
        layer = replace(layer, color=constant)  # type: ignore[call-arg]
    return replace(
        main,
        table=table,
        mapping=mapping,
        layers=(layer,),
        scales={**scales, said: shared_scale, said_own: own_scale},
        facet=_facet(main.facet, marginal, where),
        titles=Titles(guides=titles),
    )


def with_slot(table: Table) -> Table:
    """A table with a column that puts all rows into one slot."""
    return with_column(table, Column(SLOT, "category", np.zeros(table.height, np.int64), ("",)))


def _takes(main: Sentence, table: Table, marginal: Marginal, name: str, mapped: Mapping[str, MapValue]) -> bool:
    """Whether a marginal's rows are divided or weighed by a column: by a category, never by a number that colors show."""
    value = mapped[name]
    if name == "weight":
        return "weight" in marginal.layer.takes
    if not isinstance(value, str):
        return True
    return value in table.names and (name == "group" or main.column(table, value, "figure.marginal", name).discrete)


def _facet(facet: Facet | None, marginal: Marginal, where: str) -> Facet | None:
    """Panels of a marginal: those of the figure, or one for each column or row of them at its edge."""
    if facet is None:
        if marginal.panels == "edge":
            raise OptionError(f"{where}: panels='edge' has no effect without panels", "add .facet(…)")
        return None
    shared = {axis: how for axis, how in facet.sharing.items() if axis == marginal.axis}
    if marginal.panels == "each":
        return replace(facet, separate=shared or None)
    across = marginal.axis == "x"
    if facet.per_page is not None:
        raise OptionError(f"{where}: panels='edge' counts the rows of all pages, of which each shows some", 'panels="each"')
    if shared and shared[marginal.axis] != ("column" if across else "row"):
        raise OptionError(
            f"{where}: panels='edge' needs one {marginal.axis} axis for all panels behind it, and each has its own",
            'panels="each", or leave out separate=',
        )
    if not facet.crossed:
        if (facet.per_row if across else facet.per_column) != 1:
            raise OptionError(
                f"{where}: panels='edge' is for panels in rows and columns, and these are wrapped",
                'panels="each", or facet(columns=…)',
            )
        return None
    variable = facet.columns if across else facet.rows
    if variable is None:
        return None
    single_side = Facet(columns=variable) if across else Facet(rows=variable)
    return replace(single_side, order=facet.order, separate=shared or None)


def arranged_marginals(sentence: Sentence, members: Sequence[Member]) -> Arranged:
    """The figure's panels with their marginals around them."""
    main, marginals = members[0], sentence.marginals
    panels, spans = headed(main.split)
    even = Grid.even(panels, gaps_of(main.split.sentence))
    columns = _Tracks(even.columns, even.column_gaps, marginals, ("left", "right"))
    rows = _Tracks(even.rows, even.row_gaps, marginals, ("top", "bottom"))
    headings = {panel.number: panel.heading for panel in panels}
    placed = [_moved(panel, rows.main(panel.rows.start), columns.main(panel.columns.start)) for panel in panels]
    done = list(placed)
    topmost = {panel.number: at for at, panel in enumerate(placed)}
    for member, marginal in zip(members[1:], marginals, strict=True):
        for own in member.split.panels:
            beside = _neighbour(panels, marginal, own)
            at = columns.at(marginal, beside.columns.start) if marginal.axis == "y" else rows.at(marginal, beside.rows.start)
            row, column = (rows.main(beside.rows.start), at) if marginal.axis == "y" else (at, columns.main(beside.columns.start))
            name = f"{beside.name}, {marginal.side}" if beside.name else f"Marginal at the {marginal.side}"
            panel = own._replace(number=len(done), field=member.number, role=member.role, name=name, page=beside.page)
            done.append(_moved(panel, row, column))
            if marginal.side == "top" and row <= done[topmost[beside.number]].rows.start:
                topmost[beside.number] = len(done) - 1
    for number, at in topmost.items():
        # The heading stands over everything that belongs to the panel.
        if at != number:
            done[number] = done[number]._replace(heading=None)
            done[at] = done[at]._replace(heading=headings[number])
    titles = _titles(members, marginals, done, len(rows.shares), columns, rows)
    style = styles_of(sentence.theme).text
    least = {
        title.columns.start: Words(title.text, style, "", "", "").measure("x", 0.0).least
        for title in titles
        if title.axis == "x" and len(title.columns) == 1 and columns.shares[title.columns.start] < 1
    }
    grid = Grid(columns.shares, rows.shares, columns.gaps, rows.gaps, least)
    moved = tuple(
        span._replace(tracks=range(tracks.main(span.tracks.start), tracks.main(span.tracks.stop - 1) + 1))
        for span in spans
        for tracks in (columns if span.axis == "x" else rows,)
    )
    return Arranged(tuple(done), grid, titles, moved)


def _moved(panel: Panel, row: int, column: int) -> Panel:
    return panel._replace(rows=range(row, row + 1), columns=range(column, column + 1))


def _neighbour(panels: Panels, marginal: Marginal, own: Panel) -> Panel:
    """The panel beside which a panel of a marginal stands; at an edge, the outermost of those that it counts."""
    if marginal.panels == "each":
        return panels[own.number]
    if marginal.axis == "x":
        column = sorted((panel for panel in panels if panel.columns == own.columns), key=lambda panel: panel.rows.start)
        return column[0 if marginal.side == "top" else -1]
    row = sorted((panel for panel in panels if panel.rows == own.rows), key=lambda panel: panel.columns.start)
    return row[0 if marginal.side == "left" else -1]


class _Tracks:
    """Columns, or rows, of panels with the marginals before and behind them."""

    def __init__(
        self, shares: tuple[float, ...], gaps: tuple[float, ...], marginals: Sequence[Marginal], sides: tuple[str, str]
    ) -> None:
        before, behind = sides
        self.places = {
            (side, panels): [marginal for marginal in marginals if (marginal.side, marginal.panels) == (side, panels)]
            for side in sides
            for panels in ("each", "edge")
        }
        self.sides = sides
        self.count = len(shares)
        first = self.places[before, "each"][::-1]
        last = self.places[behind, "each"]
        self.block = len(first) + 1 + len(last)
        self.lead = len(self.places[before, "edge"])
        own: list[tuple[float, float]] = [(marginal.depth, _APART) for marginal in self.places[before, "edge"][::-1]]
        for number, share in enumerate(shares):
            inside = [*(marginal.depth for marginal in first), share, *(marginal.depth for marginal in last)]
            own += [(size, (gaps[number] if number else _APART) if place == 0 else _APART) for place, size in enumerate(inside)]
        own += [(marginal.depth, _APART) for marginal in self.places[behind, "edge"]]
        self.shares = tuple(size for size, _ in own)
        self.gaps = (0.0, *(gap for _, gap in own[1:]))

    def main(self, number: int) -> int:
        """The track of a column, or row, of panels."""
        return self.lead + number * self.block + len(self.places[self.sides[0], "each"])

    def at(self, marginal: Marginal, number: int) -> int:
        """The track of a marginal of a column, or row, of panels."""
        # Two that say the same stand side by side.
        place = next(number for number, one in enumerate(self.places[marginal.side, marginal.panels]) if one is marginal)
        before = marginal.side == self.sides[0]
        if marginal.panels == "each":
            return self.main(number) - 1 - place if before else self.main(number) + 1 + place
        return self.lead - 1 - place if before else self.lead + self.count * self.block + place


def _titles(
    members: Sequence[Member],
    marginals: Sequence[Marginal],
    panels: list[Panel],
    count: int,
    columns: _Tracks,
    rows: _Tracks,
) -> tuple[AxisTitle, ...]:
    """Titles of the figure's axes, and of each axis that a marginal has of its own: what it counts."""
    main, last = members[0], count - 1
    every = range(columns.main(0), columns.main(columns.count - 1) + 1)
    titles = [
        AxisTitle("x", main.scales.first("x").title, last, every),
        AxisTitle("y", main.scales.first("y").title, rows.main(0), every),
    ]
    thinned = any(getattr(layer, "thin", None) is not None for layer in main.split.sentence.layers)
    for member, marginal in zip(members[1:], marginals, strict=True):
        own = member.scales.first("y" if marginal.axis == "x" else "x")
        label, unit = re.fullmatch(r"(.*?)( \(per .*\))?", own.title, re.DOTALL).groups("")  # type: ignore[union-attr]
        text = f"{label} of all rows{unit}" if thinned and own.title and own.kind != "levels" else own.title
        standing = [panel for panel in panels if panel.field == member.number]
        if marginal.axis == "x":
            titles.append(AxisTitle("y", text, min(panel.rows.start for panel in standing), every))
        else:
            titles += [AxisTitle("x", text, last, place) for place in dict.fromkeys(panel.columns for panel in standing)]
    return tuple(titles)
