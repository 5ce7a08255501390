"""The speed floor: the same two-color scatter with axes, titles and legend, written with the least work there is.

Coordinates are known, text is shaped, the fonts are cut to the glyphs used once, all points are written in one format
call, the file is saved once. There is no data frame, no scale and no layout here: what is left is what any program
that writes such a file must do. The PDF is put together by hand, without a library for PDF objects.
"""

from __future__ import annotations

import zlib

import numpy as np
import uharfbuzz as hb

from facetine.core.arrays import FloatArray
from facetine.scene.fonts import face

WIDTH, HEIGHT = 240.94, 170.08
TICKS_X = [(40.0 + 38 * i, str(30 + 5 * i)) for i in range(6)]
TICKS_Y = [(150.0 - 24 * i, str(20 * i)) for i in range(5)]
LINES = [
    (30.0, 12.0, 10.0, "A cloud of two colors"),
    (30.0, 34.0, 8.0, "Firmness (N)"),
    (30.0, 165.0, 8.0, "Moisture (%)"),
]
LEGEND = [(40.0, 24.0, "sound"), (90.0, 24.0, "cracked")]
INKS = ("#22347f", "#b35a68")


class Data:
    """Points in points from the top left, and the color of each."""

    def __init__(self, count: int) -> None:
        rng = np.random.default_rng(5)
        self.at: FloatArray = np.round(np.column_stack([rng.uniform(32, 236, count), rng.uniform(40, 148, count)]), 2)
        self.which = rng.integers(0, 2, count)


def texts() -> list[tuple[float, float, float, str]]:
    """x, baseline, size and text of every line."""
    lines = list(LINES)
    lines += [(x, 158.0, 7.2, text) for x, text in TICKS_X] + [(20.0, y, 7.2, text) for y, text in TICKS_Y]
    lines += [(x, y, 8.0, text) for x, y, text in LEGEND]
    return lines


def floor_svg(data: Data) -> bytes:
    """The figure as SVG."""
    templates = [f'<circle cx="%.7g" cy="%.7g" r="1.8" fill="{ink}"/>\n' for ink in INKS]
    pattern = "".join(map(templates.__getitem__, data.which.tolist()))
    circles = pattern % tuple(data.at.ravel().tolist())
    font = face("Source Sans Pro").font
    written = []
    for x, y, size, text in texts():
        _shape(font, text)
        written.append(f'<text x="{x:g}" y="{y:g}" font-size="{size:g}">{text}</text>')
    ticks = "".join(f"M{x:g} 150v3" for x, _ in TICKS_X) + "".join(f"M30 {y:g}h-3" for y, _ in TICKS_Y)
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="85mm" height="60mm" viewBox="0 0 {WIDTH} {HEIGHT}">\n'
        f'<g>\n{circles}</g>\n<path d="{ticks}" stroke="#444"/>\n'
        f"<g font-family=\"'Source Sans Pro'\">{''.join(written)}</g>\n</svg>\n"
    ).encode()


def _shape(font: hb.Font, text: str) -> hb.Buffer:
    buffer = hb.Buffer()
    buffer.add_str(text)
    buffer.guess_segment_properties()
    hb.shape(font, buffer, None)
    return buffer


def floor_pdf(data: Data) -> bytes:
    """The figure as PDF."""
    used = face("Source Sans Pro")
    shaped = [(x, y, size, _shape(used.font, text)) for x, y, size, text in texts()]
    glyphs = sorted({0, *(info.codepoint for *_, buffer in shaped for info in buffer.glyph_infos)})
    request = hb.SubsetInput()
    request.glyph_set.update(glyphs)
    request.drop_table_tag_set.update(
        int.from_bytes(tag.ljust(4), "big") for tag in (b"GSUB", b"GPOS", b"GDEF", b"name", b"post", b"OS/2", b"cmap")
    )
    request.flags = hb.SubsetFlags.NO_LAYOUT_CLOSURE | hb.SubsetFlags.NO_HINTING
    plan = hb.SubsetPlan(used.face, request)
    numbers = plan.old_to_new_glyph_mapping
    outlines = bytes(plan.execute().reference_table("CFF ").data)
    templates = ["q 1 0 0 1 %.7g %.7g cm /M0 Do Q\n", "q 1 0 0 1 %.7g %.7g cm /M1 Do Q\n"]
    pattern = "".join(map(templates.__getitem__, data.which.tolist()))
    content = pattern % tuple(data.at.ravel().tolist())
    for x, y, size, buffer in shaped:
        codes = "".join(f"{numbers[info.codepoint]:04x}" for info in buffer.glyph_infos)
        content += f"BT /F0 {size:g} Tf {x:g} {y:g} Td <{codes}> Tj ET\n"
    content += "".join(f"{x:g} 20 m {x:g} 17 l S\n" for x, _ in TICKS_X)
    widths = " ".join(f"{used.font.get_glyph_h_advance(glyph)}" for glyph in glyphs)
    return _document(content, outlines, widths)


def _document(content: str, outlines: bytes, widths: str) -> bytes:
    disc = "1.8 0 m 1.8 .99 .99 1.8 0 1.8 c -.99 1.8 -1.8 .99 -1.8 0 c "
    disc += "-1.8 -.99 -.99 -1.8 0 -1.8 c .99 -1.8 1.8 -.99 1.8 0 c f"
    form = "/Type /XObject /Subtype /Form /BBox [-2 -2 2 2]"
    objects = [
        b"<< /Type /Catalog /Pages 2 0 R >>",
        b"<< /Type /Pages /Kids [3 0 R] /Count 1 >>",
        f"<< /Type /Page /Parent 2 0 R /MediaBox [0 0 {WIDTH} {HEIGHT}] /Contents 4 0 R /Resources "
        "<< /Font << /F0 5 0 R >> /XObject << /M0 9 0 R /M1 10 0 R >> >> >>".encode(),
        _stream(content.encode(), ""),
        b"<< /Type /Font /Subtype /Type0 /BaseFont /F /Encoding /Identity-H /DescendantFonts [6 0 R] >>",
        f"<< /Type /Font /Subtype /CIDFontType0 /BaseFont /F /CIDSystemInfo << /Registry (Adobe) /Ordering (Identity) "
        f"/Supplement 0 >> /FontDescriptor 7 0 R /W [0 [{widths}]] >>".encode(),
        b"<< /Type /FontDescriptor /FontName /F /Flags 4 /FontFile3 8 0 R >>",
        _stream(outlines, "/Subtype /CIDFontType0C"),
        _stream(f".13 .2 .5 rg {disc}".encode(), form),
        _stream(f".7 .35 .4 rg {disc}".encode(), form),
    ]
    out, places = bytearray(b"%PDF-1.7\n"), []
    for number, body in enumerate(objects, 1):
        places.append(len(out))
        out += b"%d 0 obj\n%s\nendobj\n" % (number, body)
    start = len(out)
    out += b"xref\n0 %d\n0000000000 65535 f \n" % (len(objects) + 1)
    out += b"".join(b"%010d 00000 n \n" % place for place in places)
    out += b"trailer\n<< /Size %d /Root 1 0 R >>\nstartxref\n%d\n%%%%EOF\n" % (len(objects) + 1, start)
    return bytes(out)


def _stream(data: bytes, said: str) -> bytes:
    packed = zlib.compress(data, 6)
    return b"<< %s /Filter /FlateDecode /Length %d >>\nstream\n%s\nendstream" % (said.encode(), len(packed), packed)
