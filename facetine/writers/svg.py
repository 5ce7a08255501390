"""SVG 1.1: text as text, markers as circles and paths, groups with ids and titles.

Source: W3C, Scalable Vector Graphics (SVG) 1.1, second edition.
"""

from __future__ import annotations

import base64
import math
from collections.abc import Iterator
from contextlib import contextmanager
from html import escape
from itertools import pairwise

import numpy as np

from facetine.scene.fonts import named
from facetine.scene.letters import text_outline
from facetine.scene.marks import (
    Bitmap,
    Glyphs,
    Gradient,
    Group,
    GroupKind,
    Markers,
    MarkerStyle,
    Paths,
    Rects,
    Scene,
    Stroke,
    Text,
    Writer,
)
from facetine.scene.markup import clean
from facetine.scene.play import play
from facetine.scene.region import Region
from facetine.scene.shapes import OUTLINES
from facetine.scene.subset import used_faces, web_font
from facetine.scene.woff import woff
from facetine.writers.deflated import gzipped
from facetine.writers.extents import file_of
from facetine.writers.formats import Attached, Fonts, Format, Options, Written
from facetine.writers.numbers import filled, short, traced

_CHUNK = 50_000
# Stands before ids until the content, from which they are made, is known: no text can hold it.
_OWN = "\x00"
_DIGEST = "f01234567"
_ROLES: dict[GroupKind, str] = {
    "panel": "graphics-object group", "layer": "graphics-symbol img", "axis": "graphics-object group",
    "legend": "graphics-object group", "values": "graphics-object group", "names": "graphics-object group",
}  # fmt: skip
"""What screen readers take groups for (WAI-ARIA Graphics Module 1.0); marks of a layer are one picture, which has a name."""
_FALLBACK = "sans-serif"
_ANCHORS = {0.5: ' text-anchor="middle"', 1.0: ' text-anchor="end"'}


def svg(
    scene: Scene,
    *,
    fonts: Fonts = "name",
    ground: bool = True,
    attached: tuple[Attached, ...] = (),
    web_fonts: bool = False,
    marked: bool = False,
    letters: str = "",
) -> bytes:
    """A scene as an SVG document in UTF-8.

    Args:
        scene: The drawing.
        fonts: "name" names the family, which a reader's machine must have; "embed" lets the glyphs that are used travel
            inside the file, which editors pass over; "outline" draws letters as paths, which look the same anywhere and
            can no longer be edited.
        ground: Whether the sheet is painted.
        attached: Files that travel along, as metadata.
        web_fonts: Whether embedded fonts are in the form of web pages (WOFF), which is smaller.
        marked: Whether groups of marks say whose they are, for a script: figure, layer and panel by their numbers; and texts,
            which place they tell of.
        letters: Signs that travel with the face of ticks beyond those that are used.
    """
    writer = _Svg(outlined=fonts == "outline", web_fonts=web_fonts, marked=marked, letters=letters)
    writer.start(scene, fonts == "embed", ground, attached)
    play(scene, writer)
    writer.out.append("</g>\n</svg>\n")
    return _identified("".join(writer.out))


FORMAT = Format(
    "vectors for the web and for editors; text stays text",
    lambda scene, options: Written(svg(scene, fonts=options.fonts, ground=options.ground, attached=options.attached)),
    takes=frozenset({"data", "fonts", "paper"}),
    suits="web pages, vector editors, word processors",
    loses='nothing; its reader needs the font, unless fonts="embed" or "outline"',
)


def _compressed(scene: Scene, options: Options) -> Written:
    return Written(gzipped(svg(scene, fonts=options.fonts, ground=options.ground, attached=options.attached)))


COMPRESSED = Format("SVG, compressed, for readers that open it", _compressed, takes=frozenset({"data", "fonts", "paper"}),
    suits="archives and readers that open it", loses="nothing; some word processors do not open it",
)  # fmt: skip


def _identified(document: str) -> bytes:
    """The document with ids that are its own, from its content, so that several can stand in one page."""
    import hashlib

    content = document.encode("utf-8")
    return content.replace(_OWN.encode("ascii"), f"f{hashlib.blake2b(content, digest_size=4).hexdigest()}".encode("ascii"))


