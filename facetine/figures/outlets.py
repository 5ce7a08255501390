"""A figure shown: written to files, in a notebook, as plain data and as its sentence."""

from __future__ import annotations

import os
from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import TYPE_CHECKING, Any, NoReturn, Self, TypeVar

from facetine.figures.verb import verb
from facetine.grammar.plate import Plate
from facetine.grammar.sentence import Sentence
from facetine.messages.errors import OptionError, note, told
from facetine.messages.findings import as_notes

if TYPE_CHECKING:
    from facetine.export.export import Asked
    from facetine.export.paper import PaperSize
    from facetine.grammar.given import Length, Options, Plain, Targets

Said = TypeVar("Said", Sentence, Plate)

_SVG_LIMIT = 1_500_000


class Shown:
    """What figures and plates have in common: what becomes of them."""

    __slots__ = ()
    _sentence: Any
    _what = "figure"

    def __init__(self, said: Any) -> None:
        raise NotImplementedError

    @verb
    def export(
        self,
        path: Targets,
        *,
        width: Length = None,
        height: Length = None,
        dpi: float | None = None,
        transparent: bool | str = False,
        formats: Sequence[str] | str | None = None,
        alt: str | None = None,
        fonts: str = "name",
        colors: str = "rgb",
        icc: bool | str | os.PathLike[str] = False,
        archive: bool = False,
        paper: PaperSize | None = None,
        margins: Length = None,
        fit: bool = False,
        crop_marks: bool = False,
        data: str | None = None,
        rasterize: bool | float | str = False,
        interactive: bool = True,
    ) -> Any:
        """Writes the figure at its physical size; the format follows the suffix.

        Args:
            path: A file that ends in .svg, .svgz, .pdf, .eps, .emf, .png, .tiff, .jpg, .webp or .html, or several; without a
                suffix where `formats` is given.
            width: Width of the sheet: "85 mm", "3.3 in", "240 pt", or a number of millimetres; that of `sheet`, else 85 mm, by
                default. "1200 px" for formats of pixels alone.
            height: Its height; one that suits the panels by default.
            dpi: Pixels an inch, for formats of pixels; 300 by default.
            transparent: Whether the sheet stays unpainted; "dark" leaves it so and takes colors for dark grounds, but for those
                that are given.
            formats: Several formats for one path without a suffix, such as ["pdf", "svg"].
            alt: The figure in words, for readers who can't see it; a short description by default.
            fonts: Of an SVG: "name" leaves the family to the reader's machine, "embed" carries its letters along, "outline"
                draws them as paths, which can't be edited as text any more.
            colors: "rgb", or "cmyk" for the four inks of a press, in PDF, EPS, TIFF and JPEG: by the formula of ISO 32000-1,
                10.3.5, or by the profile of a press. Dark texts are then pure black.
            icc: True lets formats of pixels carry the sRGB profile; with colors="cmyk" the path of the press's ICC file.
            archive: Whether a PDF is one for archives (PDF/A-2u).
            paper: Sets the figure in the middle of a sheet of paper: "A4", "A4 landscape", "letter", or width and height.
            margins: Those of the paper; 15 mm by default.
            fit: Whether the figure takes the size of the paper within its margins.
            crop_marks: Whether marks outside its corners say where it is to be cut out.
            data: "embed" lets the rows and columns that the figure uses travel inside SVG and PDF, with the sentence:
                `facetine.reopen` gets both back, and the figure. "positions" lets a page carry where its marks stand, and
                no value of them.
            rasterize: Which layers become images inside vector files, while axes and texts stay vectors: "auto" those of more
                than 20,000 marks, True all, a number all with so many pixels an inch (otherwise those of `dpi`). A layer's own
                rasterize= goes first.
            interactive: Of a page: False makes it the figure and its words alone, without a script.

        Returns:
            The files written, with their sizes and times, and the findings.

        Raises:
            ExportError: The suffix is unknown, or the file can't be written.
            OptionError: An option is unknown or impossible.
            FacetineError: The sentence can't be drawn.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure(ft.demo_data("wheels")).map(x="age_days", y="mass_kg").points()
            >>> fig.export("mass.pdf", width="85 mm", height="60 mm")  # doctest: +SKIP
        """
        from facetine.export.export import export

        options = {
            "width": width, "height": height, "dpi": dpi, "transparent": transparent, "formats": formats, "alt": alt,
            "fonts": fonts, "colors": colors, "icc": icc, "archive": archive, "paper": paper, "margins": margins, "fit": fit,
            "crop_marks": crop_marks, "data": data, "rasterize": rasterize, "interactive": interactive,
        }  # fmt: skip
        done = export(self._sentence, path, *asked_of(options, "figure.export"))
        note(as_notes(done.findings))
        return done

    @verb
    def sheet(self, width: Length = None, height: Length = None) -> Self:
        """Says the size of the sheet once, for screen and file; an export or a plan may say another one.

        Args:
            width: Such as "85 mm", or a number of millimetres.
            height: Likewise; one that suits the panels by default.

        Raises:
            OptionError: Neither is given, or one is no length.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure({"a": [1, 2], "b": [3, 4]}).map(x="a", y="b").lines().sheet("85 mm", "60 mm")
        """
        return type(self)(_with_sheet(self._sentence, width, height, f"{self._what}.sheet"))

    @verb
    def check(
        self,
        profile: str | None = None,
        *,
        width: Length = None,
        height: Length = None,
        silence: Mapping[str, str] | None = None,
        fix: bool = False,
    ) -> Any:
        """Looks for what may mislead, or is lost where the figure is to be seen. docs/checks.md has all rules, with reasons.

        Args:
            profile: Where that is: print (one column), wide (two columns), thesis, slide, poster or web; print or wide, by the
                width of the sheet, by default.
            width: Of the sheet; that of `sheet`, else the profile's.
            height: Its height; one that suits by default.
            silence: Codes of findings that are not to be reported, each with its reason.
            fix: Whether to return the figure with all fixes that are the one right one, instead of the findings; the
                sentence that does it is printed.

        Returns:
            The findings, the most serious first; with fix=True the fixed figure.

        Raises:
            OptionError: There is no such profile, or a code is silenced without a reason.
            FacetineError: The sentence can't be drawn.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure(ft.demo_data("wheels")).map(x="age_days", y="mass_kg").points()
            >>> fig.check("slide")[0].code
            'text-small'
        """
        from facetine.figures.check import checked, fixed_figure
        from facetine.grammar.options import flag

        if flag(fix, f"{self._what}.check: fix"):
            return fixed_figure(self, profile, width, height, silence)
        return checked(self._sentence, profile, width, height, silence)

    @verb
    def describe(self, length: str = "short") -> str:
        """The figure in plain sentences, for captions and for readers who can't see it; the short form is in every file.

        Args:
            length: "short" says what is drawn against what, and the groups with their rows; "long" adds ranges, medians,
                fitted slopes with their intervals, and the largest difference.

        Raises:
            OptionError: There is no such length.
            FacetineError: The sentence can't be drawn.

        Example:
            >>> import facetine as ft
            >>> ft.figure({"a": [1, 2, 3], "b": [2, 4, 7]}).map(x="a", y="b").points().describe()
            'Chart with points: B against A. 3 rows.'
        """
        from facetine.figures.check import described

        return described(self._sentence, length)

    @verb
    def copy(self, format: str | None = None, *, width: Length = None, height: Length = None, dpi: float = 300.0) -> None:
        """Puts the figure on the clipboard at its physical size, in all forms that the platform's clipboard holds at once.

        A program takes the form that it can edit: a vector editor SVG or PDF, a word processor EMF or SVG, others PNG. On
        screens of X all four are offered; on macOS and Windows SVG, PDF and PNG; on Wayland without X, PNG alone.

        Args:
            format: One form alone: "svg", "pdf", "emf" or "png".
            width: Of the sheet, as for `export`.
            height: Its height.
            dpi: Pixels an inch of the PNG.

        Raises:
            ExportError: There is no screen, and so no clipboard, or its program is missing.
            OptionError: There is no such format.
            FacetineError: The sentence can't be drawn.

        Example:
            >>> import facetine as ft
            >>> ft.figure({"a": [1, 2], "b": [3, 4]}).map(x="a", y="b").lines().copy()  # doctest: +SKIP
        """
        _put_on_clipboard(self._sentence, format, width, height, dpi, f"{self._what}.copy")

    @verb
    def show(
        self, *, width: Length = None, height: Length = None, ground: str | None = None, interactive: bool | None = None
    ) -> None:
        """Shows the figure: in a notebook below the cell, else in the system's viewer of SVG files, or of pages.

        Args:
            width: Width of the sheet, as for `export`.
            height: Its height.
            ground: The color of a slide or a page on which to see it, as `export(transparent=True)` leaves it there, with
                transparent="dark" where that is dark.
            interactive: Whether as the page that `export("fig.html")` writes, which is read by hand; in a notebook that is
                what `set_defaults(notebook=…)` says by default.

        Raises:
            OptionError: The ground is no color, or interactive is neither True nor False.
            FacetineError: The sentence can't be drawn.
        """
        from facetine.export.defaults import now
        from facetine.export.notebook import show
        from facetine.grammar.dark import on_ground
        from facetine.grammar.options import flag

        live = now().notebook == "interactive" if interactive is None else flag(interactive, f"{self._what}.show: interactive")
        said = self._sentence if ground is None else on_ground(self._sentence, ground, f"{self._what}.show: ground")
        note(show(said, width, height, interactive=live))

    def _repr_mimebundle_(self, include: object = None, exclude: object = None) -> tuple[Plain, Plain]:  # noqa: ARG002
        """What a notebook shows: SVG with a picture that stands in for it, notes below; the picture where SVG is heavy."""
        from facetine.export.defaults import now
        from facetine.export.notebook import framed, mime_bundle

        if now().notebook == "interactive":
            page, notes = framed(self._sentence)
            note(as_notes(notes))
            return page | {"text/plain": repr(self)}, {}
        bundle, sizes = mime_bundle(self._sentence, _SVG_LIMIT)
        return bundle | {"text/plain": repr(self)}, sizes

    def to_dict(self) -> Plain:
        """The sentence as plain data, the same shape as in a plan; the data themselves are not part of it.

        Raises:
            OptionError: A callable stands in it, which plain data can't hold.

        Example:
            >>> import facetine as ft
            >>> ft.figure({"a": [1], "b": [2]}).map(x="a", y="b").points(size=5).to_dict()
            {'map': {'x': 'a', 'y': 'b'}, 'layers': [{'points': {'size': 5.0}}]}
        """
        return plain_of(self._sentence)

    def _no_operator(self, other: object) -> NoReturn:
        what = "another one" if isinstance(other, Shown) else told(other)
        raise OptionError(
            self._what,
            f"no operator joins it and {what}",
            "a.onto(b) lays one over the other; plate([[a, b]]) sets them beside each other; verbs add the rest",
        )

    __add__ = __or__ = __and__ = __truediv__ = __sub__ = __mul__ = __matmul__ = __floordiv__ = _no_operator
    __radd__ = __ror__ = __rand__ = __rtruediv__ = _no_operator

    def __repr__(self) -> str:
        return spelled_out(self._sentence)


