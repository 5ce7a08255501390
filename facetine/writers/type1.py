"""Fonts for PostScript, cut down to the glyphs that are used, from the outlines of any font.

Source: Adobe Type 1 Font Format, version 1.1 (1990); names of glyphs by the Adobe Glyph List Specification.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from facetine.scene.fonts import named
from facetine.scene.letters import glyph_outline

_EEXEC, _CHARSTRING = 55665, 4330
_MOST = 200
"""Glyphs of one font; 256 codes are the most."""
_LINE = 64


class PostScriptFont(NamedTuple):
    """A font with up to 200 glyphs."""

    name: str
    codes: dict[int, int]
    """The code of each glyph number."""
    program: str


def fonts_of(face: str, name: str, glyphs: dict[int, str]) -> list[PostScriptFont]:
    """Fonts that hold some glyphs of a face.

    Args:
        face: The face's name, as runs of glyphs give it.
        name: What the fonts are called.
        glyphs: The text that each glyph stands for.
    """
    ordered = sorted(glyphs.items(), key=lambda item: (item[1], item[0]))
    parts = [dict(ordered[start : start + _MOST]) for start in range(0, len(ordered), _MOST)]
    return [_font(face, name if len(parts) == 1 else f"{name}-{number}", part) for number, part in enumerate(parts, 1)]


def _font(face: str, name: str, glyphs: dict[int, str]) -> PostScriptFont:
    codes, names = _codes(glyphs), _names(glyphs)
    units = named(face).units
    scale = f"{1 / units:.9g}"
    encoding = "\n".join(f"dup {code} /{names[glyph]} put" for glyph, code in sorted(codes.items(), key=lambda item: item[1]))
    head = (
        f"%!PS-AdobeFont-1.0: {name}\n11 dict begin\n"
        f"/FontInfo 1 dict dup begin /FullName ({name}) readonly def end readonly def\n"
        f"/FontName /{name} def\n/PaintType 0 def\n/FontType 1 def\n"
        f"/FontMatrix [{scale} 0 0 {scale} 0 0] readonly def\n"
        f"/Encoding 256 array 0 1 255 {{1 index exch /.notdef put}} for\n{encoding}\nreadonly def\n"
        f"/FontBBox {{{' '.join(map(str, _box(face, glyphs)))}}} readonly def\ncurrentdict end\ncurrentfile eexec\n"
    )
    drawn = {names[glyph]: _charstring(face, glyph) for glyph in glyphs}
    drawn.setdefault(".notdef", _charstring(face, None))
    private = bytearray(
        b"dup /Private 9 dict dup begin\n/RD {string currentfile exch readstring pop} executeonly def\n"
        b"/ND {noaccess def} executeonly def\n/NP {noaccess put} executeonly def\n"
        b"/Subrs 0 array def\n/BlueValues [] def\n/MinFeature {16 16} def\n/password 5839 def\n"
    )
    private += f"2 index /CharStrings {len(drawn)} dict dup begin\n".encode("ascii")
    for glyph_name, charstring in drawn.items():
        private += f"/{glyph_name} {len(charstring)} RD ".encode("ascii") + charstring + b" ND\n"
    private += b"end\nend\nreadonly put\nnoaccess put\ndup /FontName get exch definefont pop\nmark currentfile closefile\n"
    secret = _encrypted(bytes(private), _EEXEC).hex()
    body = "\n".join(secret[start : start + _LINE] for start in range(0, len(secret), _LINE))
    zeros = ("0" * _LINE + "\n") * 8
    return PostScriptFont(name, codes, f"{head}{body}\n{zeros}cleartomark\n")


def _codes(glyphs: dict[int, str]) -> dict[int, int]:
    """Codes of glyphs: that of the character where it is plain and free, so that texts can be read in the file."""
    codes: dict[int, int] = {}
    for glyph, text in glyphs.items():
        if len(text) == 1 and 32 <= ord(text) < 127 and ord(text) not in codes.values():
            codes[glyph] = ord(text)
    free = iter(sorted(set(range(32, 256)) - set(codes.values()), key=lambda code: (code < 128, code)))
    return codes | {glyph: next(free) for glyph in glyphs if glyph not in codes}


def _names(glyphs: dict[int, str]) -> dict[int, str]:
    """Names that say what each glyph reads."""
    names: dict[int, str] = {}
    taken: set[str] = {".notdef"}
    for glyph, text in glyphs.items():
        if len(text) == 1 and ord(text) > 0xFFFF:
            base = f"u{ord(text):05X}"
        else:
            base = "uni" + text.encode("utf-16-be").hex().upper() if text else f"glyph{glyph}"
        name, number = base, 2
        while name in taken:
            name, number = f"{base}.form{number}", number + 1
        taken.add(name)
        names[glyph] = name
    return names


def _box(face: str, glyphs: dict[int, str]) -> tuple[int, int, int, int]:
    numbers = [values for glyph in glyphs for _, values in glyph_outline(face, glyph) if values]
    if not numbers:
        return 0, 0, 0, 0
    across, up = [value for values in numbers for value in values[::2]], [value for values in numbers for value in values[1::2]]
    return round(min(across)), round(min(up)), round(max(across)), round(max(up))


def _charstring(face: str, glyph: int | None) -> bytes:
    """An outline as a Type 1 charstring; None for the empty glyph that stands for none."""
    font = named(face).font
    width = round(font.get_glyph_h_advance(glyph)) if glyph is not None else named(face).units // 2
    out = bytearray(_number(0) + _number(width) + b"\x0d")
    pen = (0, 0)
    start = pen
    for command, values in glyph_outline(face, glyph) if glyph is not None else ():
        points = [(round(values[i]), round(values[i + 1])) for i in range(0, len(values), 2)]
        if command == "Q":
            command, points = "C", _cubic(pen, points)
        if command == "Z":
            out += b"\x09"
            # The pen stays where the contour ended.
            continue
        moves = []
        for point in points:
            moves += [point[0] - pen[0], point[1] - pen[1]]
            pen = point
        start = pen if command == "M" else start
        out += b"".join(map(_number, moves)) + {"M": b"\x15", "L": b"\x05", "C": b"\x08"}[command]
    return _encrypted(bytes(out + b"\x0e"), _CHARSTRING)


def _cubic(start: tuple[int, int], points: Sequence[tuple[int, int]]) -> list[tuple[int, int]]:
    """A quadratic curve as the same cubic one."""
    control, end = points
    first = tuple(round(start[i] + 2 / 3 * (control[i] - start[i])) for i in (0, 1))
    second = tuple(round(end[i] + 2 / 3 * (control[i] - end[i])) for i in (0, 1))
    return [(first[0], first[1]), (second[0], second[1]), end]


def _number(value: int) -> bytes:
    if -107 <= value <= 107:
        return bytes([value + 139])
    if 108 <= value <= 1131:
        return bytes([247 + ((value - 108) >> 8), (value - 108) & 255])
    if -1131 <= value <= -108:
        return bytes([251 + ((-value - 108) >> 8), (-value - 108) & 255])
    return b"\xff" + value.to_bytes(4, "big", signed=True)


def _encrypted(content: bytes, key: int) -> bytes:
    """What the format asks for; it hides nothing."""
    out = bytearray()
    for plain in b"\0\0\0\0" + content:
        cipher = plain ^ (key >> 8)
        key = ((cipher + key) * 52845 + 22719) & 0xFFFF
        out.append(cipher)
    return bytes(out)
