"""Formats: each one object that turns a scene into the bytes of a file. A new one is a new file and a line here."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Literal, NamedTuple, TypeAlias

from facetine.core.registry import Registry
from facetine.scene.marks import Scene
from facetine.writers.inks import Inks
from facetine.writers.trial import lacking

Fonts = Literal["name", "embed", "outline"]
Rasterize: TypeAlias = bool | float | str


class Attached(NamedTuple):
    """A file that travels inside a figure's file."""

    name: str
    sort: str
    """Its media type."""
    content: bytes
    relation: str
    """What it is to the figure, in the words of PDF: Data or Source."""
    says: str


class Options(NamedTuple):
    """How a scene is to be written."""

    dpi: float = 300.0
    """Pixels an inch, for formats that hold any."""
    ground: bool = True
    """Whether the sheet is painted."""
    fonts: Fonts = "name"
    """For formats whose readers have fonts of their own: whether a family is named, travels along, or is drawn as outlines."""
    icc: bool = False
    """Whether a format of pixels carries the profile of its colors along."""
    inks: Inks = Inks()
    """How colors are written, in formats for print."""
    archive: bool = False
    """Whether a document is to be read for as long as there are archives."""
    rasterize: Rasterize = False
    """Which layers become images in vector files."""
    attached: tuple[Attached, ...] = ()
    """Files that travel along."""
    interactive: bool = True
    """Whether a page can be read by hand, and is not only seen."""
    values: bool = True
    """Whether what marks say travels along with a page, and not only where they stand."""
    most_values: int = 5_000_000
    """How many values a page carries at most, and four times as many bytes."""


PLAIN = Options()


class Written(NamedTuple):
    """A file's content, and what a reader of the file should know."""

    content: bytes
    notes: tuple[str, ...] = ()
    images: bool = False
    """Whether layers were made images at the resolution that was asked for, in a format that holds none otherwise."""


@dataclass(frozen=True, slots=True)
class Format:
    """A format of files; its name in the registry is its suffix."""

    says: str
    """What it is for, for the catalog."""
    write: Callable[[Scene, Options], Written]
    """Turns a scene into a file."""
    pixels: bool = False
    """Whether it holds pixels, so that `dpi` says something."""
    write_pages: Callable[[tuple[Scene, ...], Options], Written] | None = None
    """Turns several scenes into the pages of one file; None for a format whose files hold one."""
    write_built: Callable[[Any, Options], Written] | None = None
    """Turns a built figure into a file, for a format to which marks alone are not enough."""
    takes: frozenset[str] = frozenset()
    """Options of an export that say something for it, beside those of pixels: fonts, colors, archive, page, dpi."""
    suits: str = ""
    """Where it is at home."""
    loses: str = ""
    """What does not get into it."""


FORMATS: Registry[Format] = Registry(
    "facetine.formats",
    "format",
    {
        "svg": "facetine.writers.svg:FORMAT",
        "svgz": "facetine.writers.svg:COMPRESSED",
        "pdf": "facetine.writers.pdf:FORMAT",
        "eps": "facetine.writers.eps:FORMAT",
        "emf": "facetine.writers.emf:FORMAT",
        "png": "facetine.writers.raster:FORMAT",
        "tiff": "facetine.writers.raster:TIFF",
        "jpg": "facetine.writers.raster:JPEG",
        "webp": "facetine.writers.raster:WEBP",
        "html": "facetine.page.page:FORMAT",
    },
    lambda thing: isinstance(thing, Format),
    lambda thing: lacking(lambda scene: thing.write(scene, PLAIN)),
)
"""By their suffixes; those of other packages stand under the entry-point group `facetine.formats`."""
