"""Where the panels of several figures stand on their sheet."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import NamedTuple

from facetine.grammar.marginal import Marginal
from facetine.grammar.matrix import Matrix
from facetine.grammar.sentence import Sentence
from facetine.grammar.variables import Variables
from facetine.messages.findings import Saying
from facetine.pipeline.composition.composed import Composition
from facetine.pipeline.composition.matrices import Pair
from facetine.pipeline.guides.boxes import Words
from facetine.pipeline.guides.direct import direct_names
from facetine.pipeline.guides.headings import gaps_of, headed
from facetine.pipeline.layout.request import styles_of
from facetine.pipeline.rows.panels import AxisTitle, Grid, Panel, Panels, Span, columns_beside
from facetine.pipeline.scales.look_scales import Scales
from facetine.pipeline.scales.member import Member

_APART = 3.0
"""Room between a panel and its marginal, in points."""


class Arranged(NamedTuple):
    """The panels of all figures of a sheet in one grid, numbered in the order of the figures."""

    panels: Panels
    grid: Grid
    titles: tuple[AxisTitle, ...]
    spans: tuple[Span, ...] = ()


def arranged(composed: Composition, width: float, members: Sequence[Member]) -> Saying[Arranged]:
    """Where the panels of all figures of a composition stand.

    Args:
        composed: Which figures there are.
        width: Of the sheet in points.
        members: The figures, computed and settled.
    """
    sentence = composed.sentence
    if sentence.matrix is not None:
        return arranged_pairs(sentence, sentence.matrix, list(composed.pairs), members)
    if sentence.over_variables is not None:
        return (yield from arranged_columns(sentence, sentence.over_variables, width, members))
    return (yield from arranged_marginals(sentence, members) if sentence.marginals else _alone(members))


def _alone(members: Sequence[Member]) -> Saying[Arranged]:
    (member,) = members
    panels, spans = yield from headed(member.split)
    grid = Grid.even(panels, gaps_of(member.split.sentence))
    return Arranged(panels, grid, axis_titles(member.scales, grid), spans)


def axis_titles(scales: Scales, grid: Grid) -> tuple[AxisTitle, ...]:
    """The titles of the two axes that all panels have in common."""
    every = range(len(grid.columns))
    return AxisTitle("x", scales.first("x").title, len(grid.rows) - 1, every), AxisTitle("y", scales.first("y").title, 0, every)


def placed_members(members: Sequence[Member], arranged: Arranged) -> list[Member]:
    """The figures with the numbers of their panels on the sheet, and with the lines that are named at their ends."""
    first, done = 0, []
    columns = max(panel.columns.stop for panel in arranged.panels)
    for member in members:
        # Where a second axis stands at the right, there is no place for names at the ends of lines.
        alone = member.scales.first("y").spec.second_axis is None and member.role == "main"
        direct = direct_names(member.runs, member.scales.looks, columns) if alone else []
        done.append(member._replace(first=first, direct=direct))
        first += len(member.split.panels)
    return done


def arranged_columns(sentence: Sentence, variables: Variables, width: float, members: Sequence[Member]) -> Saying[Arranged]:
    """A panel for each column, wrapped; or rows and columns of panels."""
    first, spans = members[0], tuple[Span, ...]()
    x_varied, y_varied = (variables.y, variables.x) if sentence.swapped else (variables.x, variables.y)
    if sentence.facet is not None:
        panels, spans = yield from _faceted(members, "x" if x_varied else "y")
    elif x_varied and y_varied:
        panels = _crossed(members, x_varied, y_varied)
    else:
        beside = columns_beside(len(members), variables.per_row, width, first.split.sentence.theme)
        titles = [_title(member, "x" if x_varied else "y") for member in members]
        panels = [
            _at(member, *divmod(member.number, beside))._replace(heading=title, name=title)
            for member, title in zip(members, titles, strict=True)
        ]
    grid = Grid.even(tuple(panels), gaps_of(sentence))
    every, of_axes = range(len(grid.columns)), []
    for axis, varied, row in (("x", x_varied, len(grid.rows) - 1), ("y", y_varied, 0)):
        said = first.split.sentence.said_title(axis)
        of_axes.append(AxisTitle(axis, (said or "") if varied else first.scales.first(axis).title, row, every))
    return Arranged(tuple(panels), grid, tuple(of_axes), spans)


def _column(member: Member, axis: str) -> str:
    """The column of a member's axis, as the reader sees it."""
    return str(member.split.sentence.mapping[axis])


