"""Figures to files: formats by suffix, sizes by length, all files written whole or not at all."""

from __future__ import annotations

import os
import re
import time
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING

from facetine.core.arrays import is_number
from facetine.data.plain import plain_bytes
from facetine.export.defaults import now
from facetine.export.files import write_whole
from facetine.export.paper import Paper, PaperSize, on_paper, paper_of
from facetine.grammar.given import Length, Target, Targets
from facetine.grammar.lengths import in_points
from facetine.messages.errors import ExportError, OptionError, told, unknown
from facetine.messages.findings import Finding, as_notes
from facetine.writers.formats import FORMATS, Fonts, Format, Options, Rasterize
from facetine.writers.inks import RGB, Colors, Inks, checked_press

if TYPE_CHECKING:
    from facetine.grammar.plate import Plate
    from facetine.grammar.sentence import Sentence
    from facetine.pipeline.sheet.built import Built
    from facetine.scene.marks import Scene
    from facetine.writers.formats import Written

WIDTH = "85 mm"
"""The width of a sheet where none is said: one column of a journal."""
PLATE_WIDTH = "180 mm"
"""That of a plate: two columns of a journal."""
DPI = 300.0


@dataclass(frozen=True, slots=True)
class WrittenFile:
    """One file that an export wrote."""

    path: Path
    width_mm: float
    height_mm: float
    size: int
    """Bytes."""
    seconds: float


@dataclass(frozen=True, slots=True)
class WrittenTable:
    """A table of the numbers behind a figure, as it was written."""

    path: Path
    rows: int
    size: int
    """Bytes."""


@dataclass(frozen=True, slots=True)
class ExportResult:
    """What an export wrote, and what it has to say."""

    files: tuple[WrittenFile, ...]
    findings: tuple[Finding, ...]

    def __repr__(self) -> str:
        lines = [f"wrote {file.path}  {file.width_mm:.0f}×{file.height_mm:.0f} mm" for file in self.files]
        return "\n".join([*lines, *(f"finding: {note}" for note in as_notes(self.findings))])


def targets(path: Targets, formats: Sequence[str] | str | None) -> list[Path]:
    """The files to be written.

    Raises:
        ExportError: A suffix is unknown or missing, or a suffix and formats are given together.
    """
    where = "figure.export"
    if isinstance(path, str | bytes | os.PathLike):
        paths = [_path(path)]
    elif isinstance(path, Iterable):
        paths = [_path(one) for one in path]
    else:
        raise ExportError(where, f"{told(path)} is no path")
    if not paths:
        raise ExportError(where, "no path")
    if formats is not None:
        words = [formats] if isinstance(formats, str) else list(formats)
        if not words:
            raise ExportError(where, "formats is empty", f"formats: {', '.join(FORMATS)}")
        for word in words:
            if form_of(str(word)) not in FORMATS:
                raise unknown(ExportError, where, "no format", word, FORMATS, "formats")
        for one in paths:
            if form_of(one.suffix) in FORMATS:
                raise ExportError(
                    where,
                    f"{str(one)!r} has a suffix, and formats are given too",
                    f"leave one out: {str(one.with_suffix(''))!r} with formats, or {one.name!r} alone",
                )
        paths = [one.with_name(f"{one.name}.{str(word).lstrip('.').lower()}") for one in paths for word in words]
    for one in paths:
        if form_of(one.suffix) not in FORMATS:
            if not one.suffix:
                raise ExportError(
                    where,
                    f"{str(one)!r} has no suffix to say the format",
                    f"suffixes: {', '.join('.' + word for word in FORMATS)}",
                )
            raise unknown(ExportError, where, "no format for", one.suffix, [f".{word}" for word in FORMATS], "suffixes")
    return list(dict.fromkeys(paths))


_SAME = {"tif": "tiff", "jpeg": "jpg", "jpe": "jpg", "htm": "html"}


def form_of(suffix: str) -> str:
    """The format of a suffix, with or without its point; other spellings are taken for it.

    >>> form_of(".TIF"), form_of("jpeg"), form_of(".pdf")
    ('tiff', 'jpg', 'pdf')
    """
    word = suffix.lower().lstrip(".")
    return _SAME.get(word, word)


def _path(given: Target) -> Path:
    """A path from a text, from bytes, or from anything that is a path to the system.

    Raises:
        ExportError: It is none, or holds a control character.
    """
    try:
        text = os.fsdecode(given)
    except TypeError:
        raise ExportError("figure.export", f"{told(given)} is no path") from None
    if any(ord(letter) < 32 or ord(letter) == 127 for letter in text):
        raise ExportError("figure.export", f"the path {told(text)} holds a control character", "a path is one line of text")
    return Path(text)


