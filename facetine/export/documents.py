"""Figures in word processor documents: at their physical size, as SVG with a PNG for readers that know none."""

from __future__ import annotations

import hashlib
import io
import re
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING, Any

from facetine.data.plain import must_be_plain
from facetine.data.zipped import must_unpack_to_little
from facetine.export.export import built, rendered
from facetine.export.files import write_whole
from facetine.messages.errors import ExportError, FacetineError, OptionError, listed, nearest, told
from facetine.messages.findings import Finding
from facetine.scene.markup import clean, plain

if TYPE_CHECKING:
    from facetine.grammar.given import Length, Target

_EMU = 12700
"""Units of a document in a point."""
_OWN = "Facetine: "
_PLACE = re.compile(r"\[\[([^\[\]\n]{1,80})\]\]")
"""A place that waits for a figure."""
_SVG_EXTENSION = "{96DAC541-7B7A-43D3-8B79-37D633B846F1}"
"""Of the extension that names a picture's SVG ([MS-ODRAWXML], 2.3.1.7)."""
_SVG_SPACE = "http://schemas.microsoft.com/office/drawing/2016/SVG/main"


@dataclass(frozen=True, slots=True)
class DocumentResult:
    """What became of the figures of a document."""

    path: Path
    filled: tuple[str, ...]
    """Names whose place was marked in the document."""
    replaced: tuple[str, ...]
    """Names that stood there from an earlier call."""
    appended: tuple[str, ...]
    findings: tuple[Finding, ...]

    def __repr__(self) -> str:
        said = (("filled", self.filled), ("replaced", self.replaced), ("appended", self.appended))
        done = f"{self.path}: " + "; ".join(f"{what} {', '.join(names)}" for what, names in said if names)
        return "\n".join([done, *(f"finding: {one.text}; {one.fix}" for one in self.findings if one.code.startswith("place-"))])


def into_document(
    path: Target, figures: Mapping[str, Any], *, width: Length = None, captions: bool = True, fonts: str = "outline"
) -> DocumentResult:
    """Places figures in a Word document; run again, it replaces its own figures and nothing else.

    A figure's place is [[Figure 1]], alone in its paragraph or within a sentence, or a bookmark Figure_1; without one it is
    appended, which is told. A caption is written once below a paragraph of its own, from the figure's title and note; one that
    was changed in the document stays as it is. What stands in double brackets and has no figure is told too.

    Args:
        path: A .docx file; made if it is missing.
        figures: Figures or plates by the names of their places; or a pair of a figure and its caption.
        width: Of figures whose sheet says no size; 85 mm by default, 180 mm for plates.
        captions: Whether captions are written.
        fonts: As for an export to SVG. Word processors read no fonts from a picture, so letters are outlines by default.

    Returns:
        Which figures were filled in, replaced and appended, and their findings.

    Raises:
        ExportError: The file is no document, can't be read or written, or python-docx is missing.
        OptionError: There is nothing to place, or it is no figure.
        FacetineError: A figure can't be drawn.

    Example:
        >>> import facetine as ft
        >>> fig = ft.figure({"a": [1, 2], "b": [3, 4]}).map(x="a", y="b").lines()
        >>> ft.into_document("report.docx", {"Figure 1": fig})  # doctest: +SKIP
        report.docx: filled Figure 1
    """
    import os

    from facetine.grammar.options import choice, flag

    where = "into_document"
    if not isinstance(figures, Mapping) or not figures:
        raise OptionError(where, f"figures are a dict of names and figures, not {told(figures)}", '{"Figure 1": fig}')
    flag(captions, f"{where}: captions")
    choice("name", "embed", "outline", name="words")(fonts, f"{where}: fonts")
    try:
        file = Path(os.fsdecode(path))
    except TypeError:
        raise ExportError(where, f"{told(path)} is no path") from None
    if file.suffix.lower() != ".docx":
        raise ExportError(where, f"{file.name} is no Word document", "its suffix is .docx")
    pictures = [_picture(str(name), one, width, fonts) for name, one in figures.items()]
    made = not file.exists()
    document = _opened(file)
    done: dict[str, list[str]] = {"filled": [], "replaced": [], "appended": []}
    for picture in pictures:
        done[_place(document, picture, captions)].append(picture.name)
    said = _remarks(document, list(map(str, figures)), [] if made else done["appended"])
    buffer = io.BytesIO()
    document.save(buffer)
    write_whole(file, _timeless(buffer))
    notes = (*said, *(note for picture in pictures for note in picture.findings))
    return DocumentResult(file, tuple(done["filled"]), tuple(done["replaced"]), tuple(done["appended"]), notes)


