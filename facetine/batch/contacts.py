"""The contact sheet of a run: one page from disk, with every figure, its files, its notes and its failures."""

from __future__ import annotations

import os
import re
from collections import Counter
from collections.abc import Mapping
from functools import lru_cache
from html import escape
from importlib.resources import files
from pathlib import Path
from string import Template
from types import MappingProxyType
from typing import Any, NamedTuple
from urllib.parse import quote

from facetine.batch.outcomes import Outcome
from facetine.export.files import write_whole
from facetine.messages.version import VERSION

NAME = "index.html"
_SHOWN = (".png", ".webp", ".jpg", ".svg")
"""Files that a page can show, first those whose letters do not depend on the fonts of the machine."""
_PICTURES, _WIDE, _INKS = 150, 540, 128
"""Of so many figures that are PDF alone a picture is made for the page, so many pixels wide; of more it would take too long."""
_KEPT = re.compile(r'data-of="([0-9a-f]+)" src="(data:image/png;base64,[^"]+)"')


def write_contacts(plan: str, out: Path, outcomes: list[Outcome]) -> None:
    """Writes the page, where it would be another one."""
    target = out / NAME
    before = target.read_bytes() if target.is_file() else b""
    # A picture of a file that is as it was is the one that stands there.
    kept = dict(_KEPT.findall(before.decode("utf-8", "replace")))
    content = page(plan, out, outcomes, kept).encode("utf-8", "replace")
    if before != content:
        write_whole(target, content)


def page(plan: str, out: Path, outcomes: list[Outcome], kept: Mapping[str, str] = MappingProxyType({})) -> str:
    """The page as HTML.

    Args:
        plan: Its name.
        out: The folder in which it lies.
        outcomes: What it shows.
        kept: Pictures of PDF files by the digests of these, as far as they have been made before.
    """
    states = Counter(_state(outcome) for outcome in outcomes)
    counts = [f"{states[state]} {state}" for state in ("empty", "not checked") if states[state]]
    noted = sum(bool(outcome.findings) for outcome in outcomes)
    said = ", ".join([f"{states['drawn']} drawn", *counts, f"{states['failed']} failed", f"{noted} with findings"])
    summary = f"{said}. Facetine {VERSION}."
    unseen = [outcome for outcome in outcomes if outcome.error is None and not _showable(outcome)]
    pictures = {outcome.name: _of_pdf(outcome, kept) for outcome in unseen} if len(unseen) <= _PICTURES else {}
    articles = "\n".join(_article(outcome, out, pictures.get(outcome.name)) for outcome in outcomes)
    parts = {"plan": escape(plan), "summary": escape(summary), "articles": articles}
    template = Template(_file("contacts.html"))
    style = _file("page.css", "facetine.export") + _file("contacts.css")
    return template.substitute(parts, style=style, script=_file("contacts.js"))


@lru_cache
def _file(name: str, room: str = "facetine.batch") -> str:
    return (files(room) / name).read_text("utf-8")


def _article(outcome: Outcome, out: Path, picture: _Picture | None) -> str:
    failed = outcome.error is not None
    state = _state(outcome)
    linked = [(file, _link(file.path, out)) for file in outcome.files]
    parts = [f'<h2><span class="state">{state}</span>{escape(outcome.name)}</h2>', _thumb(outcome, linked, picture)]
    if linked:
        items = "".join(f'<li><a href="{link}">{escape(Path(file.path).name)}</a> {_size(file)}</li>' for file, link in linked)
        parts.append(f'<ul class="files" aria-label="Files">{items}</ul>')
    if failed:
        lines = getattr(outcome.error, "lines", None) or [outcome.error.line if outcome.error is not None else ""]
        parts.append(f'<ul class="error" aria-label="Errors">{"".join(f"<li>{escape(line)}</li>" for line in lines)}</ul>')
    if outcome.findings:
        notes = "".join(f"<li>{escape(str(note))}</li>" for note in outcome.findings)
        parts.append(f'<ul class="notes" aria-label="Findings">{notes}</ul>')
    if outcome.sentence:
        parts.append(f"<details><summary>The sentence</summary><pre>{escape(outcome.sentence)}</pre></details>")
    name = escape(outcome.name.lower(), quote=True)
    return f'<article class="{state.replace(" ", "-")}" data-name="{name}">{"".join(parts)}</article>'


def _state(outcome: Outcome) -> str:
    return outcome.called if outcome.called in ("failed", "not checked", "empty") else "drawn"


def _showable(outcome: Outcome) -> Any:
    """The file of a figure that a page can show; None for none."""
    found = [file for suffix in _SHOWN for file in outcome.files if str(file.path).lower().endswith(suffix)]
    return found[0] if found else None


class _Picture(NamedTuple):
    """A picture made for the page."""

    of: str
    """The digest of the file that it shows."""
    address: str
    """It holds the picture."""


def _of_pdf(outcome: Outcome, kept: Mapping[str, str]) -> _Picture | None:
    """A picture of a PDF's first page; None where there is none."""
    files = zip(outcome.files, outcome.digests, strict=False)
    found = next(((file.path, digest) for file, digest in files if str(file.path).lower().endswith(".pdf")), None)
    if found is None:
        return None
    path, digest = found
    address = kept.get(digest) or _rasterized(path)
    return None if address is None else _Picture(digest, address)


def _rasterized(path: Path) -> str | None:
    import base64
    import io

    import pypdfium2
    from PIL import Image

    try:
        with pypdfium2.PdfDocument(path) as document:
            page = document[0]
            image = page.render(scale=_WIDE / page.get_width()).to_pil()
    except (OSError, pypdfium2.PdfiumError):
        return None
    stream = io.BytesIO()
    # The quickest way to few colors, six times as quick as the usual one.
    few = image.quantize(_INKS, method=Image.Quantize.FASTOCTREE, dither=Image.Dither.NONE)
    few.save(stream, "PNG", compress_level=4)
    return f"data:image/png;base64,{base64.b64encode(stream.getvalue()).decode('ascii')}"


def _thumb(outcome: Outcome, linked: list[tuple[Any, str]], picture: _Picture | None) -> str:
    """A picture of the figure: a file that a page can show, or one made for it, else a place for it."""
    shown, alt = _showable(outcome), escape(f"The figure {outcome.name}", quote=True)
    for file, link in linked:
        if picture is not None or file is shown:
            source = f'src="{link}"' if picture is None else f'data-of="{picture.of}" src="{picture.address}"'
            return f'<a class="thumb" href="{link}"><img loading="lazy" {source} alt="{alt}"></a>'
    if not linked:
        return '<div class="none">no picture</div>'
    kinds = ", ".join(dict.fromkeys(Path(file.path).suffix.lstrip(".").upper() for file, _ in linked))
    return f'<a class="none" href="{linked[0][1]}">{escape(kinds)}</a>'


def _link(path: Path, out: Path) -> str:
    return quote(os.path.relpath(path, out).replace(os.sep, "/"), errors="replace")


def _size(file: Any) -> str:
    size = f"{file.size / 1000:.0f} kB" if file.size < 1e6 else f"{file.size / 1e6:.1f} MB"
    return f"{file.width_mm:.0f}×{file.height_mm:.0f} mm, {size}" if file.width_mm else size
