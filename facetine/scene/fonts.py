"""Faces: found, loaded once, asked for glyphs and measures."""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import lru_cache
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

from facetine.errors import OptionError, unknown

if TYPE_CHECKING:
    import uharfbuzz as hb

_STYLES = {300: "Light", 400: "Regular", 600: "Semibold", 700: "Bold", 900: "Black"}


class FaceKey(NamedTuple):
    """Which face of a family."""

    family: str
    weight: int
    italic: bool

    def __str__(self) -> str:
        return f"{self.family}/{self.weight}{'i' if self.italic else ''}"


class Shaped(NamedTuple):
    """Glyphs of a text, in thousandths of the type size."""

    ids: tuple[int, ...]
    advances: tuple[float, ...]
    clusters: tuple[int, ...]
    missing: str
    """The characters for which the face has no glyph."""

    @property
    def width(self) -> float:
        """In thousandths of the type size."""
        return sum(self.advances)


@dataclass(slots=True)
class Face:
    """One loaded face."""

    key: FaceKey
    path: Path
    face: hb.Face
    font: hb.Font
    units: int
    shaped: dict[str, Shaped] = field(default_factory=dict)
    prepared: hb.Face | None = None

    def for_subsets(self) -> hb.Face:
        """The face prepared for being cut down again and again, which makes each cut several times as fast."""
        if self.prepared is None:
            import uharfbuzz as hb

            self.prepared = hb.subset_preprocess(self.face)
        return self.prepared

    def shape(self, text: str) -> Shaped:
        """The glyphs of a text with kerning and ligatures, remembered."""
        found = self.shaped.get(text)
        if found is None:
            if len(self.shaped) > 20_000:
                self.shaped.clear()
            found = self.shaped[text] = self._shape(text)
        return found

    def _shape(self, text: str) -> Shaped:
        import uharfbuzz as hb

        buffer = hb.Buffer()
        buffer.add_str(text)
        buffer.guess_segment_properties()
        hb.shape(self.font, buffer, None)
        to_thousandths = 1000.0 / self.units
        infos, places = buffer.glyph_infos, buffer.glyph_positions
        ids = tuple([info.codepoint for info in infos])
        advances = tuple([place.x_advance * to_thousandths for place in places])
        clusters = tuple([info.cluster for info in infos])
        lost = "".join(sorted({text[at] for at, glyph in zip(clusters, ids, strict=True) if glyph == 0}))
        return Shaped(ids, advances, clusters, lost)


@lru_cache(maxsize=1)
def _shipped() -> tuple[str, Path]:
    """The family that comes with Facetine and the folder of its files."""
    import importlib.util

    # The package is located, not imported: its own import is slow and of no use here.
    spec = importlib.util.find_spec("font_source_sans_pro")
    if spec is None or spec.origin is None:
        raise OptionError("fonts: the shipped family is not installed", "python -m pip install font-source-sans-pro")
    return "Source Sans Pro", Path(spec.origin).parent / "files"


def families() -> tuple[str, ...]:
    """The families that can be asked for."""
    return (_shipped()[0],)


@lru_cache(maxsize=64)
def face(family: str, weight: int = 400, italic: bool = False) -> Face:
    """The face of a family with the nearest weight.

    Raises:
        OptionError: There is no such family.
    """
    name, folder = _shipped()
    if family != name:
        raise unknown(OptionError, "fonts", "no family", family, families(), "families")
    import uharfbuzz as hb

    near = min(_STYLES, key=lambda known: abs(known - weight))
    style = _STYLES[near]
    ending = ("It" if style == "Regular" else f"{style}It") if italic else style
    path = folder / f"SourceSansPro-{ending}.otf"
    loaded = hb.Face(hb.Blob.from_file_path(str(path)))
    return Face(FaceKey(family, near, italic), path, loaded, hb.Font(loaded), loaded.upem)


_BY_NAME: dict[str, Face] = {}


def named(key: str) -> Face:
    """The face that a run of glyphs names."""
    return _BY_NAME[key]


def register(used: Face) -> str:
    """The name under which runs of glyphs refer to a face."""
    name = str(used.key)
    _BY_NAME[name] = used
    return name
