"""Figures to files: formats by suffix, sizes by length, all files written whole or not at all."""

from __future__ import annotations

import os
import time
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING

from facetine.core.arrays import is_number
from facetine.errors import ExportError, OptionError, told, unknown
from facetine.files import write_whole
from facetine.findings import Finding
from facetine.grammar.given import Length, Target, Targets
from facetine.grammar.lengths import in_points
from facetine.session import now
from facetine.writers.formats import FORMATS, Fonts, Options

if TYPE_CHECKING:
    from facetine.grammar.plate import Plate
    from facetine.grammar.sentence import Sentence
    from facetine.pipeline.built import Built
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
class Exported:
    """What an export wrote, and what it has to say."""

    files: tuple[WrittenFile, ...]
    notes: tuple[Finding, ...]

    def __repr__(self) -> str:
        lines = [f"wrote {file.path}  {file.width_mm:.0f}×{file.height_mm:.0f} mm" for file in self.files]
        return "\n".join([*lines, *(f"note: {note}" for note in self.notes)])


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
        raise ExportError(f"{where}: {told(path)} is no path")
    if not paths:
        raise ExportError(f"{where}: no path")
    if formats is not None:
        words = [formats] if isinstance(formats, str) else list(formats)
        if not words:
            raise ExportError(f"{where}: formats is empty", f"formats: {', '.join(FORMATS)}")
        for word in words:
            if str(word).lstrip(".").lower() not in FORMATS:
                raise unknown(ExportError, where, "no format", word, FORMATS, "formats")
        for one in paths:
            if one.suffix.lower().lstrip(".") in FORMATS:
                raise ExportError(
                    f"{where}: {str(one)!r} has a suffix, and formats are given too",
                    f"leave one out: {str(one.with_suffix(''))!r} with formats, or {one.name!r} alone",
                )
        paths = [one.with_name(f"{one.name}.{str(word).lstrip('.').lower()}") for one in paths for word in words]
    for one in paths:
        if one.suffix.lower().lstrip(".") not in FORMATS:
            if not one.suffix:
                raise ExportError(
                    f"{where}: {str(one)!r} has no suffix to say the format",
                    f"suffixes: {', '.join('.' + word for word in FORMATS)}",
                )
            raise unknown(ExportError, where, "no format for", one.suffix, [f".{word}" for word in FORMATS], "suffixes")
    return list(dict.fromkeys(paths))


def _path(given: Target) -> Path:
    """A path from a text, from bytes, or from anything that is a path to the system.

    Raises:
        ExportError: It is none, or holds a control character.
    """
    try:
        text = os.fsdecode(given)
    except TypeError:
        raise ExportError(f"figure.export: {told(given)} is no path") from None
    if any(ord(letter) < 32 or ord(letter) == 127 for letter in text):
        raise ExportError(f"figure.export: the path {told(text)} holds a control character", "a path is one line of text")
    return Path(text)


def built(sentence: Sentence | Plate, width: Length, height: Length, where: str = "figure.export") -> Built:
    """A sentence built at a size; widths and heights that are None take their defaults."""
    from facetine.grammar.sentence import Sentence
    from facetine.pipeline.built import build

    if width is None and not isinstance(sentence, Sentence):
        width = now().width or PLATE_WIDTH
    elif width is None and isinstance(sentence, Sentence) and sentence.panel.sides[0] is None:
        width = now().width or WIDTH
    points = None if width is None else in_points(width, f"{where}: width")
    tall = None if height is None else in_points(height, f"{where}: height")
    if isinstance(sentence, Sentence):
        return build(sentence, points, tall)
    from facetine.pipeline.plates import build_plate

    assert points is not None
    return build_plate(sentence, points, tall)


def rendered(made: Built, suffix: str, *, dpi: float, transparent: bool, fonts: Fonts) -> bytes:
    """A built figure as the bytes of one format; of several pages the first, where its files hold but one."""
    return contents(made, suffix, Options(dpi, not transparent, fonts))[0].content


def contents(made: Built, suffix: str, options: Options) -> list[Written]:
    """A built figure as files of one format: one with all its pages, or one for each where the format holds but one."""
    form = FORMATS.need(suffix, "figure.export", ExportError)
    if form.write_pages is not None and len(made.pages) > 1:
        return [form.write_pages(made.pages, options)]
    return [form.write(page, options) for page in made.pages]


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
        raise OptionError(f"figure.export: dpi is a number from 10 to 4800, not {told(dpi)}")
    return float(dpi)


def _suffixes(paths: Sequence[Path]) -> str:
    return ", ".join(dict.fromkeys(path.suffix.lower() for path in paths))


def export(
    sentence: Sentence | Plate,
    path: Targets,
    *,
    width: Length,
    height: Length,
    dpi: float | None,
    transparent: bool,
    formats: Sequence[str] | str | None,
    alt: str | None,
    fonts: Fonts,
    profile: bool,
) -> Exported:
    """Writes a sentence to files; see `Figure.export`."""
    paths = targets(path, formats)
    forms = [FORMATS[target.suffix.lower().lstrip(".")] for target in paths]
    holds_pixels = any(form.pixels for form in forms)
    if profile and not holds_pixels:
        raise OptionError("figure.export: profile is for formats of pixels", "png, tiff, jpg and webp carry one")
    if fonts != "name" and not any(form.fonts for form in forms):
        raise OptionError(
            f"figure.export: fonts={fonts!r} says nothing for {_suffixes(paths)}, which holds its letters itself",
            "it is for svg and svgz, whose readers have fonts of their own",
        )
    from facetine.scene.markup import clean

    resolution = DPI if dpi is None else checked_dpi(dpi)
    started = time.perf_counter()
    made = built(sentence, width, height)
    if alt is not None:
        made = made.described_as(clean(alt))
    build_time = time.perf_counter() - started
    files, notes = [], made.findings
    millimetres = 25.4 / 72
    size = made.scene.width * millimetres, made.scene.height * millimetres
    for target in paths:
        suffix, started = target.suffix.lower().lstrip("."), time.perf_counter()
        written = contents(made, suffix, Options(resolution, not transparent, fonts, profile))
        for file, (content, said) in zip(_numbered(target, len(written)), written, strict=True):
            notes += tuple(Finding("format-note", "note", f"figure.export: {suffix}", text) for text in said)
            write_whole(file, content)
            spent = build_time + time.perf_counter() - started
            files.append(WrittenFile(file, *size, len(content), spent))
            build_time, started = 0.0, time.perf_counter()
    if dpi is not None and not holds_pixels:
        text = f"dpi={dpi:g} says nothing for {_suffixes(paths)}, which hold no pixels"
        notes += (Finding("dpi-unused", "note", "figure.export", text),)
    return Exported(tuple(files), notes)
