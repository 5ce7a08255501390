"""Which font files there are: the shipped family, installed `fontpkg-` packages, and those of the system."""

from __future__ import annotations

import os
import struct
import sys
from collections.abc import Iterator
from functools import lru_cache
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

from facetine.messages.errors import OptionError, unknown

if TYPE_CHECKING:
    import uharfbuzz as hb

SHIPPED = "Source Sans Pro"
SOURCES = {
    "shipped": "comes with Facetine",
    "package": "from an installed fontpkg- package",
    "system": "a font of this machine",
}
"""Where families come from, those first that are taken first."""
_SUFFIXES = (".otf", ".ttf", ".ttc", ".otc")
_NORMAL_WIDTH = 5


class FontFile(NamedTuple):
    """One face in a file, as its tables describe it."""

    path: Path
    number: int
    """Its place in a collection; 0 in a file of its own."""
    family: str
    lightest: float
    heaviest: float
    """The weights it can be set in; the same two unless it is a variable font."""
    italic: bool
    width: int
    """5 is normal, less is condensed; as in the OS/2 table."""
    monospaced: bool
    serifs: bool
    source: str
    """A key of `SOURCES`."""


class Family(NamedTuple):
    """The faces of one name, from one source."""

    name: str
    source: str
    faces: tuple[FontFile, ...]

    @property
    def described(self) -> str:
        """Weights, italics and source in words."""
        weights: list[str] = []
        for file in sorted(self.faces, key=lambda file: (file.lightest, file.heaviest)):
            ends = f"{file.lightest:.0f}" if file.lightest == file.heaviest else f"{file.lightest:.0f}–{file.heaviest:.0f}"
            weights += [] if ends in weights else [ends]
        italics = ", italic" if any(file.italic for file in self.faces) else ""
        return f"{' '.join(weights)}{italics}; {SOURCES[self.source]}"


@lru_cache(maxsize=1)
def shipped_folder() -> Path:
    """The folder of the shipped family's files.

    Raises:
        OptionError: It is not installed.
    """
    import importlib.util

    # The package is located, not imported: its own import is slow and of no use here.
    spec = importlib.util.find_spec("font_source_sans_pro")
    if spec is None or spec.origin is None:
        raise OptionError("fonts", "the shipped family is not installed", "python -m pip install font-source-sans-pro")
    return Path(spec.origin).parent / "files"


@lru_cache(maxsize=1)
def catalog() -> dict[str, Family]:
    """All families that can be asked for, by name; a name that two sources know belongs to the first of them."""
    found: dict[str, list[FontFile]] = {}
    folders = {"shipped": [shipped_folder()], "package": list(_packages()), "system": list(_system_folders())}
    for source, places in folders.items():
        for file in _files(places, source):
            known = found.setdefault(file.family, [])
            if not known or known[0].source == source:
                known.append(file)
    return {name: Family(name, files[0].source, tuple(files)) for name, files in sorted(found.items())}


def family(name: str, where: str = "fonts") -> Family:
    """A family by its name, small and capital letters alike.

    Args:
        name: The name.
        where: Who asks, for the error.

    Raises:
        OptionError: There is none; the nearest is named.
    """
    families = catalog()
    if name in families:
        return families[name]
    for known, found in families.items():
        if known.casefold() == name.casefold():
            return found
    raise unknown(OptionError, where, "no family", name, list(families), "families")


def nearest(faces: tuple[FontFile, ...], weight: float, italic: bool) -> FontFile:
    """The face of a family that comes nearest to a weight and slope, of normal width where there is one."""

    def distance(file: FontFile) -> tuple[bool, int, float, str, int]:
        away = max(file.lightest - weight, weight - file.heaviest, 0.0)
        return file.italic != italic, abs(file.width - _NORMAL_WIDTH), away, str(file.path), file.number

    return min(faces, key=distance)


