"""A drawing in the making: groups that take marks until they are finished."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field

from facetine.scene.marks import Group, GroupKind, Mark
from facetine.scene.markup import clean, shortened
from facetine.scene.region import Region

_LONGEST_TITLE = 80


@dataclass(slots=True)
class Sketch:
    """A group that still takes marks and groups, in drawing order; `finished` makes it a value."""

    name: str
    title: str
    clip: Region | None = None
    kind: GroupKind = "part"
    panel: int | None = None
    layer: int | None = None
    raster: bool | float | str | None = None
    member: int | None = None
    _items: list[Mark | Sketch] = field(default_factory=list)

    def group(
        self,
        name: str,
        title: str,
        clip: Region | None = None,
        *,
        kind: GroupKind = "part",
        panel: int | None = None,
        layer: int | None = None,
        raster: bool | float | str | None = None,
        member: int | None = None,
    ) -> Sketch:
        """A new group inside this one, drawn after what it holds now; readers of files show the start of a long title.

        It stands in the panel, and belongs to the layer and the figure, of the group around it where no other is said.
        """
        inner = Sketch(
            name, shortened(clean(title), _LONGEST_TITLE), clip, kind,
            self.panel if panel is None else panel, self.layer if layer is None else layer, raster,
            self.member if member is None else member,
        )  # fmt: skip
        self._items.append(inner)
        return inner

    def add(self, marks: Iterable[Mark]) -> None:
        """Marks behind those that it holds."""
        self._items.extend(marks)

    def finished(self) -> Group:
        """The group with all that it holds, which no longer changes."""
        items = tuple(item.finished() if isinstance(item, Sketch) else item for item in self._items)
        return Group(self.name, self.title, items, self.clip, self.kind, self.panel, self.layer, self.raster, self.member)
