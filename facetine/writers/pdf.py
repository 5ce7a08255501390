"""PDF 1.7: embedded subset fonts that can be searched, markers as form objects, groups as optional-content layers.

Source: ISO 32000-1:2008.
"""

from __future__ import annotations

import io
import math
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from typing import TYPE_CHECKING

import numpy as np

from facetine.scene.marks import (
    Bitmap,
    FloatArray,
    Glyphs,
    Gradient,
    Group,
    Markers,
    MarkerStyle,
    Paths,
    Rects,
    Scene,
    Text,
    Writer,
)
from facetine.scene.play import play
from facetine.scene.subset import Subset, subset, used_faces
from facetine.writers.formats import PLAIN, Format, Options, Written
from facetine.writers.numbers import filled, short
from facetine.writers.pdf_archive import add_files, add_metadata, add_profile
from facetine.writers.pdf_fonts import font_object
from facetine.writers.pdf_images import image_object
from facetine.writers.pdf_paths import outline_of, painted, path_of, pen
from facetine.writers.pdf_streams import packed, parsed, parsed_all, text_of
from facetine.writers.pdf_tags import PageTags, add_tree

if TYPE_CHECKING:
    from pikepdf import Array, Dictionary, Object, Pdf

_CHUNK = 50_000
# With more looks than these, markers of all sizes share a form for each shape and color.
_FEW_STYLES = 16
_FINE = 100
"""Markers are drawn and placed in hundredths of a point."""
_CLOSE = "Q\nEMC\n"


def pdf(*scenes: Scene, options: Options = PLAIN, sheets: int | None = None) -> bytes:
    """Scenes as the pages of a PDF document.

    Args:
        *scenes: The drawings.
        options: How they are written; a white ground is left to the paper.
        sheets: For rasterising only: the most markers on a page. The drawing is cut into pages that make it up when
            they are laid over each other, so that no page is too large to be held in memory.
    """
    import pikepdf

    document = pikepdf.new()
    shared = _Shared.of(document, scenes, options)
    for scene in scenes:
        writer = _Pdf(scene, shared, sheets)
        at = scene.page
        moved = at is not None
        if at is not None:
            writer.open.append(f"q 1 0 0 1 {short(at.x)} {short(at.height - at.y - scene.height)} cm\n")
            writer.out.append(writer.open[-1])
        if options.ground and scene.ground and scene.ground != "#ffffff":
            writer.start_artifact()
            writer.out.append(f"{painted(scene.ground, options.inks)} 0 0 {short(scene.width)} {short(scene.height)} re f\n")
            writer.end_marks()
        play(scene, writer)
        if moved:
            writer.out.append("Q\n")
        writer.finish(scene)
    shared.finish(scenes[0])
    buffer = io.BytesIO()
    document.save(
        buffer,
        deterministic_id=True,
        min_version="1.7",
        # All that is large is deflated when it is made; the many small objects are written soonest together.
        compress_streams=False,
        object_stream_mode=pikepdf.ObjectStreamMode.generate,
    )
    return buffer.getvalue()


def _lost(scenes: tuple[Scene, ...], options: Options) -> tuple[str, ...]:
    """What keeps a file from being an archive that was asked to be one."""
    lacking = any(0 in run.ids for scene in scenes for text in scene.texts() for run in text.runs) if options.archive else False
    return ("characters that no font here has are empty boxes, which no archive may hold",) if lacking else ()


FORMAT = Format(
    "vectors for print; fonts embedded, parts as layers",
    lambda scene, options: Written(pdf(scene, options=options), _lost((scene,), options)),
    write_pages=lambda scenes, options: Written(pdf(*scenes, options=options), _lost(scenes, options)),
    takes=frozenset({"archive", "colors", "data", "paper"}),
    suits="journals, printers, typesetting; archive=True for libraries",
    loses="nothing",
)