@lru_cache(maxsize=512)
def substitutes(character: str) -> tuple[Family, ...]:
    """The families with a glyph for a character, the most suitable first.

    Packages come before the machine's fonts, then proportional faces before monospaced ones, then those without
    serifs before those with, then the alphabet decides: the same machine always takes the same one.
    """
    sources = list(SOURCES)

    def rank(one: Family) -> tuple[int, bool, bool, str]:
        plain = nearest(one.faces, 400, italic=False)
        return sources.index(one.source), plain.monospaced, plain.serifs, one.name

    wanted = ord(character)
    able = [one for one in catalog().values() if wanted in _characters(nearest(one.faces, 400, italic=False))]
    return tuple(sorted(able, key=rank))


def loaded(file: FontFile) -> hb.Face:
    """A face's tables, mapped from its file."""
    import uharfbuzz as hb

    return hb.Face(hb.Blob.from_file_path(str(file.path)), file.number)


@lru_cache(maxsize=512)
def _characters(file: FontFile) -> hb.Set:
    return loaded(file).unicodes


def _files(folders: list[Path], source: str) -> Iterator[FontFile]:
    """The faces in some folders and the folders below, in the order of their paths."""
    import uharfbuzz as hb

    for folder in folders:
        if not folder.is_dir():
            continue
        for path in sorted(folder.rglob("*")):
            if path.suffix.lower() not in _SUFFIXES:
                continue
            try:
                blob = hb.Blob.from_file_path(str(path))
            except (OSError, hb.HarfBuzzError):
                continue
            for number in range(hb.Face(blob).count or 0):
                described = _described(hb.Face(blob, number), path, number, source)
                if described is not None:
                    yield described


def _described(face: hb.Face, path: Path, number: int, source: str) -> FontFile | None:
    """What the tables of a face say; None where it has no outlines or may not be embedded.

    Source: OpenType 1.9, tables `OS/2` (fsType, usWeightClass, usWidthClass, fsSelection, panose) and `post`.
    """
    tables = set(face.table_tags)
    name = face.get_name(16) or face.get_name(1)
    if not name or not tables & {"glyf", "CFF ", "CFF2"}:
        return None
    facts = bytes(face.reference_table("OS/2").data)
    post = bytes(face.reference_table("post").data)
    if len(facts) < 64:
        return None
    weight, width, rights = struct.unpack(">HHH", facts[4:10])
    if rights & 0x000F == 0x0002:
        return None
    family_kind, serif_style = facts[32], facts[33]
    selected = struct.unpack(">H", facts[62:64])[0]
    monospaced = len(post) >= 16 and struct.unpack(">L", post[12:16])[0] != 0
    axes = {axis.tag: axis for axis in face.axis_infos}
    lightest = heaviest = float(weight)
    if "wght" in axes:
        lightest, heaviest = axes["wght"].min_value, axes["wght"].max_value
    serifs = not (family_kind == 2 and 11 <= serif_style <= 15)
    return FontFile(path, number, name, lightest, heaviest, bool(selected & 1), width, monospaced, serifs, source)


def _packages() -> Iterator[Path]:
    """The file folders of installed font packages, which name themselves in the entry-point group `fontpkg.family`."""
    import importlib.util
    from importlib.metadata import entry_points

    for module in sorted({entry.module for entry in entry_points(group="fontpkg.family")}):
        spec = importlib.util.find_spec(module)
        if spec is not None and spec.origin is not None:
            yield Path(spec.origin).parent / "files"


def _system_folders() -> Iterator[Path]:
    """Where this kind of system keeps fonts: the user's own, then everybody's."""
    home = Path.home()
    if sys.platform == "darwin":
        yield from (home / "Library/Fonts", Path("/Library/Fonts"), Path("/System/Library/Fonts"))
    elif sys.platform == "win32":
        yield Path(os.environ.get("LOCALAPPDATA", str(home))) / "Microsoft/Windows/Fonts"
        yield Path(os.environ.get("WINDIR", "C:/Windows")) / "Fonts"
    else:
        # Source: XDG Base Directory Specification.
        yield Path(os.environ.get("XDG_DATA_HOME") or home / ".local/share") / "fonts"
        yield home / ".fonts"
        for folder in (os.environ.get("XDG_DATA_DIRS") or "/usr/local/share:/usr/share").split(":"):
            yield Path(folder) / "fonts"