def _timeless(packed: io.BytesIO) -> bytes:
    """A packed document without the times at which its parts were packed, so that the same figures make the same file."""
    import zipfile

    again = io.BytesIO()
    with zipfile.ZipFile(packed) as before, zipfile.ZipFile(again, "w") as after:
        for part in before.infolist():
            # A part without a time has the first that the format knows, as word processors write it.
            after.writestr(zipfile.ZipInfo(part.filename), before.read(part), zipfile.ZIP_DEFLATED)
    return again.getvalue()


@dataclass(frozen=True, slots=True)
class _Picture:
    """A figure ready to be placed."""

    name: str
    svg: bytes
    png: bytes
    width: float
    height: float
    alt: str
    caption: str
    findings: tuple[Finding, ...]


def _picture(name: str, given: Any, width: Length, fonts: Any) -> _Picture:
    figure, caption = given if isinstance(given, tuple) and len(given) == 2 else (given, None)
    if not hasattr(figure, "_sentence"):
        raise OptionError(
            "into_document", f"{name!r} is {told(figure)}, which is no figure", "a figure, or a pair of figure and caption"
        )
    if caption is not None and not isinstance(caption, str):
        raise OptionError("into_document", f"the caption of {name!r} is a text, not {told(caption)}")
    said = figure._sentence
    made = built(said, width if said.sheet.width is None else None, None, "into_document")
    parts = [plain(text) for text in (said.titles.title, said.titles.note) if text]
    words = caption if caption is not None else " ".join(text if text.endswith((".", "!", "?")) else f"{text}." for text in parts)
    return _Picture(
        name, rendered(made, "svg", dpi=300, transparent=False, fonts=fonts),
        rendered(made, "png", dpi=300, transparent=False, fonts="name"), made.scene.width, made.scene.height,
        made.scene.description, clean(f"{name}. {words}".strip()), made.findings,
    )  # fmt: skip


def _opened(file: Path) -> Any:
    try:
        from docx import Document
    except ModuleNotFoundError:
        raise ExportError(
            "into_document", "python-docx is not installed", "python -m pip install 'facetine[documents]'"
        ) from None
    if not file.exists():
        return Document()
    try:
        must_be_plain(file)
        must_unpack_to_little(file, "into_document", ExportError)
        document = Document(str(file))
        # A damaged one may open and have nothing in it.
        document.element.body.iter()
    except FacetineError:
        raise
    except Exception as problem:
        # Whatever the parsers of such files raise, the file is none.
        said = getattr(problem, "strerror", None) or str(problem)[:160] or type(problem).__name__
        raise ExportError("into_document", f"{file.name} can't be read as a Word document", said) from problem
    return document


def _place(document: Any, picture: _Picture, captions: bool) -> str:
    """Puts a picture into a document; says how."""
    own = _own_drawing(document, picture.name)
    if own is not None:
        _replace(document, own, picture, captions)
        return "replaced"
    marked = _marked(document, picture.name)
    within = _within_sentence(document, picture.name) if marked is None else None
    if within is not None:
        _draw(document, within, picture)
        return "filled"
    paragraph = document.add_paragraph() if marked is None else marked
    _fill(document, paragraph, picture, captions)
    return "appended" if marked is None else "filled"