def built(sentence: Sentence | Plate, width: Length, height: Length, where: str = "figure.export") -> Built:
    """A sentence built at a size; widths and heights that are None take their defaults."""
    from facetine.grammar.sentence import Sentence
    from facetine.pipeline.sheet.built import build

    points, tall = in_points_said(sentence, width, height, where)
    if isinstance(sentence, Sentence):
        return build(sentence, points, tall)
    from facetine.pipeline.sheet.plates import build_plate

    assert points is not None
    return build_plate(sentence, points, tall)


def in_points_said(sentence: Sentence | Plate, width: Length, height: Length, where: str) -> tuple[float | None, float | None]:
    """Width and height of the sheet in points, as given or by default; None for what follows from the panels."""
    from facetine.grammar.sentence import Sentence

    said = sentence.sheet
    if width is None and height is None:
        height = said.height
    width = said.width if width is None else width
    if width is None and not isinstance(sentence, Sentence):
        width = now().width or PLATE_WIDTH
    elif width is None and isinstance(sentence, Sentence) and sentence.panel.sides[0] is None:
        width = now().width or WIDTH
    points = None if width is None else in_points(width, f"{where}: width")
    return points, None if height is None else in_points(height, f"{where}: height")


def _sizes_said(sentence: Sentence | Plate, width: Length, height: Length) -> tuple[Length, Length]:
    """The size of the sheet as it is said, or as it is by default."""
    said = sentence.sheet
    if width is None and height is None:
        height = said.height
    return (said.width if width is None else width) or now().width or WIDTH, height


def rendered(made: Built, suffix: str, *, dpi: float, transparent: bool, fonts: Fonts) -> bytes:
    """A built figure as the bytes of one format; of several pages the first, where its files hold but one."""
    return contents(made, suffix, Options(dpi, not transparent, fonts))[0].content


def contents(made: Built, suffix: str, options: Options) -> list[Written]:
    """A built figure as files of one format: one with all its pages, or one for each where the format holds but one."""
    form = FORMATS.need(suffix, "figure.export", ExportError)
    if "colors" not in form.takes:
        options = options._replace(inks=RGB)
    if form.write_built is not None:
        return [form.write_built(made, options)]
    pages = made.pages
    notes: tuple[str, ...] = ()
    if not form.pixels:
        pages, notes = _with_images(pages, options)
    if form.write_pages is not None and len(pages) > 1:
        written = [form.write_pages(pages, options)]
    else:
        written = [form.write(page, options) for page in pages]
    return [one._replace(notes=(*notes, *one.notes), images=True) for one in written] if notes else written


def _with_images(pages: tuple[Scene, ...], options: Options) -> tuple[tuple[Scene, ...], tuple[str, ...]]:
    """Pages whose heavy layers are images, as far as that is asked for."""
    if options.rasterize is False and not any(page.root.asks_for_pixels for page in pages):
        return pages, ()
    from facetine.writers.mixed import mixed

    done = [mixed(page, options.rasterize, options.dpi) for page in pages]
    count = sum(number for _, number in done)
    if not count:
        return pages, ()
    note = f"{count} layer{'s' if count > 1 else ''} drawn as {'images' if count > 1 else 'an image'} inside the vectors"
    return tuple(page for page, _ in done), (note,)


def _live(sentence: Sentence | Plate, made: Built, sizes: tuple[Length, Length]) -> Built:
    """A figure for a page, which shows itself what is chosen at first; the one that was made where nothing is."""
    from facetine.grammar.plate import begins_chosen, left_to_readers

    return built(left_to_readers(sentence), *sizes) if begins_chosen(sentence) else made


def _numbered(target: Path, count: int) -> list[Path]:
    """The paths of several files that one target becomes."""
    digits = len(str(count))
    names = [f"{target.stem}-{number:0{digits}}{target.suffix}" for number in range(1, count + 1)]
    return [target] if count == 1 else [target.with_name(name) for name in names]


def checked_dpi(dpi: object) -> float:
    """A resolution.

    Raises:
        OptionError: It is none.
    """
    if not is_number(dpi) or not 10 <= dpi <= 4800:
        raise OptionError("figure.export", f"dpi is a number from 10 to 4800, not {told(dpi)}")
    return float(dpi)


def _suffixes(paths: Sequence[Path]) -> str:
    return ", ".join(dict.fromkeys(path.suffix.lower() for path in paths))


