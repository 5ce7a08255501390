"""What there is: layers, scales, themes, palettes, fonts, formats, profiles and rules of the check."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from typing import TYPE_CHECKING, NamedTuple, TypeVar

from facetine.messages.errors import OptionError, note, unknown

if TYPE_CHECKING:
    from facetine.core.registry import Registry
    from facetine.figures.plate import Plate

T = TypeVar("T")
TOPICS = ("layers", "scales", "themes", "palettes", "fonts", "formats", "profiles", "rules")


class Entry(NamedTuple):
    """One thing that there is."""

    name: str
    says: str
    suits: str = ""
    """Of a format: where it is at home."""
    loses: str = ""
    """Of a format: what does not get into it."""


@dataclass(frozen=True, slots=True)
class Catalog:
    """What there is of one topic."""

    topic: str
    entries: tuple[Entry, ...]

    def __iter__(self) -> Iterator[Entry]:
        return iter(self.entries)

    def __len__(self) -> int:
        return len(self.entries)

    def figure(self) -> Plate:
        """One page of what there is: which layer suits which kinds of variables, or one figure in every theme.

        Raises:
            OptionError: There is no such page of the topic.

        Example:
            >>> import facetine as ft
            >>> ft.catalog("themes").figure().export("themes.pdf")  # doctest: +SKIP
        """
        from facetine.catalogs.samples import layer_page, theme_page

        pages: dict[str, Callable[[], Plate]] = {"layers": layer_page, "themes": theme_page}
        if self.topic not in pages:
            raise OptionError("catalog", f"no figure of {self.topic}", "layers, themes, palettes and fonts have one")
        return pages[self.topic]()

    def __repr__(self) -> str:
        wide = max((len(entry.name) for entry in self.entries), default=0)
        lines = []
        for entry in self.entries:
            lines.append(f"{entry.name:<{wide}}  {entry.says}".rstrip())
            if entry.suits:
                lines.append(f"{'':<{wide}}    for {entry.suits}; loses {entry.loses}")
        return "\n".join(lines)


def catalog(topic: str) -> Catalog:
    """Lists what there is.

    Args:
        topic: layers, scales, themes, palettes, fonts, formats, profiles or rules (of the check).

    Raises:
        OptionError: There is no such topic.

    Example:
        >>> import facetine as ft
        >>> [entry.name for entry in ft.catalog("themes")][:2]
        ['press', 'ledger']
    """
    if not isinstance(topic, str) or topic not in TOPICS:
        raise unknown(OptionError, "catalog", "no topic", topic, TOPICS, "topics")
    return Catalog(topic, tuple(_ENTRIES[topic]()))


def _layers() -> list[Entry]:
    from facetine.layers import LAYERS

    return _said(LAYERS, lambda kind: Entry("", (kind.__doc__ or "").split("\n")[0]))


def _scales() -> list[Entry]:
    from facetine.core.scales.kinds import SCALES
    from facetine.grammar.scale import OTHER_KINDS

    return [*_said(SCALES, lambda kind: Entry("", kind.says)), *(Entry(name, says) for name, says in OTHER_KINDS.items())]


def _themes() -> list[Entry]:
    from facetine.grammar.theme import THEME_WORDS, THEMES

    return _said(THEMES, lambda _: Entry("", ""), THEME_WORDS)


def _palettes() -> list[Entry]:
    from facetine.core.color.registry import PALETTES

    return _said(PALETTES, lambda palette: Entry("", f"{palette.sort:<15} {' '.join(palette.colors)}"))


def _fonts() -> list[Entry]:
    from facetine.scene.catalog import catalog as fonts

    return [Entry(name, found.described) for name, found in fonts().items()]


def _formats() -> list[Entry]:
    from facetine.writers.formats import FORMATS

    return _said(FORMATS, lambda form: Entry("", form.says, form.suits, form.loses))


def _profiles() -> list[Entry]:
    from facetine.checks.profile import profiles

    return [
        Entry(
            name, f"{one.says}: {one.width_mm:g}×{one.height_mm:g} mm, texts {one.text_points:g} pt, lines {one.line_points:g} pt"
        )
        for name, one in profiles().items()
    ]


def _rules() -> list[Entry]:
    from facetine.checks.rules import every_rule

    return [Entry(rule.code, rule.says) for rule in every_rule()]


_ENTRIES: dict[str, Callable[[], list[Entry]]] = {
    "layers": _layers, "scales": _scales, "themes": _themes, "palettes": _palettes, "fonts": _fonts, "formats": _formats,
    "profiles": _profiles, "rules": _rules,
}  # fmt: skip


def _said(registry: Registry[T], says: Callable[[T], Entry], words: Mapping[str, str] | None = None) -> list[Entry]:
    """What a registry has, in words; what other packages add but can't be loaded is said in a note."""
    broken = registry.broken()
    note(broken.values())
    known = words or {}
    made = []
    for name in registry.all_names():
        if name not in broken:
            entry = says(registry[name])._replace(name=name)
            made.append(entry._replace(says=known[name]) if name in known else entry)
    return made
