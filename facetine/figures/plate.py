"""The plate: several figures on one sheet. Every verb returns a new plate and leaves the old one as it was."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import TYPE_CHECKING, Any, TypeAlias

from facetine.figures.cells import plate_of
from facetine.figures.layers import PlateVerbs
from facetine.figures.looks import titled
from facetine.figures.outlets import Shown
from facetine.figures.verb import verb
from facetine.grammar.given import NOT_GIVEN, NotGiven
from facetine.grammar.picture import Picture, picture_of
from facetine.grammar.plate import Plate as Said
from facetine.grammar.plate import checked_letters, checked_shares
from facetine.messages.errors import OptionError, unknown

if TYPE_CHECKING:
    from facetine.grammar.given import Length, Target

Rows: TypeAlias = Sequence[object]
"""Rows of figures, pictures and plates; None for an empty place, a list for figures below each other."""


class Plate(PlateVerbs, Shown):
    """Several figures on one sheet, their panels aligned. Made by `facetine.plate`."""

    __slots__ = ("_sentence",)
    _what = "plate"

    def __init__(self, said: Said) -> None:
        self._sentence: Said = said

    @verb
    def titles(
        self,
        title: str | NotGiven | None = NOT_GIVEN,
        *,
        subtitle: str | NotGiven | None = NOT_GIVEN,
        note: str | NotGiven | None = NOT_GIVEN,
        source: str | NotGiven | None = NOT_GIVEN,
    ) -> Plate:
        """Writes the texts of the whole plate; what is not given stays as it was, None takes a text back.

        Args:
            title: The title.
            subtitle: A line below it.
            note: A text below all figures.
            source: Where the data come from, on a line of its own below the note.

        Raises:
            OptionError: A text is none.
        """
        texts = {"title": title, "subtitle": subtitle, "note": note, "source": source}
        return Plate(replace(self._sentence, titles=titled(self._sentence.titles, texts, {}, "plate.titles")))

    @verb
    def same_scale(self, *axes: str) -> Plate:
        """Gives all its figures one scale on an axis: the same range, ticks and categories.

        Colors, sizes and shapes are shared in any case where figures show the same column.

        Args:
            *axes: x, y or both.

        Raises:
            OptionError: There is no such axis.
        """
        for axis in axes:
            if axis not in ("x", "y"):
                if axis in ("color", "outline", "size", "shape", "dash", "opacity", "line_width"):
                    raise OptionError(
                        "plate.same_scale", f"{axis} is shared already where figures show the same column", "axes: x, y"
                    )
                raise unknown(OptionError, "plate.same_scale", "no axis", axis, ("x", "y"), "axes")
        if not axes:
            raise OptionError("plate.same_scale", "no axis", 'such as .same_scale("x")')
        return Plate(replace(self._sentence, same=tuple(dict.fromkeys((*self._sentence.same, *axes)))))


def plate(
    rows: Rows,
    *,
    letters: str | Sequence[str] | None = None,
    letter_place: str = "corner",
    letter_size: float | None = None,
    letter_weight: float = 700,
    widths: Sequence[float] | None = None,
    heights: Sequence[float] | None = None,
    gap_x: Length = None,
    gap_y: Length = None,
    share_legend: bool = False,
) -> Plate:
    """Sets figures together on one sheet, the edges of their panels aligned in rows and columns.

    Args:
        rows: Rows of figures, such as [[a, b], [c, c]]: a figure that stands in neighbouring places spans them. None leaves
            a place empty; a list in a row sets figures below each other; pictures and plates are cells too.
        letters: How the first is lettered: "A", "a", "(a)", "i", "1"; or a list of letters; none by default.
        letter_place: "corner" sets letters at the upper left corner, beside the panels; "panel" over their left edge.
        letter_size: In points; that of titles by default.
        letter_weight: 400 for regular, 700 for bold.
        widths: How columns share the width of panels, such as [2, 1].
        heights: How rows share it.
        gap_x: Space between columns, such as "6 mm".
        gap_y: Space between rows.
        share_legend: Whether legends stand once over all figures, merged where column, title and appearance agree.

    Raises:
        OptionError: A cell holds no figure, a figure stands in two places, or an option is impossible.

    Example:
        >>> import facetine as ft
        >>> wheels = ft.figure(ft.demo_data("wheels")).map(x="age_days", color="rind").points(size=2)
        >>> a, b = wheels.map(y="mass_kg"), wheels.map(y="firmness_n")
        >>> both = ft.plate([[a, b]], letters="A", share_legend=True)
    """
    from facetine.grammar.options import choice, flag, length, number

    where = "plate"
    said = plate_of(rows, where)
    count = len(said.contents())
    return Plate(
        replace(
            said,
            letters=checked_letters(letters, count, where),
            letter_place=str(choice("corner", "panel", name="places")(letter_place, f"{where}: letter_place")),
            letter_size=None if letter_size is None else number(1, 200)(letter_size, f"{where}: letter_size"),
            letter_weight=number(100, 900)(letter_weight, f"{where}: letter_weight"),
            widths=checked_shares(widths, said.columns, "widths", where),
            heights=checked_shares(heights, said.rows, "heights", where),
            gap_x=None if gap_x is None else length(gap_x, f"{where}: gap_x"),
            gap_y=None if gap_y is None else length(gap_y, f"{where}: gap_y"),
            share_legend=flag(share_legend, f"{where}: share_legend"),
        )
    )


def picture(
    path: Target,
    *,
    scale_bar: str | None = None,
    pixels_per_mm: float | None = None,
    title: str | None = None,
    fit: str = "inside",
    alt: str | None = None,
) -> Picture:
    """A photograph or scheme as a cell of a plate.

    Args:
        path: A PNG or JPEG.
        scale_bar: How long a bar is in the picture's world, such as "5 mm"; no bar by default.
        pixels_per_mm: How many pixels a millimetre there has.
        title: Above it.
        fit: "inside" shows it whole; "fill" cuts it so that it fills its place.
        alt: What it shows, for readers who can't see it.

    Raises:
        DataError: There is no such file, or it is no PNG or JPEG.
        OptionError: An option is impossible.
    """
    return picture_of(path, scale_bar, pixels_per_mm, title, fit, alt)


def with_looks(made: Plate, spec: Mapping[str, Any]) -> Plate:
    """A plate with the shared scales, titles, theme and scales of its plain data."""
    if spec.get("same_scale"):
        made = made.same_scale(*spec["same_scale"])
    for part in ("sheet", "titles", "theme"):
        if spec.get(part):
            said = spec[part]
            made = getattr(made, part)(said) if isinstance(said, str) else getattr(made, part)(**said)
    for aesthetic, options in (spec.get("scale") or {}).items():
        made = made.scale(aesthetic, **({"kind": options} if isinstance(options, str) else options))
    return made