def asked_of(options: Options, where: str) -> tuple[Any, Asked]:
    """The formats of an export, and all else that is asked of it.

    Raises:
        OptionError: An option has an impossible value.
    """
    from facetine.export.export import Asked
    from facetine.grammar.layer import checked_rasterize
    from facetine.grammar.options import choice, flag, text

    said: dict[str, Any] = dict(options)
    formats = said.pop("formats")
    for name in ("archive", "fit", "crop_marks", "interactive"):
        said[name] = flag(said[name], f"{where}: {name}")
    clear, icc = said["transparent"], said["icc"]
    dark = choice("dark", name="words, beside True and False")
    said["transparent"] = (dark if isinstance(clear, str) else flag)(clear, f"{where}: transparent")
    said["icc"] = icc if isinstance(icc, str | os.PathLike) else flag(icc, f"{where}: icc")
    said["fonts"] = choice("name", "embed", "outline", name="words")(said["fonts"], f"{where}: fonts")
    said["colors"] = choice("rgb", "cmyk", name="colors")(said["colors"], f"{where}: colors")
    if said["alt"] is not None:
        said["alt"] = text(said["alt"], f"{where}: alt")
    if said["data"] is not None:
        said["data"] = choice("embed", "positions", name="words")(said["data"], f"{where}: data")
    said["rasterize"] = checked_rasterize(said["rasterize"], f"{where}: rasterize")
    return formats, Asked(**said)