def _title(member: Member, axis: str) -> str:
    return member.split.sentence.column_title(_column(member, axis))


def _at(member: Member, row: int, column: int) -> Panel:
    """The one panel of a member in a row and a column."""
    return member.split.panels[0]._replace(
        number=member.number, field=member.number, rows=range(row, row + 1), columns=range(column, column + 1)
    )


def _crossed(members: Sequence[Member], x_varied: tuple[str, ...], y_varied: tuple[str, ...]) -> list[Panel]:
    panels = []
    for member in members:
        row, column = y_varied.index(_column(member, "y")), x_varied.index(_column(member, "x"))
        over, beside = _title(member, "x"), _title(member, "y")
        panels.append(
            _at(member, row, column)._replace(
                name=f"{beside}, {over}",
                heading=None if row else over,
                side_heading=beside if column == len(x_varied) - 1 else None,
            )
        )
    return panels


def _faceted(members: Sequence[Member], axis: str) -> Saying[tuple[list[Panel], tuple[Span, ...]]]:
    """A row of panels for each column, the values of the facet side by side."""
    panels: list[Panel] = []
    spans: tuple[Span, ...] = ()
    for member in members:
        own, outer = yield from headed(member.split)
        spans = spans or outer
        title, last = _title(member, axis), max(panel.columns.start for panel in own)
        row = range(member.number, member.number + 1)
        for panel in own:
            panels.append(
                panel._replace(
                    number=len(panels), field=member.number, rows=row, name=f"{title}, {panel.name}",
                    heading=None if member.number else panel.heading,
                    side_heading=title if panel.columns.start == last else None,
                )
            )  # fmt: skip
    return panels, spans


def arranged_pairs(sentence: Sentence, matrix: Matrix, found: Sequence[Pair], members: Sequence[Member]) -> Arranged:
    """Panels in rows and columns, headed by what stands on their axes; a row takes its axis from its pairs."""
    places = [(pair.row, pair.column) for pair in found]
    titles = [sentence.column_title(name) for name in matrix.columns]
    top = {column: min(row for row, other in places if other == column) for _, column in places}
    last = {row: max(column for other, column in places if other == row) for row, _ in places}
    of_rows = {row: member.split.panels[0].y for member, (row, column) in zip(members, places, strict=True) if row != column}
    rows, columns = ({place: number for number, place in enumerate(sorted({at[axis] for at in places}))} for axis in (0, 1))
    panels = []
    for member, (row, column) in zip(members, places, strict=True):
        panel = member.split.panels[0]
        diagonal = row == column and row in of_rows
        panels.append(
            panel._replace(
                number=member.number,
                field=member.number,
                y=of_rows[row] if diagonal else panel.y,
                measure=panel.y if diagonal else None,
                rows=range(rows[row], rows[row] + 1),
                columns=range(columns[column], columns[column] + 1),
                heading=titles[column] if top[column] == row else None,
                side_heading=titles[row] if last[row] == column else None,
                name=titles[row] if row == column else f"{titles[row]} against {titles[column]}",
            )
        )
    return Arranged(tuple(panels), Grid.even(tuple(panels), gaps_of(sentence)), ())


def arranged_marginals(sentence: Sentence, members: Sequence[Member]) -> Saying[Arranged]:
    """The figure's panels with their marginals around them."""
    main, marginals = members[0], sentence.marginals
    panels, spans = yield from headed(main.split)
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
