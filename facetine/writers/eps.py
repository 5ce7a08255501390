"""EPS, of PostScript level 3: one page, text as text in embedded fonts, no opacity.

Source: PostScript Language Reference, third edition (1999); Encapsulated PostScript File Format Specification 3.0 (1992).
"""

from __future__ import annotations

import base64
import io
import math
import zlib
from collections.abc import Iterable
from contextlib import AbstractContextManager

import numpy as np

from facetine.scene.marks import Bitmap, Glyphs, Gradient, Group, Markers, Paths, Rects, Scene, Text, Writer
from facetine.scene.markup import clean
from facetine.scene.subset import used_faces
from facetine.writers.extents import file_of
from facetine.writers.formats import Format, Options, Written
from facetine.writers.numbers import filled, short
from facetine.writers.opaque import Flat, FlatGroup, flattened
from facetine.writers.pdf_fonts import font_name
from facetine.writers.pdf_paths import outline_of, painted, path_of, pen
from facetine.writers.type1 import PostScriptFont, fonts_of

_PROLOG = """%%BeginProlog
/FacetineDict 40 dict def FacetineDict begin
/q /gsave load def /Q /grestore load def
/m /moveto load def /l /lineto load def /c /curveto load def /h /closepath load def
/w /setlinewidth load def /d /setdash load def /J /setlinecap load def /j /setlinejoin load def
/re {4 2 roll moveto 1 index 0 rlineto 0 exch rlineto neg 0 rlineto closepath} bind def
/n /newpath load def
/fillset {0 setgray} def /lineset {0 setgray} def
/rg {3 array astore /fillcolor exch def /fillset {fillcolor aload pop setrgbcolor} def} bind def
/RG {3 array astore /linecolor exch def /lineset {linecolor aload pop setrgbcolor} def} bind def
/k {4 array astore /fillcolor exch def /fillset {fillcolor aload pop setcmykcolor} def} bind def
/K {4 array astore /linecolor exch def /lineset {linecolor aload pop setcmykcolor} def} bind def
/f {fillset fill} bind def /f* {fillset eofill} bind def /S {lineset stroke} bind def
/B {gsave fillset fill grestore lineset stroke} bind def /B* {gsave fillset eofill grestore lineset stroke} bind def
end
%%EndProlog
"""


def eps(scene: Scene, options: Options) -> Written:
    """A scene as an EPS file."""
    flat = flattened(scene, options)
    writer = _Eps(scene, options)
    if options.ground:
        ground = scene.ground or "#ffffff"
        writer.out.append(f"{painted(ground, options.inks)} 0 0 {short(scene.width, 3)} {short(scene.height, 3)} re f\n")
    writer.draw(flat.root.items)
    return Written(writer.document(scene), flat.notes)


FORMAT = Format(
    "vectors for older typesetting; no opacity",
    eps,
    takes=frozenset({"colors", "dpi"}),
    suits="journals and programs that ask for it",
    loses="opacity (blended; an image of layers of very many marks), layers, the description",
)


