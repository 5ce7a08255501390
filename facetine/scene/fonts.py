"""Faces: loaded once, asked for glyphs and measures, and what stands in where a face has no glyph."""

from __future__ import annotations

import unicodedata
from collections.abc import Iterator
from dataclasses import dataclass, field
from functools import cached_property, lru_cache
from itertools import pairwise
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

from facetine.scene.catalog import SHIPPED, Family, catalog, family, loaded, nearest, shipped_folder, substitutes

if TYPE_CHECKING:
    import uharfbuzz as hb

_DEPENDENT = frozenset({"Mn", "Mc", "Me", "Cf", "Zs"})
"""Categories of characters that are set in the face of the letter before them."""
_STYLES = {200: "ExtraLight", 300: "Light", 400: "Regular", 600: "Semibold", 700: "Bold", 900: "Black"}


class FaceKey(NamedTuple):
    """Which face of a family."""

    family: str
    weight: int
    italic: bool

    def __str__(self) -> str:
        return f"{self.family}/{self.weight}{'i' if self.italic else ''}"

    @classmethod
    def parsed(cls, key: str) -> FaceKey:
        """The key from its text.

        >>> FaceKey.parsed("Source Sans Pro/700i")
        FaceKey(family='Source Sans Pro', weight=700, italic=True)
        """
        family, _, rest = key.rpartition("/")
        return cls(family, int(rest.removesuffix("i")), rest.endswith("i"))


class Shaped(NamedTuple):
    """Glyphs of a text in the order in which they stand, in thousandths of the type size."""

    ids: tuple[int, ...]
    advances: tuple[float, ...]
    clusters: tuple[int, ...]
    offsets: tuple[tuple[float, float], ...]
    """How far each glyph stands to the right of and above its place; empty where none does."""
    lacks: bool
    """Whether the face has no glyph for one of the characters."""

    @property
    def width(self) -> float:
        """In thousandths of the type size."""
        return sum(self.advances)


class Measures(NamedTuple):
    """Where the parts of a line stand, in shares of the type size."""

    cap: float
    """Height of capitals."""
    descent: float
    """How far letters reach below the baseline."""
    super_size: float
    super_rise: float
    sub_size: float
    sub_drop: float


@dataclass(eq=False)
class Face:
    """One loaded face."""

    key: FaceKey
    face: hb.Face
    font: hb.Font
    units: int
    source: str
    """Where it comes from: shipped, package or system."""
    shaped: dict[tuple[str, bool], Shaped] = field(default_factory=dict)

    @cached_property
    def for_subsets(self) -> hb.Face:
        """The face prepared for being cut down again and again, which makes each cut several times as fast."""
        import uharfbuzz as hb

        return hb.subset_preprocess(self.face)

    @cached_property
    def characters(self) -> hb.Set:
        """The characters for which it has a glyph."""
        return self.face.unicodes

    @cached_property
    def measures(self) -> Measures:
        """From its own tables; a table that says nothing sensible is set aside for the shipped family's numbers.

        The size of small figures is the larger of the two that a font gives for its width and its height: at the sizes
        of figures, type that is any smaller can't be read.

        Source: OpenType 1.9, table `OS/2`.
        """
        import uharfbuzz as hb

        def read(tag: hb.OTMetricsTag, low: float, high: float, otherwise: float) -> float:
            value = (self.font.get_metric_position(tag) or 0) / self.units
            return value if low <= value <= high else otherwise

        tags = hb.OTMetricsTag
        up = max(read(tag, 0.4, 0.9, 0.65) for tag in (tags.SUPERSCRIPT_EM_X_SIZE, tags.SUPERSCRIPT_EM_Y_SIZE))
        down = max(read(tag, 0.4, 0.9, 0.65) for tag in (tags.SUBSCRIPT_EM_X_SIZE, tags.SUBSCRIPT_EM_Y_SIZE))
        low = self.font.get_glyph_extents(self.font.get_nominal_glyph(ord("p")) or 0)
        descent = -(low.y_bearing + low.height) / self.units if low is not None else 0.2
        return Measures(
            read(tags.CAP_HEIGHT, 0.4, 1.0, 0.66),
            descent if 0.05 <= descent <= 0.5 else 0.2,
            up,
            read(tags.SUPERSCRIPT_EM_Y_OFFSET, 0.1, 0.7, 0.35),
            down,
            read(tags.SUBSCRIPT_EM_Y_OFFSET, 0.02, 0.5, 0.075),
        )

    def shape(self, text: str, right_to_left: bool = False) -> Shaped:
        """The glyphs of a text with kerning and ligatures, remembered."""
        found = self.shaped.get((text, right_to_left))
        if found is None:
            if len(self.shaped) > 20_000:
                self.shaped.clear()
            found = self.shaped[text, right_to_left] = self._shape(text, right_to_left)
        return found

    def _shape(self, text: str, right_to_left: bool) -> Shaped:
        import uharfbuzz as hb

        buffer = hb.Buffer()
        buffer.add_str(text)
        buffer.guess_segment_properties()
        buffer.direction = "rtl" if right_to_left else "ltr"
        hb.shape(self.font, buffer, None)
        to_thousandths = 1000.0 / self.units
        infos, places = buffer.glyph_infos, buffer.glyph_positions
        ids = tuple([info.codepoint for info in infos])
        advances = tuple([place.x_advance * to_thousandths for place in places])
        offsets = tuple([(place.x_offset * to_thousandths, place.y_offset * to_thousandths) for place in places])
        moved = any(x or y for x, y in offsets)
        # A letter that shaping puts together from others is better taken whole from a face that has it.
        lacks = 0 in ids or not (text.isascii() or all(self.has(char) for char in text))
        return Shaped(ids, advances, tuple([info.cluster for info in infos]), offsets if moved else (), lacks)

    def has(self, char: str) -> bool:
        """Whether it has a glyph for a character; marks, joiners and blanks go with what they stand beside."""
        return ord(char) in self.characters or unicodedata.category(char) in _DEPENDENT


