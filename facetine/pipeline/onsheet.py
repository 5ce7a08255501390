"""Texts among the marks kept on the sheet: moved in where that is no lie about their place, else left out and counted."""

from __future__ import annotations

from collections import Counter
from dataclasses import replace

from facetine.findings import Findings, so_many
from facetine.scene.marks import Group, Mark, Scene, Text

# Texts whose place is near enough wherever it is said; the others stand at what they name.
_MOVABLE = ("reference", "region", "callout", "equation", "value", "label")
_WORDS = {"reference": "label of a reference", "equation": "equation", "callout": "callout", "region": "label of a region"}
_FARTHEST = 40.0


def keep_on_sheet(scene: Scene, findings: Findings) -> None:
    """Moves texts of layers that reach over the edge of the sheet back onto it, or takes them away.

    Args:
        scene: The drawing, whose groups are changed.
        findings: Takes the count of what was taken away.
    """
    lost: Counter[str] = Counter()
    waiting = [scene.root]
    while waiting:
        group = waiting.pop()
        kept: list[Mark | Group] = []
        for item in group.items:
            if isinstance(item, Group):
                waiting.append(item)
                kept.append(item)
            elif isinstance(item, Text) and item.role in _MOVABLE:
                moved = _on_sheet(item, scene)
                if moved is None:
                    lost[item.role] += 1
                else:
                    kept.append(moved)
            else:
                kept.append(item)
        group.items[:] = kept
    for role, count in sorted(lost.items()):
        findings.add("texts-off-sheet", "figure", f"{so_many(count, _WORDS.get(role, role))} without room on the sheet left out")


def _on_sheet(text: Text, scene: Scene) -> Text | None:
    """The text where it is, or moved as far as it must be; None where it has no room, or would go far from its place."""
    box = text.box
    across = max(0.0, -box.x) - max(0.0, box.right - scene.width)
    down = max(0.0, -box.y) - max(0.0, box.bottom - scene.height)
    if not across and not down:
        return text
    if box.width > scene.width or box.height > scene.height or abs(across) > box.width + _FARTHEST or abs(down) > _FARTHEST:
        return None
    return replace(text, x=text.x + across, y=text.y + down)
