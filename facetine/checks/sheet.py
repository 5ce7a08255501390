"""The drawing of a checked figure, with its findings numbered where they are and listed below."""

from __future__ import annotations

import numpy as np

from facetine.checks.checked import CheckResult
from facetine.core.scales.formats import escaped
from facetine.grammar.theme import THEMES
from facetine.scene.marks import Group, Mark, Markers, MarkerStyle, Rects, Scene
from facetine.scene.region import Region
from facetine.scene.sketch import Sketch
from facetine.scene.typeset import TextStyle, set_text
from facetine.writers.extents import box_of

_INKS = {"warning": "#9c2b3c", "hint": "#22607f", "info": "#4a5059"}
_RADIUS, _SIZE, _MARGIN = 5.2, 7.0, 8.0
_LEAST_WIDTH = 300.0


def numbered_sheet(scene: Scene, checked: CheckResult) -> Scene:
    """A figure with a numbered disc at each finding, and all of them in words below.

    Args:
        scene: The figure's first page.
        checked: What was found.
    """
    theme = THEMES["press"]
    text = TextStyle(theme.font, _SIZE, 400, theme.text_color)
    width = max(scene.width, _LEAST_WIDTH)
    root = Sketch("figure", "Figure", kind="figure")
    ground = Group("sheet", "Sheet", (Rects(np.array([[0.0, 0.0, scene.width, scene.height]]), (scene.ground or "#ffffff",)),))
    boxes = group_boxes(scene)
    places: list[tuple[float, float]] = []
    marks = root.group("numbers", "Numbers of findings")
    top = scene.height + _MARGIN
    for number, finding in enumerate(checked.findings, 1):
        ink = _INKS[finding.severity]
        if finding.at is not None or finding.group in boxes:
            box = boxes[finding.group] if finding.at is None else Region(*finding.at, 0.0, 0.0)
            at = _free(box, places, scene)
            places.append(at)
            _number(marks, number, at, ink, text)
        _number(marks, number, (_MARGIN + _RADIUS, top + _RADIUS), ink, text)
        words = f"**{finding.severity}, {finding.code}**: {escaped(finding.text)}"
        words += f"; {escaped(finding.fix)}" if finding.fix else ""
        block = set_text(words, text, width - 3 * _MARGIN - 2 * _RADIUS)
        marks.add(block.placed(2 * _MARGIN + 2 * _RADIUS, top + _RADIUS - text.cap / 2, role="finding"))
        top += max(block.height, 2 * _RADIUS) + 4
    if not checked.findings:
        marks.add(set_text("Nothing found.", text).placed(_MARGIN, top, role="finding"))
        top += 12
    finished = root.finished()
    whole = finished._replace(items=(ground, *scene.root.items, *finished.items))
    return scene._replace(width=width, height=top + _MARGIN / 2, root=whole, ground="#ffffff")


def _number(into: Sketch, number: int, at: tuple[float, float], ink: str, text: TextStyle) -> None:
    into.add([Markers(np.array([at]), (MarkerStyle("disc", _RADIUS, ink, "#ffffff", 0.8),))])
    small = text._replace(size=6.2, weight=700, color="#ffffff")
    into.add(set_text(str(number), small).placed(at[0], at[1] - small.cap / 2, 0.5, role="finding"))


def _free(box: Region, taken: list[tuple[float, float]], scene: Scene) -> tuple[float, float]:
    """A place beside a box, at its upper end, moved down where another number stands there."""
    x = min(box.right + _RADIUS + 1.5, scene.width - _RADIUS)
    y = box.y + box.height / 2 if box.height < 4 * _RADIUS else max(box.y, _RADIUS)
    while any(abs(x - left) < 2 * _RADIUS and abs(y - upper) < 2 * _RADIUS for left, upper in taken):
        y += 2 * _RADIUS + 1
    return x, min(y, scene.height - _RADIUS)


def group_boxes(scene: Scene) -> dict[str, Region]:
    """What each group covers, by its id."""
    found: dict[str, Region] = {}

    def walk(group: Group, names: tuple[str, ...]) -> list[Region]:
        boxes: list[Region] = []
        for item in group.items:
            boxes += walk(item, (*names, item.name)) if isinstance(item, Group) else [box_of(item)] if _shown(item) else []
        if group.clip is not None:
            boxes = [box.within(group.clip) for box in boxes]
        if boxes and names:
            left, top = min(box.x for box in boxes), min(box.y for box in boxes)
            right, bottom = max(box.right for box in boxes), max(box.bottom for box in boxes)
            found["-".join(names)] = Region(left, top, right - left, bottom - top)
        return boxes

    walk(scene.root, ())
    return found


def _shown(mark: Mark) -> bool:
    """Whether there is anything of a mark."""
    return all(len(getattr(mark, name, (0,))) for name in ("at", "points", "boxes", "runs"))
