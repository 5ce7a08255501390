"""What a PDF says of the fonts that it holds."""

from __future__ import annotations

import zlib
from functools import lru_cache
from typing import TYPE_CHECKING, NamedTuple

from facetine.scene.fonts import FaceKey
from facetine.scene.subset import Subset, UsedFace, subset
from facetine.writers.numbers import short
from facetine.writers.pdf_streams import parsed, parsed_all

if TYPE_CHECKING:
    from pikepdf import Object, Pdf

_WEIGHTS = {
    100: "Thin", 200: "ExtraLight", 300: "Light", 400: "Regular", 500: "Medium", 600: "Semibold", 700: "Bold",
    800: "ExtraBold", 900: "Black",
}  # fmt: skip


def font_name(used: UsedFace) -> str:
    """Family and style, of the signs that a name may hold."""
    return _font_name(used.key)


def font_object(document: Pdf, used: UsedFace) -> Object:
    """A composite font whose character codes are glyph numbers."""
    from pikepdf import Array

    parts = _parts(used.name, used.key, tuple(used.glyphs.items()))
    descriptor, inner, font = parsed_all(document, (parts.descriptor, parts.inner, parts.font))
    descriptor[parts.program] = document.make_stream(parts.outlines, parsed(parts.said))
    inner.FontDescriptor = descriptor
    font.DescendantFonts = Array([inner])
    font.ToUnicode = document.make_stream(parts.to_unicode, parsed("<< /Filter /FlateDecode >>"))
    return font


class _Parts(NamedTuple):
    """What a document holds of a font, finished but for the references between its parts."""

    font: str
    inner: str
    descriptor: str
    program: str
    """Under which name the descriptor holds the outlines."""
    said: str
    """What the dictionary of the outlines says."""
    outlines: bytes
    """Deflated."""
    to_unicode: bytes
    """Deflated."""


@lru_cache(maxsize=128)
def _parts(face: str, key: FaceKey, glyphs: tuple[tuple[int, str], ...]) -> _Parts:
    """Kept for the next figure: most figures of a paper use the same letters."""
    font = subset(face, [glyph for glyph, _ in glyphs])
    name = f"/{_tag(face, font)}+{_font_name(key)}"
    box = " ".join(str(round(value)) for value in font.box)
    descriptor = (
        f"<< /Type /FontDescriptor /FontName {name} /Flags {4 + (64 if key.italic else 0)} /FontBBox [{box}] "
        f"/ItalicAngle {-12 if key.italic else 0} /Ascent {round(font.ascent)} /Descent {round(font.descent)} "
        f"/CapHeight {round(font.cap)} /StemV {round(key.weight / 5)} >>"
    )
    ordered = sorted(font.numbers, key=font.numbers.__getitem__)
    widths = " ".join(short(font.widths[old]) for old in ordered)
    sort = "CIDFontType2 /CIDToGIDMap /Identity" if font.quadratic else "CIDFontType0"
    inner = (
        f"<< /Type /Font /Subtype /{sort} /BaseFont {name} "
        f"/DW 500 /W [0 [{widths}]] /CIDSystemInfo << /Registry (Adobe) /Ordering (Identity) /Supplement 0 >> >>"
    )
    font_said = f"<< /Type /Font /Subtype /Type0 /BaseFont {name} /Encoding /Identity-H >>"
    sort = f"/Length1 {len(font.outlines)}" if font.quadratic else "/Subtype /CIDFontType0C"
    texts = _to_unicode(sorted((font.numbers[glyph], text) for glyph, text in glyphs))
    return _Parts(
        font_said,
        inner,
        descriptor,
        "/FontFile2" if font.quadratic else "/FontFile3",
        f"<< {sort} /Filter /FlateDecode >>",
        zlib.compress(font.outlines, 9),
        zlib.compress(texts, 9),
    )


def _tag(face: str, font: Subset) -> str:
    """Six letters that tell one subset from another, from its own content."""
    number = zlib.crc32(font.outlines + face.encode("utf-8"))
    return "".join(chr(65 + number // 26**place % 26) for place in range(6))


def _font_name(key: FaceKey) -> str:
    family = "".join(char for char in key.family if char.isascii() and char.isalnum()) or "Font"
    weight = _WEIGHTS.get(key.weight, f"Weight{key.weight}")
    return f"{family}-{weight}{'Italic' if key.italic else ''}"


def _to_unicode(said: list[tuple[int, str]]) -> bytes:
    """Which text each glyph number stands for, so that text can be searched and copied."""
    pairs = [f"<{number:04x}> <{text.encode('utf-16-be').hex()}>" for number, text in said]
    blocks = [pairs[start : start + 100] for start in range(0, len(pairs), 100)]
    body = "\n".join(f"{len(block)} beginbfchar\n" + "\n".join(block) + "\nendbfchar" for block in blocks)
    return (
        "/CIDInit /ProcSet findresource begin\n12 dict begin\nbegincmap\n"
        "/CIDSystemInfo << /Registry (Adobe) /Ordering (UCS) /Supplement 0 >> def\n"
        "/CMapName /Adobe-Identity-UCS def\n/CMapType 2 def\n"
        "1 begincodespacerange\n<0000> <ffff>\nendcodespacerange\n"
        f"{body}\nendcmap\nCMapName currentdict /CMap defineresource pop\nend\nend\n"
    ).encode("ascii")
