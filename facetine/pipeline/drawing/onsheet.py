"""Texts among the marks kept on the sheet: moved in where that is no lie about their place, else left out and counted."""

from __future__ import annotations

from collections import Counter

from facetine.messages.findings import Remark, Saying, so_many
from facetine.scene.marks import Group, Mark, Scene, Text

# Texts whose place is near enough wherever it is said; the others stand at what they name.
_MOVABLE = ("reference", "region", "callout", "equation", "value", "label")
_WORDS = {"reference": "label of a reference", "equation": "equation", "callout": "callout", "region": "label of a region"}
_HOLDING = ("panel", "layer", "values", "names", "part")
"""Groups in which such texts stand."""
_FARTHEST = 40.0


def kept_on_sheet(scene: Scene) -> Saying[Scene]:
    """The drawing with texts of layers that reach over the edge of the sheet moved back onto it, or taken away.

    Args:
        scene: The drawing.
    """
    lost: Counter[str] = Counter()
    root = _kept(scene.root, scene, lost)
    for role, count in sorted(lost.items()):
        yield Remark(
            "texts-off-sheet",
            "figure",
            f"{so_many(count, _WORDS.get(role, role))} left out, for which there is no space on the sheet",
        )
    off = sum(text.role.startswith("legend") and not _inside(text, scene) for text in scene.texts())
    if off:
        said = f"{so_many(off, 'text')} of the legends stand{'s' if off == 1 else ''} beyond the sheet"
        yield Remark("legend-off-sheet", "figure.theme: legend_shift", said, "a shorter way", "warning")
    return scene if root is scene.root else scene._replace(root=root)


def _inside(text: Text, scene: Scene) -> bool:
    box = text.box
    return box.x > -0.5 and box.y > -0.5 and box.right < scene.width + 0.5 and box.bottom < scene.height + 0.5


def _kept(group: Group, scene: Scene, lost: Counter[str]) -> Group:
    """A group with its texts on the sheet; the same one where all are."""
    items: list[Mark | Group] = []
    for item in group.items:
        if isinstance(item, Group):
            items.append(_kept(item, scene, lost) if item.kind in _HOLDING else item)
        elif isinstance(item, Text) and item.role in _MOVABLE:
            moved = _on_sheet(item, scene)
            if moved is None:
                lost[item.role] += 1
            else:
                items.append(moved)
        else:
            items.append(item)
    same = len(items) == len(group.items) and all(one is other for one, other in zip(items, group.items, strict=True))
    return group if same else group._replace(items=tuple(items))


def _on_sheet(text: Text, scene: Scene) -> Text | None:
    """The text where it is, or moved as far as it must be; None where it has no room, or would go far from its place."""
    box = text.box
    across = max(0.0, -box.x) - max(0.0, box.right - scene.width)
    down = max(0.0, -box.y) - max(0.0, box.bottom - scene.height)
    if not across and not down:
        return text
    if box.width > scene.width or box.height > scene.height or abs(across) > box.width + _FARTHEST or abs(down) > _FARTHEST:
        return None
    return text._replace(x=text.x + across, y=text.y + down)