def _paragraphs(document: Any) -> list[Any]:
    """All paragraphs of the text, those in tables too."""
    from docx.oxml.ns import qn
    from docx.text.paragraph import Paragraph

    return [Paragraph(element, document) for element in document.element.body.iter(qn("w:p"))]


def _remarks(document: Any, names: list[str], appended: list[str]) -> tuple[Finding, ...]:
    """Places without a figure, and figures without a place."""
    left: dict[str, None] = {}
    for paragraph in _paragraphs(document):
        left |= dict.fromkeys(_PLACE.findall(paragraph.text))
    said = "has no place in the document, and stands at its end"
    found = [_remark("place-appended", f"{name!r} {said}", f"[[{name}]] is one") for name in appended]
    for name in left:
        text = f"[[{name}]] stands in the document " + ("once more" if name in names else "without a figure")
        close = nearest(name, names) if name not in names else None
        fix = f"the figures are {listed(map(repr, names))}" if close is None else f"did you mean {close!r}?"
        found.append(_remark("place-left", text, fix))
    return tuple(found)


def _remark(code: str, text: str, fix: str) -> Finding:
    return Finding(code, "warning", "into_document", text, fix)


def _own_drawing(document: Any, name: str) -> Any:
    from docx.oxml.ns import qn

    for properties in document.element.body.iter(qn("wp:docPr")):
        if properties.get("name") == _OWN + name:
            return properties.getparent()
    return None


def _marked(document: Any, name: str) -> Any:
    """The paragraph that a marker or a bookmark names, emptied of the marker; a new one behind it where it holds more."""
    from docx.oxml.ns import qn

    for paragraph in _paragraphs(document):
        if paragraph.text.strip() == f"[[{name}]]":
            for run in paragraph.runs:
                run.text = ""
            return paragraph
    bookmark = re.sub(r"\W", "_", name)
    for paragraph in _paragraphs(document):
        names = [mark.get(qn("w:name")) for mark in paragraph._p.iter(qn("w:bookmarkStart"))]
        if bookmark in names:
            return paragraph if not paragraph.text.strip() else _behind(paragraph)
    return None


def _within_sentence(document: Any, name: str) -> Any:
    """A new run in the place of a marker within a text; None where there is none."""
    from copy import deepcopy

    from docx.text.run import Run

    wanted = f"[[{name}]]"
    for paragraph in _paragraphs(document):
        runs = paragraph.runs
        start = "".join(run.text for run in runs).find(wanted)
        if start < 0:
            continue
        end, at = start + len(wanted), 0
        first = None
        for run in runs:
            text = run.text
            low, high = max(start - at, 0), min(end - at, len(text))
            at += len(text)
            if low >= high:
                continue
            if first is None:
                # What stands behind the marker in its run gets one of its own, which looks the same.
                first, rest = run, text[high:]
                run.text = text[:low]
                if rest:
                    behind = deepcopy(run._r)
                    run._r.addnext(behind)
                    Run(behind, paragraph).text = rest
            else:
                run.text = text[:low] + text[high:]
        assert first is not None
        made = deepcopy(first._r)
        first._r.addnext(made)
        placed = Run(made, paragraph)
        placed.text = ""
        return placed
    return None


def _behind(paragraph: Any) -> Any:
    """A new paragraph behind another one."""
    from docx.oxml import OxmlElement
    from docx.text.paragraph import Paragraph

    element = OxmlElement("w:p")
    paragraph._p.addnext(element)
    return Paragraph(element, paragraph._parent)


def _draw(document: Any, run: Any, picture: _Picture) -> Any:
    """A picture in a run of text; the drawing that holds it."""
    from docx.oxml.ns import qn
    from docx.shared import Emu

    run.add_picture(io.BytesIO(picture.png), width=Emu(_units(picture.width)), height=Emu(_units(picture.height)))
    (inline,) = run._r.iter(qn("wp:inline"))
    _add_svg(document, inline, picture.svg)
    _say(inline, picture)
    return inline


