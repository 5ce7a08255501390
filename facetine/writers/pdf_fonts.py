"""What a PDF says of the fonts that it holds."""

from __future__ import annotations

from functools import lru_cache
from typing import TYPE_CHECKING

from facetine.scene.subset import Subset, UsedFace
from facetine.writers.numbers import short

if TYPE_CHECKING:
    from pikepdf import Object, Pdf

_WEIGHTS = {
    100: "Thin", 200: "ExtraLight", 300: "Light", 400: "Regular", 500: "Medium", 600: "Semibold", 700: "Bold",
    800: "ExtraBold", 900: "Black",
}  # fmt: skip


def tag(used: UsedFace, font: Subset) -> str:
    """Six letters that tell one subset from another, from its own content."""
    import zlib

    number = zlib.crc32(font.outlines + used.name.encode("utf-8"))
    return "".join(chr(65 + number // 26**place % 26) for place in range(6))


def font_name(used: UsedFace) -> str:
    """Family and style, of the signs that a name may hold."""
    family = "".join(char for char in used.key.family if char.isascii() and char.isalnum()) or "Font"
    weight = _WEIGHTS.get(used.key.weight, f"Weight{used.key.weight}")
    return f"{family}-{weight}{'Italic' if used.key.italic else ''}"


def to_unicode(used: UsedFace, font: Subset) -> bytes:
    """Which text each glyph number stands for, so that text can be searched and copied."""
    return _to_unicode(tuple(sorted((font.numbers[glyph], text) for glyph, text in used.glyphs.items())))


@lru_cache(maxsize=128)
def _to_unicode(said: tuple[tuple[int, str], ...]) -> bytes:
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


def font_object(document: Pdf, used: UsedFace, font: Subset) -> Object:
    """A composite font whose character codes are glyph numbers."""
    from pikepdf import Dictionary, Name, Object

    name = Name(f"/{tag(used, font)}+{font_name(used)}")
    box = " ".join(str(round(value)) for value in font.box)
    descriptor = Object.parse(
        f"<< /Type /FontDescriptor /FontName {name} /Flags {4 + (64 if used.key.italic else 0)} /FontBBox [{box}] "
        f"/ItalicAngle {-12 if used.key.italic else 0} /Ascent {round(font.ascent)} /Descent {round(font.descent)} "
        f"/CapHeight {round(font.cap)} /StemV {round(used.key.weight / 5)} >>".encode("ascii")
    )
    if font.quadratic:
        descriptor.FontFile2 = document.make_stream(font.outlines, Length1=len(font.outlines))
    else:
        descriptor.FontFile3 = document.make_stream(font.outlines, Subtype=Name.CIDFontType0C)
    ordered = sorted(font.numbers, key=font.numbers.__getitem__)
    widths = " ".join(short(font.widths[old]) for old in ordered)
    sort = "CIDFontType2 /CIDToGIDMap /Identity" if font.quadratic else "CIDFontType0"
    inner = Object.parse(
        f"<< /Type /Font /Subtype /{sort} /BaseFont {name} "
        f"/DW 500 /W [0 [{widths}]] /CIDSystemInfo << /Registry (Adobe) /Ordering (Identity) /Supplement 0 >> >>".encode("ascii")
    )
    inner.FontDescriptor = document.make_indirect(descriptor)
    return document.make_indirect(
        Dictionary(
            Type=Name.Font,
            Subtype=Name.Type0,
            BaseFont=name,
            Encoding=Name("/Identity-H"),
            DescendantFonts=[document.make_indirect(inner)],
            ToUnicode=document.make_stream(to_unicode(used, font)),
        )
    )
