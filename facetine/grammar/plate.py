"""What is said of a plate: figures and pictures in rows, with their letters, and what they have in common."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from math import lcm
from typing import NamedTuple, TypeAlias

from facetine.grammar.given import Length, Options
from facetine.grammar.options import numbers
from facetine.grammar.picture import Picture
from facetine.grammar.scale import ScaleSpec
from facetine.grammar.sentence import Sentence, Titles
from facetine.grammar.sheet import SheetSpec
from facetine.grammar.theme import Theme, themed
from facetine.messages.errors import OptionError, told, unknown

Content: TypeAlias = "Sentence | Picture | Plate"
"""What stands in a cell."""


class Cell(NamedTuple):
    """What stands in a plate, with the rows and columns that it spans."""

    content: Content
    rows: range
    columns: range


@dataclass(frozen=True, kw_only=True)
class Plate:
    """Several figures on one sheet."""

    cells: tuple[Cell, ...]
    rows: int
    columns: int
    letters: str | tuple[str, ...] | None = None
    letter_place: str = "corner"
    letter_size: float | None = None
    letter_weight: float = 700
    widths: tuple[float, ...] | None = None
    heights: tuple[float, ...] | None = None
    gap_x: Length = None
    gap_y: Length = None
    share_legend: bool = False
    same: tuple[str, ...] = ()
    """The axes that all figures have in common."""
    sheet: SheetSpec = SheetSpec()
    titles: Titles = Titles()
    theme_name: str | None = None
    theme_begun: Theme | None = None
    """The theme of that name or file, as it was when it was named."""
    theme_said: Options = field(default_factory=dict)
    scales: Mapping[str, ScaleSpec] = field(default_factory=dict)
    compares: bool = False
    """Whether its figures are one in several ways, so that unlike looks are meant."""
    shown: tuple[Cell, ...] = field(init=False, repr=False, compare=False)
    """Its cells, with what the plate says of all figures laid over each."""

    def __post_init__(self) -> None:
        """Lays looks and scales over the figures once, when they are said."""
        object.__setattr__(self, "shown", tuple(_under(cell, self) for cell in self.cells))

    def under(self, theme: Theme) -> Theme:
        """A theme of one of its figures, with what the plate says of all of them laid over it."""
        return themed(self.theme_begun or theme, None, self.theme_said, "plate.theme")

    def contents(self) -> list[Sentence | Picture]:
        """Figures and pictures in the order in which they are lettered, also those of plates in it."""
        found: list[Sentence | Picture] = []
        for cell in self.cells:
            found += cell.content.contents() if isinstance(cell.content, Plate) else [cell.content]
        return found


def _under(cell: Cell, plate: Plate) -> Cell:
    """A cell whose figures are under the looks and scales of a plate."""
    content = cell.content
    if isinstance(content, Sentence):
        return cell._replace(content=_laid_over(content, plate))
    if isinstance(content, Plate):
        # What the inner plate says lies below what the outer one says.
        inner = tuple(_under(one, plate) for one in content.shown)
        return cell._replace(content=replace(content, cells=inner, theme_name=None, theme_begun=None, theme_said={}, scales={}))
    return cell


def _laid_over(sentence: Sentence, plate: Plate) -> Sentence:
    """A figure's sentence, and those of its insets, under the looks and scales of its plate."""
    scales = {name: sentence.scale(name).under(spec) for name, spec in plate.scales.items() if sentence.shows(name)}
    insets = tuple(replace(inset, figure=_set_in(inset.figure, plate)) for inset in sentence.insets)
    return replace(sentence, theme=plate.under(sentence.theme), scales={**sentence.scales, **scales}, insets=insets)


def _set_in(sentence: Sentence, plate: Plate) -> Sentence:
    """An inset's sentence under its plate; it stays as small as it was said to be."""
    laid = _laid_over(sentence, plate)
    if "text_size" not in sentence.theme_said:
        return laid
    return replace(laid, theme=replace(laid.theme, text_size=sentence.theme.text_size))


def left_to_readers(content: Sentence | Plate) -> Sentence | Plate:
    """A figure, or all those of a plate, for a page, which shows itself what is chosen at first."""
    if isinstance(content, Sentence):
        insets = tuple(replace(inset, figure=replace(inset.figure, live=True)) for inset in content.insets)
        return replace(content, live=True, insets=insets)
    cells = tuple(
        cell if isinstance(cell.content, Picture) else cell._replace(content=left_to_readers(cell.content))
        for cell in content.cells
    )
    return replace(content, cells=cells)


