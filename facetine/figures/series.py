"""A figure written for each value of a column, and as a part of a plan."""

from __future__ import annotations

import os
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any

from facetine.figures.verb import verb
from facetine.messages.errors import ExportError, OptionError, note, told

if TYPE_CHECKING:
    from facetine.export.paper import PaperSize
    from facetine.grammar.given import Length, Targets


class Repeating:
    """The verbs of a figure that write it many times, or into a plan."""

    __slots__ = ()
    _sentence: Any

    @verb
    def export_each(
        self,
        by: str | Sequence[str],
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
    ) -> Any:
        """Writes a figure of the rows of each value of a column, or of each combination that occurs of several.

        Texts of the figure may name the value, such as titles("Wheels of {cellar}").

        Args:
            by: The column, or several.
            path: A file whose name says the value, such as "out/{cellar}.pdf"; or several. Signs that no file system takes
                are replaced, and names that would be one are numbered, which a finding reports.
            width: As for `export`, and so are all options below.
            height: The height of the sheet.
            dpi: Pixels an inch.
            transparent: Whether the sheet stays unpainted.
            formats: Several formats for a path without a suffix.
            alt: The figure in words.
            fonts: Of an SVG.
            colors: "rgb" or "cmyk".
            icc: The color profile.
            archive: Whether a PDF is one for archives.
            paper: The paper on which it is set.
            margins: Those of the paper.
            fit: Whether it takes the size of the paper.
            crop_marks: Whether marks say where it is cut out.
            data: "embed" for rows inside the file.
            rasterize: Which layers become images.

        Returns:
            The files written, and the findings.

        Raises:
            OptionError: There are more than 2,000 values, or the name does not tell them apart.
            MappingError: There is no such column.
            FacetineError: As for `export`; what was written before it stays.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure(ft.demo_data("wheels")).map(x="age_days", y="mass_kg").points()
            >>> fig.export_each("cellar", "out/{cellar}.pdf")  # doctest: +SKIP
        """
        from facetine.export.export import ExportResult
        from facetine.figures.partition import check_template, figure_of, file_names, parts_of, said_missing

        where = "figure.export_each"
        options = {
            "width": width, "height": height, "dpi": dpi, "transparent": transparent, "formats": formats, "alt": alt,
            "fonts": fonts, "colors": colors, "icc": icc, "archive": archive, "paper": paper, "margins": margins, "fit": fit,
            "crop_marks": crop_marks, "data": data, "rasterize": rasterize,
        }  # fmt: skip
        columns: tuple[Any, ...] = tuple(by) if isinstance(by, list | tuple) else (by,)
        if not columns or not all(isinstance(name, str) for name in columns):
            raise OptionError(where, f"by is a column, or several, not {told(by)}")
        given: Any = [path] if isinstance(path, str | os.PathLike) else path
        templates = [Path(os.fsdecode(one)) for one in given]
        figure: Any = self
        parts = parts_of(figure, columns, where)
        files: list[Any] = []
        notes: list[Any] = []
        named: list[list[str]] = []
        said = said_missing(parts, columns)
        for template in templates:
            # Folders are the caller's; only what a value fills is made safe.
            check_template(str(template), columns, where)
            names, changed = file_names(str(template), parts.every)
            named.append(names)
            said += [one for one in changed if one not in said]
        for number, one in enumerate(parts.every):
            targets = [names[number] for names in named]
            done = _exported(figure_of(figure, one, where), targets, options)
            files += done.files
            notes += [found for found in done.findings if found not in notes]
        note([*(f"{where}: {text}" for text in said), *notes])
        return ExportResult(tuple(files), tuple(notes))

    @verb
    def to_plan(self, name: str, file: str | os.PathLike[str] | None = None, *, data: str | None = None) -> str:
        """The figure as a part of a plan, in TOML.

        Args:
            name: What it is called there.
            file: A plan into which it is written, where it takes the place of the figure of that name; all else, and
                remarks beside what stays, are kept. A new plan is made where there is none.
            data: The source of its data in the plan.

        Returns:
            The part that says the figure.

        Raises:
            OptionError: A callable stands in the figure, which a plan can't hold.
            ExportError: The plan can't be written, or is none.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure({"a": [1], "b": [2]}).map(x="a", y="b").points(size=5)
            >>> print(fig.to_plan("first", data="rows"))
            [figure.first]
            data = "rows"
            map = {x = "a", y = "b"}
            layers = [{points = {size = 5.0}}]
            <BLANKLINE>
        """
        from facetine.grammar.options import text
        from facetine.grammar.plantext import figure_text, merged_text

        where = "figure.to_plan"
        called = text(name, f"{where}: name")
        if not called:
            raise OptionError(where, "name is a text of one letter at least")
        spec = self.to_dict()  # type: ignore[attr-defined]
        if data is not None:
            spec = {"data": text(data, f"{where}: data"), **spec}
        if file is not None:
            from facetine.export.files import write_whole

            path = Path(file)
            try:
                before = path.read_text("utf-8") if path.exists() else ""
            except (OSError, UnicodeDecodeError) as problem:
                raise ExportError(where, f"can't read {str(path)!r}: {problem}") from problem
            write_whole(path, merged_text(before, called, spec, where).encode("utf-8"))
        return figure_text(called, spec)


def _exported(figure: Any, targets: list[str], options: dict[str, Any]) -> Any:
    """An export whose notes come back alone."""
    import warnings

    from facetine.messages.errors import FacetineFinding

    with warnings.catch_warnings():
        warnings.simplefilter("ignore", FacetineFinding)
        return figure.export(targets, **options)