@dataclass(slots=True)
class _Shared:
    """What the pages of a document have in common: fonts, and the tree of layers."""

    document: Pdf
    fonts: dict[str, tuple[str, Subset, Object]]
    """By their face: name, glyphs, and the object in the document."""
    options: Options
    pages: list[tuple[Object, PageTags, Scene]] = field(default_factory=list)
    layers: list[Object] = field(default_factory=list)
    tree: list[object] = field(default_factory=list)
    """The numbers of layers nested as the groups are, of one page after the other."""

    @classmethod
    def of(cls, document: Pdf, scenes: tuple[Scene, ...], options: Options) -> _Shared:
        """The fonts of all scenes, each with the glyphs that any of them uses."""
        fonts = {}
        for number, face in enumerate(used_faces(*scenes)):
            glyphs = subset(face.name, face.glyphs)
            fonts[face.name] = (f"F{number}", glyphs, font_object(document, face))
        return cls(document, fonts, options)

    def finish(self, first: Scene) -> None:
        """Lists the layers, and says what the document is."""
        import pikepdf
        from pikepdf import Dictionary

        if self.layers:
            self.document.Root.OCProperties = Dictionary(
                OCGs=self.layers,
                D=Dictionary(Order=_order(self.tree, self.layers), Name=pikepdf.String("Figure")),
            )
        said = {"Title": first.title, "Subject": first.description, "Keywords": ", ".join(first.keywords), "Creator": "Facetine"}
        texts = {f"/{key}": pikepdf.String(text) for key, text in said.items() if text}
        self.document.trailer.Info = self.document.make_indirect(Dictionary(texts))
        if self.options.attached:
            add_files(self.document, self.options.attached)
        if self.pages:
            add_tree(self.document, self.pages)
        if self.options.archive:
            # An archive whose files carry others is one of part 3 of the standard.
            add_metadata(self.document, {**said, "Title": first.title or "Figure"}, 3 if self.options.attached else 2)
            add_profile(self.document, self.options.inks)
            if not first.title:
                self.document.docinfo["/Title"] = pikepdf.String("Figure")