def _fill(document: Any, paragraph: Any, picture: _Picture, captions: bool) -> None:
    inline = _draw(document, paragraph.add_run(), picture)
    if captions:
        behind = _behind(paragraph)
        if "Caption" in [style.name for style in document.styles]:
            behind.style = document.styles["Caption"]
        behind.add_run(picture.caption)
        _remember(inline, picture.caption)


def _replace(document: Any, inline: Any, picture: _Picture, captions: bool) -> None:
    """Another picture in the place of an own one; its caption too, where it is as it was written."""
    from docx.oxml.ns import qn
    from docx.text.paragraph import Paragraph

    part = document.part
    (blip,) = inline.iter(qn("a:blip"))
    old = [blip.get(qn("r:embed")), *(svg.get(qn("r:embed")) for svg in blip.iter(f"{{{_SVG_SPACE}}}svgBlip"))]
    fresh, _ = part.get_or_add_image(io.BytesIO(picture.png))
    blip.set(qn("r:embed"), fresh)
    for extension in list(blip.iter(qn("a:extLst"))):
        extension.getparent().remove(extension)
    _add_svg(document, inline, picture.svg)
    for extent in (*inline.iter(qn("wp:extent")), *inline.iter(qn("a:ext"))):
        if extent.get("cx") is not None:
            extent.set("cx", str(_units(picture.width)))
            extent.set("cy", str(_units(picture.height)))
    remembered = next(iter(inline.iter(qn("wp:docPr")))).get("title", "")
    _say(inline, picture)
    used = document.element.xml
    for key in old:
        if key is not None and key != fresh and f'"{key}"' not in used:
            part.drop_rel(key)
    holder = inline
    while holder is not None and holder.tag != qn("w:p"):
        holder = holder.getparent()
    following = holder.getnext() if holder is not None else None
    if captions and following is not None and following.tag == qn("w:p"):
        caption = Paragraph(following, document)
        if remembered == _digest(caption.text):
            for run in caption.runs[1:]:
                run.text = ""
            caption.runs[0].text = picture.caption
            remembered = _digest(picture.caption)
    next(iter(inline.iter(qn("wp:docPr")))).set("title", remembered)


def _add_svg(document: Any, inline: Any, svg: bytes) -> None:
    """The SVG beside the picture that stands in for it."""
    from docx.opc.constants import RELATIONSHIP_TYPE
    from docx.opc.packuri import PackURI
    from docx.opc.part import Part
    from docx.oxml import parse_xml
    from docx.oxml.ns import qn

    package = document.part.package
    taken = {str(part.partname) for part in package.iter_parts()}
    number = next(number for number in range(1, len(taken) + 2) if f"/word/media/figure{number}.svg" not in taken)
    part = Part(PackURI(f"/word/media/figure{number}.svg"), "image/svg+xml", svg, package)
    key = document.part.relate_to(part, RELATIONSHIP_TYPE.IMAGE)
    (blip,) = inline.iter(qn("a:blip"))
    blip.append(
        parse_xml(
            '<a:extLst xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main" '
            'xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships">'
            f'<a:ext uri="{_SVG_EXTENSION}"><asvg:svgBlip xmlns:asvg="{_SVG_SPACE}" r:embed="{key}"/></a:ext></a:extLst>'
        )
    )


def _say(inline: Any, picture: _Picture) -> None:
    """The name by which it is found again, and what it shows in words."""
    from docx.oxml.ns import qn

    for properties in inline.iter(qn("wp:docPr")):
        properties.set("name", _OWN + picture.name)
        properties.set("descr", picture.alt)


def _remember(inline: Any, caption: str) -> None:
    from docx.oxml.ns import qn

    for properties in inline.iter(qn("wp:docPr")):
        properties.set("title", _digest(caption))


def _digest(text: str) -> str:
    return "caption " + hashlib.blake2b(text.encode("utf-8"), digest_size=6).hexdigest()


def _units(points: float) -> int:
    return round(points * _EMU)
