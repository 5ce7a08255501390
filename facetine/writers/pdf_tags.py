"""What a PDF says to readers who can't see it: a tree of its texts in reading order, around the figure in words.

Source: ISO 32000-1:2008, 14.7 and 14.8; ISO 14289-1:2014 (PDF/UA-1).
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TYPE_CHECKING, NamedTuple

from facetine.scene.marks import Group, Scene, Text
from facetine.writers.numbers import short
from facetine.writers.pdf_streams import parsed, parsed_all

if TYPE_CHECKING:
    from pikepdf import Object, Pdf

_RANKS = {"title": 0, "subtitle": 1, "letter": 2, "axis title": 4, "legend title": 6, "legend": 6, "legend tick": 6, "note": 7}
"""In which order texts are read; the figure itself comes at 3, what stands in panels at 5."""
_PANEL_RANKS = {"heading": 0, "name": 2, "tick": 3}


class _Key(NamedTuple):
    """Where an element stands in the order of reading."""

    figure: int
    rank: int
    panel: int
    inside: int
    started: int


@dataclass(slots=True)
class PageTags:
    """The marked parts of one page, as they are drawn."""

    page: int
    elements: dict[_Key, list[int]] = field(default_factory=dict)
    """The marks of each text, by where it is read."""
    roles: dict[_Key, str] = field(default_factory=dict)
    known: dict[tuple[str, int], _Key] = field(default_factory=dict)
    marks: list[int] = field(default_factory=list)
    """The marks of the figure itself."""
    count: int = 0
    inside: list[Group] = field(default_factory=list)
    figures: int = -1

    def enter(self, group: Group) -> None:
        """A group begins."""
        self.inside.append(group)
        if group.kind == "figure":
            self.figures += 1

    def leave(self) -> None:
        """The innermost group ends."""
        self.inside.pop()

    def next_text(self, mark: Text) -> str:
        """What opens a line of text."""
        number, self.count = self.count, self.count + 1
        group = self.inside[-1] if self.inside else None
        key = self.known.get((mark.role, id(group)))
        if key is None:
            key = self.known[mark.role, id(group)] = self._key(mark.role, group, number)
            self.elements[key] = []
            self.roles[key] = mark.role
        self.elements[key].append(number)
        tag = "H1" if key.rank == 0 else "H2" if mark.role == "heading" else "P"
        return f"/{tag} <</MCID {number}>> BDC\n"

    def _key(self, role: str, group: Group | None, number: int) -> _Key:
        """Where the texts of a role and group are read, the first of which is this one."""
        panel = -1 if group is None or group.panel is None else group.panel
        rank = _RANKS.get(role, 5)
        # The title of y stands above its axis and is read first.
        first = group is not None and group.name.startswith("y")
        within = _PANEL_RANKS.get(role, 1) if rank == 5 else 0 if first else 1
        return _Key(max(self.figures, 0), rank, panel, within, number)

    def kinds(self) -> list[str]:
        """What each text is: a heading of the page, one below it, or a paragraph."""
        titled = any(key.rank == 0 for key in self.elements)
        headings = {"heading": "H2" if titled else "H1"}
        return ["H1" if key.rank == 0 else headings.get(self.roles[key], "P") for key in self.elements]

    def next_marks(self) -> str:
        """What opens marks: part of the figure where they show data, else a decoration."""
        if not any(group.kind in ("layer", "values", "names") for group in self.inside):
            return "/Artifact BMC\n"
        number, self.count = self.count, self.count + 1
        self.marks.append(number)
        return f"/Figure <</MCID {number}>> BDC\n"


def add_tree(document: Pdf, pages: list[tuple[Object, PageTags, Scene]]) -> None:
    """Puts the tree of all pages into a document."""
    from pikepdf import Array, Dictionary, Name, String

    root = document.make_indirect(Dictionary(Type=Name.StructTreeRoot))
    kinds = ["Document", *(kind for _, tags, _ in pages for kind in (*tags.kinds(), "Figure"))]
    elements = iter(parsed_all(document, (f"<< /S /{kind} >>" for kind in kinds)))
    whole = next(elements)
    whole.P = root
    numbered: list[object] = []
    children: list[Object] = []
    for place, (page, tags, scene) in enumerate(pages):
        owners: list[Object | None] = [None] * tags.count
        entries: list[tuple[tuple[int, ...], Object]] = []
        for key, marks in tags.elements.items():
            one = next(elements)
            one.P, one.Pg = whole, page
            one.K = Array(marks) if len(marks) > 1 else marks[0]
            entries.append((key, one))
            for mark in marks:
                owners[mark] = one
        figure = next(elements)
        figure.P, figure.Pg = whole, page
        figure.Alt = String(scene.description or scene.title or "Figure")
        figure.A = parsed(f"<< /O /Layout /Placement /Block /BBox [0 0 {short(scene.width)} {short(scene.height)}] >>")
        figure.K = Array(tags.marks)
        for mark in tags.marks:
            owners[mark] = figure
        entries.append(((0, 3, -1, 0, 0), figure))
        children += [one for _, one in sorted(entries, key=lambda entry: tuple(entry[0]))]
        page.StructParents = place
        page.Tabs = Name.S
        numbered += [place, document.make_indirect(Array(owners))]
    whole.K = Array(children)
    root.K = whole
    root.ParentTree = document.make_indirect(Dictionary(Nums=Array(numbered)))
    root.ParentTreeNextKey = len(pages)
    document.Root.StructTreeRoot = root
    document.Root.MarkInfo = parsed("<< /Marked true >>")
    document.Root.ViewerPreferences = parsed("<< /DisplayDocTitle true >>")
    document.Root.Lang = String("en")
