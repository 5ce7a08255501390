"""Fonts cut down to the glyphs that a drawing uses."""

from __future__ import annotations

import struct
from collections import Counter
from collections.abc import Iterable, Mapping
from functools import lru_cache
from typing import NamedTuple

from facetine.scene.direction import mirrored
from facetine.scene.fonts import FaceKey, named
from facetine.scene.marks import Glyphs, Scene


class UsedFace(NamedTuple):
    """A face and what a drawing uses of it."""

    name: str
    key: FaceKey
    glyphs: Mapping[int, str]
    """The text that each glyph stands for."""


class Subset(NamedTuple):
    """A face with only some glyphs."""

    outlines: bytes
    """Its CFF table; the whole file of a face with quadratic outlines."""
    quadratic: bool
    """Whether the outlines are those of a `glyf` table."""
    numbers: Mapping[int, int]
    """New glyph numbers by the old ones."""
    codes: Mapping[int, str]
    """The same as four hexadecimal digits."""
    widths: Mapping[int, float]
    """Advances by old glyph number, in thousandths of the size."""
    box: tuple[float, float, float, float]
    """Left, bottom, right and top of all glyphs, in thousandths."""
    ascent: float
    descent: float
    cap: float


def used_faces(*scenes: Scene) -> list[UsedFace]:
    """The faces of all texts of scenes with their glyphs, in order of first use."""
    found: dict[str, dict[int, str]] = {}
    for text in (text for scene in scenes for text in scene.texts()):
        for run in text.runs:
            # What a glyph stood for first stays.
            new = dict(zip(reversed(run.ids), reversed(_said(run)), strict=True))
            found[run.face] = {**new, **found.get(run.face, {})}
    return [UsedFace(name, named(name).key, glyphs) for name, glyphs in found.items()]


def _said(run: Glyphs) -> list[str]:
    """The text of each glyph: of its cluster, shared out where several glyphs make one up."""
    if run.level % 2 == 0 and run.clusters == tuple(range(len(run.text))):
        return list(run.text)  # a glyph a character, the usual case
    starts = sorted(set(run.clusters))
    ends = dict(zip(starts, [*starts[1:], len(run.text)], strict=True))
    left = Counter(run.clusters)
    taken = dict.fromkeys(starts, 0)
    # Programs that take text out of a document expect the signs as they are seen.
    seen = mirrored if run.level % 2 else str
    said = []
    for start in run.clusters:
        left[start] -= 1
        text = run.text[start + taken[start] : ends[start]]
        said.append(seen(text[:1] if left[start] else text))
        taken[start] += 1
    return said


# What only layout engines and desktop systems read; a document needs none of it.
_DROPPED = ("GSUB", "GPOS", "GDEF", "BASE", "DSIG", "name", "post", "OS/2", "cmap", "VORG", "kern", "STAT", "meta")


_DROPPED_TAGS = [int.from_bytes(table.encode("ascii").ljust(4), "big") for table in _DROPPED]


def subset(name: str, glyphs: Iterable[int]) -> Subset:
    """A face with only these glyphs, for a document that numbers glyphs itself.

    Args:
        name: The face's name, as runs of glyphs give it.
        glyphs: The glyph numbers to keep; 0 is always kept.
    """
    return _cut_down(name, tuple(sorted({0, *glyphs})))


@lru_cache(maxsize=128)
def _cut_down(name: str, kept: tuple[int, ...]) -> Subset:
    """The figures of a paper are written again and again, with the same letters more often than not."""
    import uharfbuzz as hb

    used = named(name)
    request = hb.SubsetInput()
    request.glyph_set.update(kept)
    # A collection of characters numbers its glyphs by a charset of its own; here a code is a glyph's number.
    request.flags = hb.SubsetFlags.NO_LAYOUT_CLOSURE | hb.SubsetFlags.NO_HINTING | hb.SubsetFlags.CFF_IDENTITY_CHARSET
    request.drop_table_tag_set.update(_DROPPED_TAGS)
    plan = hb.SubsetPlan(used.for_subsets, request)
    numbers = dict(plan.old_to_new_glyph_mapping)
    cut = plan.execute()
    quadratic = "glyf" in cut.table_tags
    outlines = bytes(cut.blob.data if quadratic else cut.reference_table("CFF ").data)
    per_thousand = 1000.0 / used.units
    # Composed glyphs bring their parts.
    widths = {glyph: used.font.get_glyph_h_advance(glyph) * per_thousand for glyph in numbers}
    extents = used.font.get_font_extents("ltr")
    left, bottom, right, top = struct.unpack(">4h", bytes(used.face.reference_table("head").data)[36:44])
    return Subset(
        outlines,
        quadratic,
        numbers,
        {glyph: f"{number:04x}" for glyph, number in numbers.items()},
        widths,
        (left * per_thousand, bottom * per_thousand, right * per_thousand, top * per_thousand),
        extents.ascender * per_thousand,
        extents.descender * per_thousand,
        used.measures.cap * 1000,
    )


def web_font(name: str, characters: str) -> bytes:
    """A face with the glyphs of these characters, kerning and ligatures kept: an OpenType file for a web page."""
    import uharfbuzz as hb

    request = hb.SubsetInput()
    request.unicode_set.update(map(ord, characters))
    request.flags = hb.SubsetFlags.NO_HINTING
    return bytes(hb.subset(named(name).face, request).blob.data)