class _Svg(Writer):
    """Collects the text of a document."""

    def __init__(self, outlined: bool = False, web_fonts: bool = False, marked: bool = False, letters: str = "") -> None:
        self.outlined, self.web_fonts, self.marked, self.letters = outlined, web_fonts, marked, letters
        self.out: list[str] = []
        self.ids: set[str] = {"name", "words", "facetine"}
        self.inside: list[str] = []
        self.clips = 0
        self.symbols: dict[str, str] = {}
        self.family = ""

    def start(self, scene: Scene, embedded: bool, ground: bool, attached: tuple[Attached, ...] = ()) -> None:
        width, height = scene.sheet
        millimetres = 25.4 / 72
        faces = used_faces(scene)
        self.family = faces[0].key.family if faces else ""
        said = f' aria-labelledby="{_OWN}-name"' if scene.title else ""
        said += f' aria-describedby="{_OWN}-words"' if scene.description else ""
        self.out.append(
            '<?xml version="1.0" encoding="UTF-8"?>\n'
            '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" version="1.1" '
            f'width="{short(width * millimetres, 4)}mm" height="{short(height * millimetres, 4)}mm" '
            f'viewBox="0 0 {short(width, 4)} {short(height, 4)}" id="{_OWN}" role="graphics-document document"{said}>\n'
        )
        if scene.title:
            self.out.append(f'<title id="{_OWN}-name">{_text(scene.title)}</title>\n')
        if scene.description:
            self.out.append(f'<desc id="{_OWN}-words">{_text(scene.description)}</desc>\n')
        if attached:
            self._carry(attached)
        if embedded:
            self._fonts(scene)
        if ground and scene.ground:
            place = f' x="{short(scene.page.x, 4)}" y="{short(scene.page.y, 4)}"' if scene.page is not None else ""
            size = f'width="{short(scene.width, 4)}" height="{short(scene.height, 4)}"'
            self.out.append(f'<rect{place} {size} fill="{scene.ground}"/>\n')
        at = scene.page
        moved = f' transform="translate({short(at.x, 4)} {short(at.y, 4)})"' if at is not None else ""
        self.out.append(f'<g id="{_OWN}-facetine" font-family="{_text(_families(self.family))}" fill="none"{moved}>\n')

    def _carry(self, attached: tuple[Attached, ...]) -> None:
        """Files as metadata, each compressed and written in letters."""
        self.out.append('<metadata><figure xmlns="urn:facetine:figure">\n')
        for one in attached:
            packed = base64.b64encode(gzipped(one.content)).decode("ascii")
            said = f'name="{_text(one.name)}" type="{_text(one.sort)}" title="{_text(one.says)}"'
            self.out.append(f'<part {said} encoding="gzip base64">{packed}</part>\n')
        self.out.append("</figure></metadata>\n")

    def _fonts(self, scene: Scene) -> None:
        letters: dict[str, set[str]] = {}
        for text in scene.texts():
            for run in text.runs:
                letters.setdefault(run.face, set()).update(run.text, self.letters if text.role == "tick" else "")
        rules = []
        for name, used in letters.items():
            key = named(name).key
            content = web_font(name, "".join(sorted(used)))
            style = "italic" if key.italic else "normal"
            quadratic = "glyf" in named(name).face.table_tags
            sort, kind = ("ttf", "truetype") if quadratic else ("otf", "opentype")
            if self.web_fonts:
                sort, kind, content = "woff", "woff", woff(content)
            data = base64.b64encode(content).decode("ascii")
            rules.append(
                f"@font-face{{font-family:'{_quoted(key.family)}';font-weight:{key.weight};font-style:{style};"
                f"src:url(data:font/{sort};base64,{data}) format('{kind}')}}"
            )
        self.out.append(f'<style type="text/css">{"".join(rules)}</style>\n')

    @contextmanager
    def group(self, group: Group) -> Iterator[None]:
        """A `g` element with a title."""
        name = self._id(group.name)
        clip = f' clip-path="url(#{self._clip(group.clip)})"' if group.clip is not None else ""
        role = (
            f' role="{_ROLES[group.kind]}"'
            if group.kind in _ROLES
            else ' aria-hidden="true"'
            if group.kind == "hairlines"
            else ""
        )
        if self.marked and group.kind == "panel" and group.panel is not None:
            clip += f' data-panel="{group.member}-{group.panel}"'
        whose = f' data-marks="{group.member}-{group.layer}-{group.panel}"' if self.marked and group.kind == "layer" else ""
        self.out.append(f'<g id="{name}"{role}{clip}{whose}><title>{_text(group.title)}</title>\n')
        self.inside.append(group.name)
        yield
        self.inside.pop()
        self.out.append("</g>\n")

    def _id(self, name: str) -> str:
        """An id that says where the group stands, and that no other group has."""
        full = "-".join((*self.inside, name)) if self.inside else name
        unique, number = full, 2
        while unique in self.ids:
            unique, number = f"{full}-{number}", number + 1
        self.ids.add(unique)
        return f"{_OWN}-{unique}"

    def _clip(self, box: Region) -> str:
        self.clips += 1
        name = f"{_OWN}-clip-{self.clips}"
        self.out.append(
            f'<clipPath id="{name}"><rect x="{short(box.x)}" y="{short(box.y)}" '
            f'width="{short(box.width)}" height="{short(box.height)}"/></clipPath>\n'
        )
        return name

    def markers(self, mark: Markers) -> None:
        """A circle or path for each marker, all written in one format call a chunk."""
        # What all styles share stands on the group, once.
        shared = _style(mark.styles[0]) if len(mark.styles) == 1 else ""
        bordered = any(style.fill and style.outline for style in mark.styles)
        group, each = _seen_through(mark.opacity, bordered)
        self.out.append(f"<g{group}{shared}>\n")
        counts = [len(mark.at)] if mark.which is None else np.bincount(mark.which, minlength=len(mark.styles)).tolist()
        templates = [
            self._shared(_template(style, each + ("" if shared else _style(style))), count)
            for style, count in zip(mark.styles, counts, strict=True)
        ]
        for start in range(0, len(mark.at), _CHUNK):
            at = mark.at[start : start + _CHUNK]
            which = None if mark.which is None else mark.which[start : start + _CHUNK]
            self.out.append(filled(templates, which, at))
        self.out.append("</g>\n")

    def _shared(self, template: tuple[str, str, str], count: int) -> tuple[str, str, str]:
        """A marker as a use of a definition, where so many of them make the file smaller."""
        head, _, tail = template
        if not head.startswith("<path"):
            return template
        name = self.symbols.get(tail)
        used = ('<use xlink:href="#' + f'{_OWN}-{name or f"m{len(self.symbols) + 1}"}" x="', '" y="', '"/>\n')
        saved = count * (sum(map(len, template)) - sum(map(len, used)) - len(_DIGEST))
        if saved <= (0 if name else len(tail) + 40):
            return template
        if name is None:
            name = self.symbols[tail] = f"m{len(self.symbols) + 1}"
            self.out.append(f'<defs><path id="{_OWN}-{name}" d="M0 0{tail.rstrip()}</defs>\n')
        return used

    def rects(self, mark: Rects) -> None:
        """A rectangle each, grouped by nothing: they keep their order."""
        if not len(mark.boxes):
            return
        border = _stroke(mark.outline) if mark.outline is not None else ""
        group, each = _seen_through(mark.opacity, mark.outline is not None)
        self.out.append(f"<g{group}{border}>\n")
        templates = [('<rect x="', '" y="', '" width="', '" height="', f'" fill="{fill}"{each}/>\n') for fill in mark.fills]
        self.out.append(filled(templates, mark.which, mark.boxes))
        self.out.append("</g>\n")

    def paths(self, mark: Paths) -> None:
        """One path element with all parts."""
        if not len(mark.points):
            return
        path = traced(mark.points, mark.starts, "M", "L", " ", close="Z" if mark.closed else "")
        look = _stroke(mark.stroke) if mark.stroke is not None else ""
        if mark.fill is not None:
            look += f' fill="{mark.fill}" fill-rule="evenodd"'
            look += f' fill-opacity="{short(mark.opacity, 3)}"' if mark.opacity < 1 else ""
        self.out.append(f'<path d="{path}"{look}/>\n')

    def gradient(self, mark: Gradient) -> None:
        """A rectangle painted by a linear gradient."""
        name = self._id("gradient")
        way = 'x1="0" y1="1" x2="0" y2="0"' if mark.upright else 'x1="0" y1="0" x2="1" y2="0"'
        steps = max(len(mark.colors) - 1, 1)
        stops = "".join(
            f'<stop offset="{short(place / steps, 4)}" stop-color="{color}"/>' for place, color in enumerate(mark.colors)
        )
        box = mark.box
        self.out.append(
            f'<linearGradient id="{name}" {way}>{stops}</linearGradient>\n'
            f'<rect x="{short(box.x)}" y="{short(box.y)}" width="{short(box.width)}" height="{short(box.height)}" '
            f'fill="url(#{name})"/>\n'
        )

    def bitmap(self, mark: Bitmap) -> None:
        """An image element that holds the picture's file."""
        data = base64.b64encode(file_of(mark)).decode("ascii")
        box = mark.box
        self.out.append(
            f'<image x="{short(box.x)}" y="{short(box.y)}" width="{short(box.width)}" height="{short(box.height)}" '
            f'preserveAspectRatio="none" xlink:href="data:image/{mark.sort};base64,{data}"/>\n'
        )

    def text(self, mark: Text) -> None:
        """A text element; runs of another look are spans in it."""
        if not mark.runs:
            return
        if self.outlined:
            self._outlined(mark)
            return
        backwards = mark.runs[0].right_to_left
        # Such a text starts at its right end.
        anchor = _ANCHORS.get(1.0 - mark.anchor if backwards else mark.anchor, "")
        if backwards:
            anchor += ' direction="rtl"'
        turn = f' transform="rotate({short(-mark.angle)} {short(mark.x)} {short(mark.y)})"' if mark.angle else ""
        first = mark.runs[0]
        look = _font(first, self.family)
        # Blanks at the ends of spans belong to the text; not all programs keep them unasked.
        kept = ' xml:space="preserve"' if len(mark.runs) > 1 else ""
        about = f' data-at="{" ".join(map(_or_none, mark.about))}"' if self.marked and mark.about is not None else ""
        start = f'<text x="{short(mark.x)}" y="{short(mark.y)}"{anchor}{turn}{kept}{look} fill="{mark.color}"{about}>'
        if len(mark.runs) == 1 and not first.shift:
            self.out.append(f"{start}{_text(first.text)}</text>\n")
            return
        risen, spans = 0.0, []
        for run in mark.runs:
            drop = f' dy="{short(risen - run.shift)}"' if run.shift != risen else ""
            risen = run.shift
            spans.append(f"<tspan{drop}{_font(run, self.family)}>{_text(run.text)}</tspan>")
        self.out.append(f"{start}{''.join(spans)}</text>\n")

    def _outlined(self, mark: Text) -> None:
        """A path of all its letters, which says what it reads."""
        drawn = text_outline(mark)
        if drawn:
            turn = f"rotate({short(-mark.angle)})" if mark.angle else ""
            place = f"translate({short(mark.x)} {short(mark.y)}){turn}"
            said = _text(mark.content).replace('"', "&quot;")
            self.out.append(f'<path role="img" aria-label="{said}" transform="{place}" d="{drawn}" fill="{mark.color}"/>\n')


