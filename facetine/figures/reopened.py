"""What figures carry inside their files, had again: the rows, the sentence, and the figure made from them."""

from __future__ import annotations

import base64
import gzip
import json
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING

from facetine.data.carried import unpacked
from facetine.data.plain import MOST_FIGURE, plain_bytes
from facetine.export.attachment import ROWS, SENTENCE
from facetine.grammar.given import Plain
from facetine.grammar.theme import THEMES
from facetine.messages.errors import DataError, ExportError, FacetineError, told

if TYPE_CHECKING:
    import pandas as pd

    from facetine.figures.figure import Figure
    from facetine.grammar.given import Target


@dataclass(frozen=True, slots=True)
class ReopenedFigure:
    """What a figure's file carried."""

    data: pd.DataFrame
    """The rows that the figure used, in its columns."""
    spec: Plain
    """The sentence as plain data."""
    codebook: Plain
    figure: Figure
    """The figure, made again from these."""

    def __repr__(self) -> str:
        return f"reopened({len(self.data):,} rows × {len(self.data.columns)} columns)\n{self.figure!r}"


def reopen(path: Target) -> ReopenedFigure:
    """Gets back what a figure's file carries: the data that it shows, its sentence, and the figure made from them.

    Args:
        path: An SVG, SVGZ or PDF that was exported with data="embed".

    Raises:
        ExportError: The file can't be read, is of another format, carries nothing, or what it carries is damaged.

    Example:
        >>> import facetine as ft
        >>> again = ft.reopen("firmness.pdf")  # doctest: +SKIP
        >>> again.figure.export("larger.pdf", width="180 mm")  # doctest: +SKIP
    """
    import os

    try:
        file = Path(os.fsdecode(path))
        content = plain_bytes(file, MOST_FIGURE)
    except TypeError:
        raise ExportError("reopen", f"{told(path)} is no path") from None
    except OSError as problem:
        raise ExportError("reopen", f"can't read {str(path)!r}: {problem.strerror or problem}") from problem
    readers = {".svg": _from_svg, ".svgz": _from_svg, ".pdf": _from_pdf}
    if file.suffix.lower() not in readers:
        raise ExportError("reopen", f"{file.name} is no file that can carry data", f"suffixes: {', '.join(readers)}")
    try:
        parts = readers[file.suffix.lower()](content, file.name)
        if ROWS not in parts or SENTENCE not in parts:
            raise ExportError("reopen", f"{file.name} carries no data", 'data="embed" of an export puts them in')
        return _made(parts, file.name)
    except ExportError:
        raise
    except FacetineError as problem:
        inner = "" if problem.where == "reopen" else f"{problem.where}: "
        raise problem.but(ExportError, where="reopen", what=f"{file.name}: {inner}{problem.what}") from problem
    except Exception as problem:
        # A file from somewhere else may make its parsers raise anything.
        said = f"{type(problem).__name__}: {str(problem)[:120]}"
        raise ExportError("reopen", f"what {file.name} carries is damaged", said) from problem


def _made(parts: dict[str, bytes], name: str) -> ReopenedFigure:
    from facetine.figures.start import from_dict

    try:
        sentence = json.loads(parts[SENTENCE])
        columns, spec, codebook = sentence["columns"], sentence["figure"], sentence["codebook"]
        text = parts[ROWS].decode("utf-8")
    except (ValueError, KeyError, TypeError) as problem:
        raise DataError("reopen", f"what {name} carries is damaged: {problem}") from problem
    _must_be_data(spec, codebook)
    frame = unpacked(text, columns)
    return ReopenedFigure(frame, spec, codebook, from_dict(spec, frame, codebook=codebook))


def _must_be_data(spec: object, codebook: object) -> None:
    """Takes a sentence and a codebook that say all themselves: a name in them could be that of any file of the machine.

    Raises:
        DataError: One of them is no table, or names a file.
    """
    if not isinstance(spec, dict) or "plate" in spec:
        raise DataError("", "the figure that it carries is none")
    if codebook is not None and not (isinstance(codebook, dict) and all(isinstance(one, dict) for one in codebook.values())):
        raise DataError("", "the codebook that it carries is no table")
    waiting: list[object] = [spec]
    while waiting:
        part = waiting.pop()
        if isinstance(part, list):
            waiting += part
        elif isinstance(part, dict):
            waiting += part.values()
            theme = part.get("theme")
            named = theme.get("name") if isinstance(theme, dict) else theme
            if isinstance(named, str) and named not in THEMES:
                raise DataError(
                    "", f"it names a theme that is not ours, {named!r}", "the settings of a theme travel with a figure"
                )


def _decompressed(content: bytes) -> bytes:
    """What was compressed, up to as much as a figure may hold.

    Raises:
        DataError: It is more.
    """
    import io

    with gzip.GzipFile(fileobj=io.BytesIO(content)) as stream:
        plain = stream.read(MOST_FIGURE + 1)
    if len(plain) > MOST_FIGURE:
        raise DataError("", "what it carries is too large")
    return plain


def _from_svg(content: bytes, name: str) -> dict[str, bytes]:
    import xml.etree.ElementTree as ET

    try:
        text = _decompressed(content) if content[:2] == b"\x1f\x8b" else content
        root = ET.fromstring(text)
    except (ET.ParseError, OSError, EOFError) as problem:
        raise DataError("reopen", f"{name} is no SVG: {problem}") from problem
    parts: dict[str, bytes] = {}
    for element in root.iter("{urn:facetine:figure}part"):
        try:
            parts[element.get("name", "")] = _decompressed(base64.b64decode(element.text or "", validate=True))
        except (ValueError, OSError, EOFError) as problem:
            raise DataError("reopen", f"what {name} carries is damaged: {problem}") from problem
    return parts


def _from_pdf(content: bytes, name: str) -> dict[str, bytes]:
    import io

    import pikepdf

    try:
        with pikepdf.open(io.BytesIO(content)) as pdf:
            return {key: one.get_file().read_bytes() for key, one in pdf.attachments.items() if key in (ROWS, SENTENCE)}
    except pikepdf.PdfError as problem:
        raise DataError("reopen", f"{name} is no PDF: {problem}") from problem