def begins_chosen(content: Sentence | Plate) -> bool:
    """Whether something is chosen at first in a figure, or in one of a plate."""
    if isinstance(content, Sentence):
        every = (content, *(inset.figure for inset in content.insets))
        return any(choice.start is not None for sentence in every for choice in sentence.choices.values())
    return any(not isinstance(cell.content, Picture) and begins_chosen(cell.content) for cell in content.cells)


def cells_of(rows: Sequence[Sequence[object]], where: str) -> tuple[tuple[Cell, ...], int, int]:
    """Cells of rows, with how many rows and columns they make; the same thing in neighbouring places spans them.

    Raises:
        OptionError: Rows do not divide into the same columns, or a thing stands in places that make no rectangle.
    """
    counts = [len(row) for row in rows]
    columns = lcm(*counts)
    if columns > 24 or any(columns % count for count in counts):
        raise OptionError(where, f"rows of {', '.join(map(str, counts))} do not make columns", "such as [[a, b], [c, c]]")
    grid = [[thing for thing in row for _ in range(columns // len(row))] for row in rows]
    places: dict[int, list[tuple[int, int]]] = {}
    things: dict[int, object] = {}
    for row, line in enumerate(grid):
        for column, thing in enumerate(line):
            if thing is not None:
                places.setdefault(id(thing), []).append((row, column))
                things[id(thing)] = thing
    cells = []
    for mark, at in places.items():
        down, across = ({place[axis] for place in at} for axis in (0, 1))
        spanned = range(min(down), max(down) + 1), range(min(across), max(across) + 1)
        if len(at) != len(spanned[0]) * len(spanned[1]):
            raise OptionError(
                where,
                "a figure stands twice, in places that make no rectangle",
                "one figure may span neighbouring places; draw a second one for another place",
            )
        cells.append(Cell(things[mark], *spanned))  # type: ignore[arg-type]
    if not cells:
        raise OptionError(where, "no figures", "such as [[a, b], [c, c]]")
    return tuple(cells), len(grid), columns


_ROMAN = ((10, "x"), (9, "ix"), (5, "v"), (4, "iv"), (1, "i"))


def checked_letters(letters: object, count: int, where: str) -> str | tuple[str, ...] | None:
    """How figures are lettered: by a sample of the first letter, or by a list.

    Raises:
        OptionError: It is neither, or a list of another length.
    """
    if letters is None:
        return None
    if isinstance(letters, str):
        letter_texts(letters, 1, where)
        return letters
    if isinstance(letters, Sequence) and all(isinstance(one, str) for one in letters):
        if len(letters) != count:
            raise OptionError(where, f"letters names {len(letters)} of {count} figures", 'letters="A" counts by itself')
        return tuple(letters)
    raise OptionError(where, f"letters is how the first is written, or a list, not {told(letters)}", 'such as "A", "(a)" or "i"')


def letter_texts(letters: str | tuple[str, ...], count: int, where: str = "plate") -> list[str]:
    """The letters of so many figures.

    >>> letter_texts("(a)", 3), letter_texts("i", 4)[-1]
    (['(a)', '(b)', '(c)'], 'iv')
    """
    if not isinstance(letters, str):
        return list(letters)
    found = re.fullmatch(r"(\W*)([AaiI1])(\W*)", letters)
    if found is None:
        raise unknown(OptionError, where, "no letters", letters, ("A", "a", "(a)", "a)", "i", "I", "1"), "letters")
    before, first, behind = found.groups()
    return [f"{before}{_nth(first, number)}{behind}" for number in range(count)]


def _nth(first: str, number: int) -> str:
    if first == "1":
        return str(number + 1)
    if first in "iI":
        rest, text = number + 1, ""
        for value, sign in _ROMAN:
            text += sign * (rest // value)
            rest %= value
        return text if first == "i" else text.upper()
    text, rest = "", number
    while rest >= 0:
        text = chr(ord(first) + rest % 26) + text
        rest = rest // 26 - 1
    return text


def checked_shares(shares: object, count: int, what: str, where: str) -> tuple[float, ...] | None:
    """Widths of columns or heights of rows, in proportion.

    Raises:
        OptionError: They are no positive numbers, or not as many as there are columns or rows.
    """
    if shares is None:
        return None
    found = numbers(shares, f"{where}: {what}")
    if not found or min(found) <= 0:
        raise OptionError(where, f"{what} is a list of numbers above zero, not {told(shares)}", "such as [2, 1]")
    if len(found) != count:
        raise OptionError(where, f"{what} has {len(found)} numbers for {count} {'columns' if what == 'widths' else 'rows'}")
    return found