def _with_sheet(said: Said, width: Length, height: Length, where: str) -> Said:
    """With a size of the sheet."""
    from facetine.grammar.options import checked
    from facetine.grammar.sheet import SheetSpec

    if width is None and height is None:
        raise OptionError(where, "neither a width nor a height", 'such as .sheet("85 mm", "60 mm")')
    return replace(said, sheet=SheetSpec(**checked(SheetSpec, {"width": width, "height": height}, where)))


def _put_on_clipboard(said: Said, form: str | None, width: Length, height: Length, dpi: float, where: str) -> None:
    from facetine.data.clipboard import SORTS, offered, put
    from facetine.export.export import built, checked_dpi, rendered
    from facetine.grammar.options import choice

    sorts = offered() if form is None else (str(choice(*SORTS, name="formats")(form, f"{where}: format")),)
    drawn, dots = built(said, width, height, where), checked_dpi(dpi)
    put({sort: rendered(drawn, sort, dpi=dots, transparent=False, fonts="name") for sort in sorts})
    note(as_notes(drawn.findings))


def plain_of(said: Said) -> Plain:
    """What a figure or a plate says, as plain data."""
    if isinstance(said, Sentence):
        from facetine.grammar.spec import to_dict

        return to_dict(said)
    from facetine.grammar.platespec import plate_to_dict

    return plate_to_dict(said)


def spelled_out(said: Said) -> str:
    """What a figure or a plate says, as its verbs."""
    if isinstance(said, Sentence):
        from facetine.grammar.spec import spelled

        return spelled(said)
    from facetine.grammar.platespec import plate_spelled

    return plate_spelled(said)