class _Pdf(Writer):
    """Collects the content of a page and what it refers to."""

    def __init__(self, scene: Scene, shared: _Shared, sheets: int | None = None) -> None:
        self.shared = shared
        self.document = shared.document
        self.sheets = sheets
        self.pages: list[list[str]] = []
        self.open: list[str] = []
        self.marked = 0
        self.height = scene.height
        self.out: list[str] = []
        self.forms: dict[tuple[MarkerStyle, bool], str] = {}
        self.states: dict[tuple[float, float], str] = {}
        self.shadings: dict[str, Dictionary] = {}
        self.images: dict[str, Object] = {}
        self.layers: list[str] = []
        """Their titles, in the order in which they are named."""
        self.tree: list[list[object]] = [[]]
        self.inks = shared.options.inks
        # What is only rasterised needs no words.
        self.tags = PageTags(len(shared.pages)) if sheets is None else None

    @contextmanager
    def group(self, group: Group) -> Iterator[None]:
        """A layer that can be hidden; the parts of a legend's entries are none of their own."""
        clip = ""
        if group.clip is not None:
            box = group.clip
            clip = f"{short(box.x)} {short(self.height - box.bottom)} {short(box.width)} {short(box.height)} re W n\n"
        if self.tags is not None:
            self.tags.enter(group)
        if group.kind == "entry":
            yield
            self._leave()
            return
        name = f"L{len(self.shared.layers) + len(self.layers)}"
        self.tree[-1].append(len(self.shared.layers) + len(self.layers))
        self.tree.append([])
        self.layers.append(group.title)
        self.open.append(f"/OC /{name} BDC\nq\n{clip}")
        self.out.append(self.open[-1])
        yield
        self.open.pop()
        self.out.append(_CLOSE)
        inner = self.tree.pop()
        if inner:
            self.tree[-1].append(inner)
        self._leave()

    def _leave(self) -> None:
        if self.tags is not None:
            self.tags.leave()

    def _start_marks(self) -> None:
        """What follows is part of the figure, or a decoration."""
        if self.tags is not None:
            self.out.append(self.tags.next_marks())

    def start_artifact(self) -> None:
        """What follows is decoration."""
        if self.tags is not None:
            self.out.append("/Artifact BMC\n")

    def end_marks(self) -> None:
        """Ends what was started."""
        if self.tags is not None:
            self.out.append("EMC\n")

    def markers(self, mark: Markers) -> None:
        """A form object for each style, placed once for each marker, in one format call a chunk."""
        state = f"q {self._state(mark.opacity, mark.opacity)}\n"
        self._start_marks()
        blended = mark.opacity < 1
        forms = self.sheets is None or (blended and any(style.fill and style.outline for style in mark.styles))
        if forms:
            many = len(mark.styles) > _FEW_STYLES
            placed = [self._placed(style, blended, many) for style in mark.styles]
            templates = [(f"q {matrix} ", " ", f" cm /{form} Do Q\n") for matrix, form in placed]
            # Whole numbers are shorter, and pack better, than those with a point.
            state += f"{short(1 / _FINE)} 0 0 {short(1 / _FINE)} 0 0 cm\n"
        else:
            # Rasterisers draw a plain path several times as fast as a form.
            templates = [("q 1 0 0 1 ", " ", f" cm {outline_of(style, self.inks)[0]} Q\n") for style in mark.styles]
        self.out.append(state)
        at = self._upwards(mark.at)
        for start in range(0, len(at), _CHUNK):
            which = None if mark.which is None else mark.which[start : start + _CHUNK]
            self.out.append(filled(templates, which, at[start : start + _CHUNK], hundredths=forms))
            self.marked += min(_CHUNK, len(at) - start)
            if self.sheets is not None and self.marked >= self.sheets:
                self._turn(state)
        self.out.append("Q\n")
        self.end_marks()

    def _upwards(self, at: FloatArray) -> FloatArray:
        """Places of shape (n, 2) whose y grows upwards from the lower edge."""
        turned = at.astype(np.float64)
        np.subtract(self.height, at[:, 1], out=turned[:, 1])
        return turned

    def _turn(self, state: str) -> None:
        """Goes on on another page, inside the same groups."""
        self.out += ["Q\n", *(_CLOSE if one.startswith("/OC") else "Q\n" for one in reversed(self.open))]
        self.pages.append(self.out)
        self.out = [*self.open, state]
        self.marked = 0

    def rects(self, mark: Rects) -> None:
        """Rectangles in their order; the color is set where it changes."""
        if not len(mark.boxes):
            return
        paint = "f"
        self._start_marks()
        self.out.append(f"q {self._state(mark.opacity, mark.opacity)}\n")
        if mark.outline is not None:
            self.out.append(pen(mark.outline, self.inks))
            paint = "B"
        boxes = mark.boxes.copy()
        boxes[:, 1] = self.height - boxes[:, 1] - boxes[:, 3]
        alone = mark.which is None
        if alone:
            self.out.append(f"{painted(mark.fills[0], self.inks)}\n")
        templates = [("" if alone else f"{painted(fill, self.inks)} ", " ", " ", " ", f" re {paint}\n") for fill in mark.fills]
        self.out.append(filled(templates, mark.which, boxes))
        self.out.append("Q\n")
        self.end_marks()

    def paths(self, mark: Paths) -> None:
        """All parts as one path."""
        if not len(mark.points):
            return
        line = mark.stroke.opacity if mark.stroke is not None else 1.0
        self._start_marks()
        self.out.append(f"q {self._state(mark.opacity, line)}\n")
        if mark.stroke is not None:
            self.out.append(pen(mark.stroke, self.inks))
        if mark.fill is not None:
            self.out.append(f"{painted(mark.fill, self.inks)}\n")
        self.out.append(path_of(self._upwards(mark.points), mark.starts, mark.closed))
        # The even-odd rule leaves the holes of rings open, whichever way they run.
        paint = {(True, True): "B*", (True, False): "f*", (False, True): "S", (False, False): "n"}
        self.out.append(paint[mark.fill is not None, mark.stroke is not None] + "\nQ\n")
        self.end_marks()

    def gradient(self, mark: Gradient) -> None:
        """An axial shading, cut to the rectangle."""
        import pikepdf

        box, name = mark.box, f"S{len(self.shadings)}"
        x, y = box.x, self.height - box.bottom
        ends = [x, y, x, y + box.height] if mark.upright else [x, y, x + box.width, y]
        amounts = [self.inks.amounts(color) for color in mark.colors]
        shades = bytes(round(255 * amount) for one in amounts for amount in one)
        sampled = self.document.make_stream(
            shades,
            FunctionType=0,
            Domain=[0, 1],
            Range=[0, 1] * len(amounts[0]),
            Size=[len(mark.colors)],
            BitsPerSample=8,
        )
        self.shadings[name] = pikepdf.Dictionary(
            ShadingType=2,
            ColorSpace=pikepdf.Name(f"/{self.inks.space}"),
            Coords=[round(value, 2) for value in ends],
            Function=sampled,
            Extend=[True, True],
        )
        self._start_marks()
        self.out.append(f"q {short(x)} {short(y)} {short(box.width)} {short(box.height)} re W n /{name} sh Q\n")
        self.end_marks()

    def bitmap(self, mark: Bitmap) -> None:
        """An image object: a JPEG as it is, a PNG as its pixels, with a mask where it is transparent."""
        name = f"I{len(self.images)}"
        self.images[name] = image_object(self.document, mark, self.inks)
        box = mark.box
        x, y = box.x, self.height - box.bottom
        self._start_marks()
        self.out.append(f"q {short(box.width)} 0 0 {short(box.height)} {short(x)} {short(y)} cm /{name} Do Q\n")
        self.end_marks()

    def text(self, mark: Text) -> None:
        """A text object; every run names its font, size and rise."""
        if not mark.runs:
            return
        along, across = 1.0, 0.0
        if mark.angle:
            turn = math.radians(mark.angle)
            along, across = math.cos(turn), math.sin(turn)
        back = mark.anchor * mark.width if mark.anchor else 0.0
        x, y = mark.x - back * along, self.height - mark.y - back * across
        if self.tags is not None:
            self.out.append(self.tags.next_text(mark))
        place = f"{short(x)} {short(y)} Td\n"
        if mark.angle:
            matrix = (along, across, -across, along)
            place = f"{' '.join(short(value, 5) for value in matrix)} {short(x)} {short(y)} Tm\n"
        self.out.append(f"BT {painted(mark.color, self.inks, text=True)} {place}")
        risen = 0.0
        for run in mark.standing:
            rise = f"{short(run.shift)} Ts " if run.shift != risen else ""
            risen = run.shift
            self.out.append(f"/{self.shared.fonts[run.face][0]} {short(run.size)} Tf {rise}{self._shown(run)}\n")
        self.out.append("0 Ts ET\n" if risen else "ET\n")
        self.end_marks()

    def _shown(self, run: Glyphs) -> str:
        """The glyphs of a run, moved together or apart where shaping said so."""
        if run.offsets:
            return self._shown_singly(run)
        font = self.shared.fonts[run.face][1]
        widths = map(font.widths.__getitem__, run.ids)
        kerns = [width - advance for width, advance in zip(widths, run.advances, strict=True)]
        codes = list(map(font.codes.__getitem__, run.ids))
        moved = [place for place, kern in enumerate(kerns) if abs(kern) > 0.05]
        if not moved:
            return f"<{''.join(codes)}> Tj"
        for place in moved:
            codes[place] += f"> {short(kerns[place])} <"
        # Nothing follows the last glyph.
        return f"[<{''.join(codes)}>] TJ".replace(" <>]", "]")

    def _shown_singly(self, run: Glyphs) -> str:
        """The glyphs of a run of which some stand beside or above their place, as marks on letters do."""
        font, risen, line = self.shared.fonts[run.face][1], 0.0, []
        for glyph, advance, (right, up) in zip(run.ids, run.advances, run.offsets, strict=True):
            rise = f"{short(run.shift + up * run.size / 1000)} Ts " if up != risen else ""
            risen = up
            after = short(font.widths[glyph] + right - advance)
            line.append(f"{rise}[{short(-right)} <{font.codes[glyph]}> {after}] TJ")
        if risen:
            line.append(f"{short(run.shift)} Ts")
        return " ".join(line)

    def _state(self, fill: float, line: float) -> str:
        """Sets the opacity of fills and lines, where it is not full."""
        if fill >= 1 and line >= 1:
            return ""
        name = self.states.setdefault((round(fill, 4), round(line, 4)), f"G{len(self.states)}")
        return f"/{name} gs"

    def _placed(self, style: MarkerStyle, blended: bool, many: bool) -> tuple[str, str]:
        """The scale and the form with which a marker is drawn; where there are many sizes, one form serves all of them."""
        if not many or style.radius <= 0:
            return "1 0 0 1", self._form(style, blended)
        ratio = round(style.line_width / style.radius, 3)
        unit = style._replace(radius=1.0, line_width=ratio)
        size = short(style.radius, 3)
        return f"{size} 0 0 {size}", self._form(unit, blended)

    def _form(self, style: MarkerStyle, blended: bool) -> str:
        alone = blended and style.outline is not None and style.fill is not None
        return self.forms.setdefault((style, alone), f"M{len(self.forms)}")

    def finish(self, scene: Scene) -> None:
        """Puts the page together."""
        import pikepdf
        from pikepdf import Dictionary, Name

        document = self.document
        layers = parsed_all(document, (f"<< /Type /OCG /Name {text_of(title)} >>" for title in self.layers))
        names = (f"L{number}" for number in range(len(self.shared.layers), len(self.shared.layers) + len(layers)))
        resources = Dictionary()
        for key, made in (
            ("Font", {name: font for name, _, font in self.shared.fonts.values()}),
            ("XObject", {**{name: self._marker(style, alone) for (style, alone), name in self.forms.items()}, **self.images}),
            ("ExtGState", {n: Dictionary(ca=fill, CA=line) for (fill, line), n in self.states.items()}),
            ("Shading", self.shadings),
            ("Properties", dict(zip(names, layers, strict=True))),
        ):
            if made:
                resources[f"/{key}"] = Dictionary({f"/{name}": value for name, value in made.items()})
        for content in (*self.pages, self.out):
            page = Dictionary(
                Type=Name.Page,
                MediaBox=[0, 0, *(round(side, 3) for side in scene.sheet)],
                Resources=resources,
                Contents=packed(document, "".join(content).encode("ascii")),
            )
            content.clear()
            at = scene.page
            if at is not None:
                left, low = at.x, at.height - at.y - scene.height
                page.TrimBox = [round(side, 3) for side in (left, low, left + scene.width, low + scene.height)]
            if self.inks.colors == "cmyk":
                page.Group = Dictionary(S=Name.Transparency, CS=Name.DeviceCMYK)
            sheet = document.make_indirect(page)
            document.pages.append(pikepdf.Page(sheet))
            if self.tags is not None:
                self.shared.pages.append((sheet, self.tags, scene))
        self.shared.layers += layers
        self.shared.tree += self.tree[0]

    def _marker(self, style: MarkerStyle, alone: bool) -> Object:
        """A marker around the origin as a form object; one that is composited as a whole where it overlaps itself."""
        from pikepdf import Dictionary, Name

        fine = style._replace(radius=_FINE * style.radius, line_width=_FINE * style.line_width)
        content, reach = outline_of(fine, self.inks)
        said = parsed(f"<< /Subtype /Form /BBox [{-reach} {-reach} {reach} {reach}] /Resources << >> >>")
        form = self.document.make_stream(content.encode("ascii"), said)
        if alone:
            form.Group = Dictionary(S=Name.Transparency)
        return form


def _order(tree: list[object], layers: list[Object]) -> Array:
    """Layers nested as the groups are."""
    from pikepdf import Array

    return Array(
        [layers[item] if isinstance(item, int) else _order(item, layers) for item in tree if isinstance(item, int | list)]
    )