@lru_cache(maxsize=128)
def face(name: str, weight: int = 400, italic: bool = False) -> Face:
    """The face of a family with the nearest weight.

    Raises:
        OptionError: There is no such family.
    """
    import uharfbuzz as hb

    if name == SHIPPED:
        # The usual family is found without a look at what else there is.
        near = min(_STYLES, key=lambda known: abs(known - weight))
        style = _STYLES[near]
        ending = ("It" if style == "Regular" else f"{style}It") if italic else style
        tables = hb.Face(hb.Blob.from_file_path(str(Path(shipped_folder()) / f"SourceSansPro-{ending}.otf")))
        return _registered(FaceKey(name, near, italic), tables, "shipped")
    found = family(name)
    file = nearest(found.faces, weight, italic)
    weight = round(min(max(weight, file.lightest), file.heaviest))
    return _registered(FaceKey(found.name, weight, file.italic), _static(loaded(file), weight), file.source)


def pieces(text: str, wanted: Face) -> Iterator[tuple[str, Face]]:
    """A text cut where its face has no glyph and another family's stands in; marks and joiners stay with their letter.

    A character that no face has stays with the one that is wanted, and shows as its empty box.
    """
    start, now = 0, wanted
    for place, letter in _letters(text):
        able = _able(letter, wanted, now)
        if able is not now:
            if place > start:
                yield text[start:place], now
            start, now = place, able
    if start < len(text):
        yield text[start:], now


def _letters(text: str) -> Iterator[tuple[int, str]]:
    """Each letter with the marks, joiners and blanks behind it, and where it begins."""
    starts = [place for place, char in enumerate(text) if place == 0 or unicodedata.category(char) not in _DEPENDENT]
    for start, end in pairwise([*starts, len(text)]):
        yield start, text[start:end]


def _able(letter: str, wanted: Face, now: Face) -> Face:
    """The face for a letter with its marks: the wanted one, the one in use, else the first that has it."""
    needed = [char for char in letter if unicodedata.category(char) not in ("Cf", "Zs")]
    lacking = [char for char in needed if ord(char) not in wanted.characters]
    if not lacking:
        # A blank alone goes with what stands before it.
        return wanted if needed else now
    if now is not wanted and all(ord(char) in now.characters for char in needed):
        return now
    found: tuple[Family, ...] = substitutes(lacking[0])
    if wanted.key.family != SHIPPED:
        found = (catalog()[SHIPPED], *found)
    some: Face | None = None
    for one in found:
        able = face(one.name, wanted.key.weight, wanted.key.italic)
        if all(ord(char) in able.characters for char in needed):
            return able
        if some is None and ord(lacking[0]) in able.characters:
            some = able
    return some or wanted


def _static(tables: hb.Face, weight: float) -> hb.Face:
    """A face at one weight, cut from a variable one; a face that is not variable as it is."""
    import uharfbuzz as hb

    axes = {axis.tag for axis in tables.axis_infos}
    if not axes:
        return tables
    request = hb.SubsetInput()
    request.keep_everything()
    request.pin_all_axes_to_default(tables)
    if "wght" in axes:
        request.pin_axis_location(tables, "wght", weight)
    request.flags |= hb.SubsetFlags.DOWNGRADE_CFF2
    return hb.subset(tables, request)


_BY_NAME: dict[str, Face] = {}


def _registered(key: FaceKey, tables: hb.Face, source: str) -> Face:
    import uharfbuzz as hb

    found = _BY_NAME.get(str(key))
    if found is None:
        found = _BY_NAME[str(key)] = Face(key, tables, hb.Font(tables), tables.upem, source)
    return found


def named(key: str) -> Face:
    """The face that a run of glyphs names; loaded where the run was shaped in another process.

    Raises:
        OptionError: This machine has no such family.
    """
    found = _BY_NAME.get(key)
    if found is None:
        wanted = FaceKey.parsed(key)
        found = face(wanted.family, wanted.weight, wanted.italic)
    return found