def _seen_through(opacity: float, bordered: bool) -> tuple[str, str]:
    """What a group, and what each of its shapes says of their opacity: of a whole group it would hide where shapes overlap."""
    if opacity >= 1:
        return "", ""
    if bordered:
        # Inside and border are one shape, of which nothing shows through itself.
        return "", f' opacity="{short(opacity, 3)}"'
    return f' fill-opacity="{short(opacity, 3)}" stroke-opacity="{short(opacity, 3)}"', ""


def _text(text: str) -> str:
    """Escaped, without the characters that XML forbids."""
    return escape(clean(text), quote=True).replace("&#x27;", "'")


def _families(family: str) -> str:
    return f"'{_quoted(family)}', {_FALLBACK}" if family else _FALLBACK


def _quoted(family: str) -> str:
    """A family's name as it stands inside the quotes of a style."""
    return family.replace("\\", "").replace("'", "\\'")


def _font(run: Glyphs, base: str) -> str:
    key = named(run.face).key
    look = f' font-size="{short(run.size)}"'
    if key.family != base:
        look += f' font-family="{_text(_families(key.family))}"'
    if key.weight != 400:
        look += f' font-weight="{key.weight}"'
    if key.italic:
        look += ' font-style="italic"'
    return look


def _stroke(stroke: Stroke) -> str:
    look = f' stroke="{stroke.color}" stroke-width="{short(stroke.width, 3)}"'
    if stroke.dash:
        look += f' stroke-dasharray="{" ".join(short(length, 3) for length in stroke.dash)}"'
    if stroke.opacity < 1:
        look += f' stroke-opacity="{short(stroke.opacity, 3)}"'
    if stroke.cap != "butt":
        look += f' stroke-linecap="{stroke.cap}" stroke-linejoin="round"'
    return look


