"""Where the panels of several figures stand on their sheet."""

from __future__ import annotations

from collections.abc import Sequence

from facetine.grammar.matrix import Matrix
from facetine.grammar.sentence import Sentence
from facetine.grammar.variables import Variables
from facetine.pipeline.composition.composed import Composition
from facetine.pipeline.composition.matrices import Pair
from facetine.pipeline.guides.direct import direct_names
from facetine.pipeline.guides.headings import gaps_of, headed
from facetine.pipeline.rows.panels import AxisTitle, Grid, Panel, Span, columns_beside
from facetine.pipeline.scales.look_scales import Scales
from facetine.pipeline.scales.member import Member
from facetine.pipeline.sheet.arranged import Arranged
from facetine.pipeline.sheet.arranged_marginals import arranged_marginals


def arranged(composed: Composition, width: float, members: Sequence[Member]) -> Arranged:
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
        return arranged_columns(sentence, sentence.over_variables, width, members)
    return arranged_marginals(sentence, members) if sentence.marginals else _alone(members)


def _alone(members: Sequence[Member]) -> Arranged:
    (member,) = members
    panels, spans = headed(member.split)
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


def arranged_columns(sentence: Sentence, variables: Variables, width: float, members: Sequence[Member]) -> Arranged:
    """A panel for each column, wrapped; or rows and columns of panels."""
    first, spans = members[0], tuple[Span, ...]()
    x_varied, y_varied = (variables.y, variables.x) if sentence.swapped else (variables.x, variables.y)
    if sentence.facet is not None:
        panels, spans = _faceted(members, "x" if x_varied else "y")
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


def _faceted(members: Sequence[Member], axis: str) -> tuple[list[Panel], tuple[Span, ...]]:
    """A row of panels for each column, the values of the facet side by side."""
    panels: list[Panel] = []
    spans: tuple[Span, ...] = ()
    for member in members:
        own, outer = headed(member.split)
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