class _Eps(Writer):
    """Collects the content of the page."""

    def __init__(self, scene: Scene, options: Options) -> None:
        self.height = scene.height
        self.inks = options.inks
        self.out: list[str] = []
        self.procedures: dict[str, str] = {}
        self.fonts: dict[str, list[PostScriptFont]] = {}
        for face in used_faces(scene):
            self.fonts[face.name] = fonts_of(face.name, font_name(face), dict(face.glyphs))

    def document(self, scene: Scene) -> bytes:
        """The whole file."""
        fonts = [font for fonts in self.fonts.values() for font in fonts]
        named = " ".join(font.name for font in fonts)
        head = (
            "%!PS-Adobe-3.0 EPSF-3.0\n"
            f"%%BoundingBox: 0 0 {math.ceil(round(scene.width, 3))} {math.ceil(round(scene.height, 3))}\n"
            f"%%HiResBoundingBox: 0 0 {short(scene.width, 4)} {short(scene.height, 4)}\n"
            f"%%Title: {_line(scene.title or 'Figure')}\n%%Creator: Facetine\n%%LanguageLevel: 3\n%%DocumentData: Clean7Bit\n"
            f"%%Pages: 1\n" + (f"%%DocumentSuppliedResources: font {named}\n" if fonts else "") + "%%EndComments\n"
        )
        supplied = "".join(f"%%BeginResource: font {font.name}\n{font.program}%%EndResource\n" for font in fonts)
        setup = f"%%BeginSetup\n{supplied}%%EndSetup\n"
        defined = "".join(f"/{name} {{{body}}} bind def\n" for body, name in self.procedures.items())
        page = (
            f"%%Page: 1 1\nsave\nFacetineDict begin\nfalse setstrokeadjust\n{defined}{''.join(self.out)}end\nrestore\nshowpage\n"
        )
        return f"{head}{_PROLOG}{setup}{page}%%Trailer\n%%EOF\n".encode("ascii")

    def draw(self, items: Iterable[Flat]) -> None:
        """Marks and groups in their order."""
        for item in items:
            if isinstance(item, FlatGroup):
                self._group(item)
            else:
                item.on(self)

    def _group(self, flat: FlatGroup) -> None:
        if not flat.items:
            return
        self.out.append(f"%%BeginObject: {_line(flat.group.title)}\n")
        clip = flat.group.clip
        if clip is not None:
            box = f"{short(clip.x)} {short(self.height - clip.bottom)} {short(clip.width)} {short(clip.height)}"
            self.out.append(f"q {box} rectclip\n")
        self.draw(flat.items)
        self.out.append("Q\n%%EndObject\n" if clip is not None else "%%EndObject\n")

    def group(self, group: Group) -> AbstractContextManager[None]:
        """Groups come as flat ones."""
        raise NotImplementedError(group.name)

    def _path(self, mark: Paths) -> str:
        points = np.column_stack([mark.points[:, 0], self.height - mark.points[:, 1]])
        return path_of(points, mark.starts, mark.closed)

    def markers(self, mark: Markers) -> None:
        """A procedure for each style, called once for each marker."""
        names = []
        for style in mark.styles:
            body = f"gsave translate {outline_of(style, self.inks)[0]} grestore"
            names.append(self.procedures.setdefault(body, f"M{len(self.procedures)}"))
        at = np.column_stack([mark.at[:, 0], self.height - mark.at[:, 1]])
        self.out.append(filled([("", " ", f" {name}\n") for name in names], mark.which, at))

    def rects(self, mark: Rects) -> None:
        """Rectangles in their order."""
        if not len(mark.boxes):
            return
        paint = "f"
        self.out.append("q\n")
        if mark.outline is not None:
            self.out.append(pen(mark.outline, self.inks))
            paint = "B"
        boxes = mark.boxes.copy()
        boxes[:, 1] = self.height - boxes[:, 1] - boxes[:, 3]
        templates = [(f"{painted(fill, self.inks)} ", " ", " ", " ", f" re {paint}\n") for fill in mark.fills]
        self.out.append(filled(templates, mark.which, boxes))
        self.out.append("Q\n")

    def paths(self, mark: Paths) -> None:
        """All parts as one path."""
        if not len(mark.points):
            return
        self.out.append("q\n")
        if mark.stroke is not None:
            self.out.append(pen(mark.stroke, self.inks))
        if mark.fill is not None:
            self.out.append(f"{painted(mark.fill, self.inks)}\n")
        paint = {(True, True): "B*", (True, False): "f*", (False, True): "S", (False, False): "n"}
        self.out.append(f"{self._path(mark)}{paint[mark.fill is not None, mark.stroke is not None]}\nQ\n")

    def gradient(self, mark: Gradient) -> None:
        """An axial shading, cut to the rectangle."""
        box = mark.box
        x, y = box.x, self.height - box.bottom
        ends = [x, y, x, y + box.height] if mark.upright else [x, y, x + box.width, y]
        amounts = [self.inks.amounts(color) for color in mark.colors]
        shades = bytes(round(255 * amount) for one in amounts for amount in one).hex()
        data = "\n".join(shades[start : start + 200] for start in range(0, len(shades), 200))
        self.out.append(
            f"q {short(x)} {short(y)} {short(box.width)} {short(box.height)} rectclip\n"
            f"<< /ShadingType 2 /ColorSpace /{self.inks.space} /Coords [{' '.join(map(short, ends))}] /Extend [true true]\n"
            f"/Function << /FunctionType 0 /Domain [0 1] /Range [{'0 1 ' * len(amounts[0])}] /Size [{len(amounts)}]\n"
            f"/BitsPerSample 8 /DataSource <{data}> >> >> shfill\nQ\n"
        )

    def bitmap(self, mark: Bitmap) -> None:
        """The picture's pixels, what is transparent laid over white; of a layer's picture, those that it has."""
        from PIL import Image

        with Image.open(io.BytesIO(file_of(mark))) as image:
            clear = image.convert("RGBA")
        ground = Image.new("RGBA", clear.size, "#ffffff")
        pixels = self.inks.image(Image.alpha_composite(ground, clear))
        box, bands = mark.box, len(pixels.getbands())
        self.out.append(
            f"q {short(box.x)} {short(self.height - box.bottom)} translate {short(box.width)} {short(box.height)} scale\n"
            f"/{self.inks.space} setcolorspace\n"
        )
        size = f"/Width {pixels.width} /Height {pixels.height} /BitsPerComponent 8"
        place = f"/ImageMatrix [{pixels.width} 0 0 {-pixels.height} 0 {pixels.height}]"
        decode, source = f"/Decode [{'0 1 ' * bands}]", "/DataSource currentfile /ASCII85Decode filter /FlateDecode filter"
        rows = np.asarray(pixels).reshape(pixels.height, pixels.width, bands)
        if mark.pixels is None:
            self.out.append(f"<< /ImageType 1 {size} {decode}\n{place}\n{source} >> image\n{_packed(rows.tobytes())}~>\nQ\n")
            return
        # Samples of the mask come before those of each pixel: 0 is painted.
        masked = np.concatenate([255 - mark.pixels[..., 3:], rows], axis=2)
        self.out.append(
            f"<< /ImageType 3 /InterleaveType 1\n/DataDict << /ImageType 1 {size} {decode}\n{place}\n{source} >>\n"
            f"/MaskDict << /ImageType 1 {size} /Decode [0 1]\n{place} >> >> image\n{_packed(masked.tobytes())}~>\nQ\n"
        )

    def text(self, mark: Text) -> None:
        """Runs of one font after the other, each glyph moved on by what shaping said."""
        if not mark.runs:
            return
        turn = f"{short(mark.angle)} rotate " if mark.angle else ""
        x = -mark.anchor * mark.width
        color = painted(mark.color, self.inks, text=True)
        self.out.append(f"q {color} fillset {short(mark.x)} {short(self.height - mark.y)} translate {turn}\n")
        for run in mark.standing:
            x = self._run(run, x)
        self.out.append("Q\n")

    def _run(self, run: Glyphs, x: float) -> float:
        fonts = self.fonts[run.face]
        offsets = run.offsets or ((0.0, 0.0),) * len(run.ids)
        per = run.size / 1000
        pending: list[tuple[int, float]] = []
        start = x, run.shift
        last: PostScriptFont | None = None

        def show() -> None:
            if pending and last is not None:
                codes = "".join(_code(code) for code, _ in pending)
                advances = " ".join(short(advance, 3) for _, advance in pending)
                self.out.append(
                    f"/{last.name} {short(run.size)} selectfont {short(start[0], 3)} {short(start[1], 3)} m "
                    f"({codes}) [{advances}] xshow\n"
                )
            pending.clear()

        for glyph, advance, (right, up) in zip(run.ids, run.advances, offsets, strict=True):
            font = next(font for font in fonts if glyph in font.codes)
            if font is not last or right or up or not pending:
                show()
                start, last = (x + right * per, run.shift + up * per), font
            pending.append((font.codes[glyph], advance * per))
            if right or up:
                show()
            x += advance * per
        show()
        return x


def _code(code: int) -> str:
    char = chr(code)
    if 32 <= code < 127:
        return f"\\{char}" if char in "()\\" else char
    return f"\\{code:03o}"


def _line(text: str) -> str:
    """A text as a comment of the document's structure: one line of plain letters."""
    return clean(text).encode("ascii", "replace").decode("ascii").replace("\n", " ").replace("\r", " ")[:200]


def _packed(content: bytes) -> str:
    """Bytes as letters of which no line looks like a comment of the document's structure."""
    packed = base64.a85encode(zlib.compress(content, 9), wrapcol=76).decode("ascii")
    return packed.replace("\n%", "\n %")