@dataclass(frozen=True, slots=True)
class Asked:
    """What an export was asked for, beside its files."""

    width: Length = None
    height: Length = None
    dpi: float | None = None
    transparent: bool | str = False
    alt: str | None = None
    fonts: Fonts = "name"
    colors: Colors = "rgb"
    icc: bool | str | os.PathLike[str] = False
    archive: bool = False
    paper: PaperSize | None = None
    margins: Length = None
    fit: bool = False
    crop_marks: bool = False
    data: str | None = None
    rasterize: Rasterize = False
    interactive: bool = True

    def options(self, paths: Sequence[Path], forms: Sequence[Format]) -> Options:
        """How scenes are to be written.

        Raises:
            OptionError: An option has no effect on any of the formats, or is impossible.
        """
        where = "figure.export"
        for name in (name for name in self._said() if name != "paper"):
            if not any(name in form.takes for form in forms):
                able = [suffix for suffix, form in FORMATS.items() if name in form.takes]
                raise OptionError(
                    where,
                    f"{self._written(name)} has no effect on {_suffixes(paths)}",
                    f"it is for {', '.join(able)}",
                )
        if self.rasterize is not False and all(form.pixels for form in forms):
            raise OptionError(
                where,
                f"rasterize={told(self.rasterize)} has no effect on {_suffixes(paths)}, which holds pixels alone",
                "it is for vector formats, such as pdf and svg",
            )
        if self.icc is True and not any(form.pixels for form in forms):
            raise OptionError(where, "icc is for formats of pixels", "png, tiff, jpg and webp carry one")
        press = None
        if not isinstance(self.icc, bool):
            if self.colors != "cmyk":
                raise OptionError(where, "icc with a file is the profile of a press", 'colors="cmyk" goes with it')
            press = _press(self.icc, f"{where}: icc")
        if self.archive and self.colors == "cmyk" and press is None:
            raise OptionError(where, "an archive of four inks needs the profile of their press", 'icc="press.icc"')
        dpi = DPI if self.dpi is None else checked_dpi(self.dpi)
        return Options(
            dpi, not self.transparent, self.fonts, self.icc is True, Inks(self.colors, press), self.archive, self.rasterize,
            interactive=self.interactive, values=self.data != "positions", most_values=now().page_values,
        )  # fmt: skip

    def _said(self) -> list[str]:
        """The options that some formats alone obey and that ask for something."""
        said = {
            "fonts": self.fonts != "name", "colors": self.colors != "rgb", "archive": self.archive,
            "paper": self.paper is not None, "data": self.data == "embed", "positions": self.data == "positions",
            "interactive": not self.interactive,
        }  # fmt: skip
        return [name for name, one in said.items() if one]

    def _written(self, name: str) -> str:
        """An option as it was given."""
        option = "data" if name == "positions" else name
        return f"{option}={told(getattr(self, option))}"

    def unused(self, paths: Sequence[Path], forms: Sequence[Format]) -> list[Finding]:
        """Options that say something for some of the formats, and nothing for others."""
        lacking = {
            name: [
                path
                for path, form in zip(paths, forms, strict=True)
                if not (name in form.takes or (name == "paper" and form.pixels))
            ]
            for name in self._said()
        }
        if self.icc is True:
            lacking["icc"] = [path for path, form in zip(paths, forms, strict=True) if not form.pixels]
        instead = {"paper": "a .pdf is written on a page"}
        return [
            Finding(
                "option-unused",
                "info",
                "figure.export",
                f"{self._written(name)} has no effect on {_suffixes(others)}",
                instead.get(name, ""),
            )
            for name, others in lacking.items()
            if others
        ]

    def sizes(self, paper: Paper | None, forms: Sequence[Format]) -> tuple[Length, Length]:
        """Width and height of the figure: those given, else those of the paper that it is to fill.

        Raises:
            OptionError: A size is given and taken from the paper too, or is one of pixels where there are none.
        """
        where = "figure.export"
        if self.fit and (self.width is not None or self.height is not None):
            raise OptionError(where, "fit=True takes the size from the paper, and one is given too", "leave one of them out")
        if paper is not None and self.fit:
            return f"{paper.room[0]!r} pt", f"{paper.room[1]!r} pt"
        dpi = DPI if self.dpi is None else checked_dpi(self.dpi)
        return _of_pixels(self.width, dpi, forms, f"{where}: width"), _of_pixels(self.height, dpi, forms, f"{where}: height")