def _style(style: MarkerStyle) -> str:
    look = f' fill="{style.fill}"' if style.fill else ""
    if style.outline:
        look += f' stroke="{style.outline}" stroke-width="{short(style.line_width, 3)}"'
    return look


def _template(style: MarkerStyle, look: str) -> tuple[str, str, str]:
    """A marker with gaps for its x and y."""
    path = marker_path(style)
    if not path:
        return '<circle cx="', '" cy="', f'" r="{short(style.radius, 3)}"{look}/>\n'
    # The pen jumps to the middle, then everything is drawn relative to it.
    return '<path d="M', " ", f'{path}"{look}/>\n'


def _or_none(place: float) -> str:
    """A place as a script reads it; a dash for none."""
    return short(place) if math.isfinite(place) else "-"


def marker_path(style: MarkerStyle) -> str:
    """The outline of a marker as a path that begins at its middle; nothing for a disc."""
    outline = OUTLINES[style.shape]
    path, pen = "", (0.0, 0.0)
    for part in outline.parts:
        points = [(x * style.radius, y * style.radius) for x, y in part]
        path += f"m{short(points[0][0] - pen[0], 3)} {short(points[0][1] - pen[1], 3)}"
        for before, after in pairwise(points):
            path += f"l{short(after[0] - before[0], 3)} {short(after[1] - before[1], 3)}"
        path += "" if outline.open else "z"
        pen = points[-1] if outline.open else points[0]
    return path
