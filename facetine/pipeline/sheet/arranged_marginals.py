"""Where marginals stand around the panels of a figure."""

from __future__ import annotations

import re
from collections.abc import Sequence

from facetine.grammar.marginal import Marginal
from facetine.grammar.sentence import Sentence
from facetine.pipeline.guides.boxes import Words
from facetine.pipeline.guides.headings import gaps_of, headed
from facetine.pipeline.layout.request import styles_of
from facetine.pipeline.rows.panels import AxisTitle, Grid, Panel, Panels
from facetine.pipeline.scales.member import Member
from facetine.pipeline.sheet.arranged import Arranged


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


_APART = 3.0
"""Room between a panel and its marginal, in points."""