def _of_pixels(length: Length, dpi: float, forms: Sequence[Format], where: str) -> Length:
    """A length that may be given in pixels."""
    found = re.fullmatch(r"\s*(\d+)\s*px\s*", length) if isinstance(length, str) else None
    if found is None:
        return length
    if not all(form.pixels for form in forms):
        raise OptionError(where, f"{length!r} is a size for formats of pixels alone", 'write "85 mm", "3.3 in" or "240 pt"')
    return f"{int(found[1]) * 72 / dpi:.9f} pt"


def _press(path: str | os.PathLike[str], where: str) -> bytes:
    """The content of a press's profile."""
    try:
        content = plain_bytes(path)
    except OSError as problem:
        raise OptionError(where, f"can't read {str(path)!r}: {problem.strerror or problem}") from None
    return checked_press(content, f"{where}: {str(path)!r}")


def export(sentence: Sentence | Plate, path: Targets, formats: Sequence[str] | str | None, asked: Asked) -> ExportResult:
    """Writes a sentence to files; see `Figure.export`."""
    from facetine.scene.markup import clean

    where = "figure.export"
    paths = targets(path, formats)
    forms = [FORMATS[form_of(target.suffix)] for target in paths]
    options = asked.options(paths, forms)
    paper = paper_of(asked.paper, asked.margins, asked.fit, asked.crop_marks, where)
    started = time.perf_counter()
    sizes = asked.sizes(paper, forms)
    if asked.data == "embed":
        from facetine.export.attachment import carried

        options = options._replace(attached=carried(sentence, *_sizes_said(sentence, *sizes)))
    if asked.transparent == "dark":
        from facetine.grammar.dark import for_dark_ground

        made = built(for_dark_ground(sentence), *sizes)
    else:
        made = built(sentence, *sizes)
    live = _live(sentence, made, sizes) if any(form.write_built is not None for form in forms) else made
    if asked.alt is not None:
        made, live = made.described_as(clean(asked.alt)), live.described_as(clean(asked.alt))
    images, files, notes = False, [], (*made.findings, *asked.unused(paths, forms))
    if paper is not None:
        made = made._replace(pages=tuple(on_paper(page, paper, where) for page in made.pages))
    build_time, said_as = time.perf_counter() - started, _said_as(sentence)
    # What takes no paper has the size of the figure.
    own = (made.scene.width * 25.4 / 72, made.scene.height * 25.4 / 72)
    size = tuple(side * 25.4 / 72 for side in made.scene.sheet)
    for target in paths:
        suffix, started = form_of(target.suffix), time.perf_counter()
        written = contents(live if FORMATS[suffix].write_built is not None else made, suffix, options)
        images = images or any(one.images for one in written)
        for file, one in zip(_numbered(target, len(written)), written, strict=True):
            notes += tuple(Finding("format-note", "info", f"{where}: {suffix}", text) for text in one.notes)
            write_whole(file, one.content)
            notes += _replaced(file, said_as)
            spent = build_time + time.perf_counter() - started
            width, height = size if "paper" in FORMATS[suffix].takes or FORMATS[suffix].pixels else own
            files.append(WrittenFile(file, width, height, len(one.content), spent))
            build_time, started = 0.0, time.perf_counter()
    if asked.dpi is not None and not images and not any(form.pixels or "dpi" in form.takes for form in forms):
        text = f"dpi={asked.dpi:g} has no effect on {_suffixes(paths)}, which hold no pixels"
        notes += (Finding("dpi-unused", "info", where, text),)
    return ExportResult(tuple(files), notes)


_written: dict[Path, int] = {}
"""What this session has written, and of which figure."""


def _said_as(sentence: Sentence | Plate) -> int:
    """What tells a figure from another one: what stands on its axes. Whatever else is changed, it is that figure again."""
    from facetine.grammar.picture import Picture
    from facetine.grammar.sentence import Sentence

    figures = [sentence] if isinstance(sentence, Sentence) else sentence.contents()
    shown = [one.path if isinstance(one, Picture) else _axes_of(one) for one in figures]
    return hash(tuple(map(repr, shown)))


def _axes_of(sentence: Sentence) -> tuple[object, ...]:
    places = [sentence.mapping, *(layer.map for layer in sentence.layers if not sentence.mapping)]
    return tuple("computed" if callable(shown) else shown for one in places for shown in (one.get("x"), one.get("y")))


def _replaced(file: Path, said_as: int) -> tuple[Finding, ...]:
    """A remark where another figure of this session stood in a file."""
    before = _written.get(path := file.absolute())
    _written[path] = said_as
    if before is None or before == said_as:
        return ()
    text = f"{file.name} replaces another figure, which was written there before"
    return (Finding("file-replaced", "info", "figure.export", text, "another name keeps both"),)
