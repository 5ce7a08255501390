"""The sheets of palettes and fonts."""

import re
from itertools import combinations

import numpy as np

from facetine.catalogs.swatches import font_sheet, palette_sheet, seen
from facetine.core.color.palettes import CYCLIC, DIVERGING, QUALITATIVE, SEQUENTIAL
from facetine.scene.catalog import catalog
from facetine.scene.marks import Gradient, Group, Rects

VIEWS = ("normal", "protan", "deutan", "tritan", "gray")


def rows(scene):
    return {item.name: item for item in scene.root.items if isinstance(item, Group)}


def assert_readable(scene):
    boxes = [text.box for text in scene.texts()]
    assert all(box.x >= 0 and box.right <= scene.width and box.bottom <= scene.height for box in boxes)
    assert not [1 for one, other in combinations(boxes, 2) if one.overlaps(other, slack=0.3)]


def test_every_palette_has_a_row_with_all_views():
    scene = palette_sheet()
    found = rows(scene)
    assert set(found) == {f"palette-{name}" for family in (QUALITATIVE, SEQUENTIAL, DIVERGING, CYCLIC) for name in family}
    for name, row in found.items():
        swatches = [item for item in row.items if isinstance(item, Rects | Gradient)]
        assert len(swatches) == len(VIEWS)
        assert all(isinstance(item, Rects) for item in swatches) == (name.removeprefix("palette-") in QUALITATIVE)
    assert_readable(scene)


def test_there_are_as_many_palettes_as_an_analyst_needs():
    assert len(QUALITATIVE) >= 3
    assert len(SEQUENTIAL) >= 6
    assert len(DIVERGING) >= 4
    assert len(CYCLIC) >= 1


def test_the_gray_view_is_gray_and_the_normal_one_is_the_palette():
    for colors in QUALITATIVE.values():
        assert seen(list(colors), "normal") == list(colors)
        for shade in seen(list(colors), "gray"):
            assert re.fullmatch(r"#(..)\1\1", shade)


def test_simulated_views_move_colors_but_not_grays():
    for view in ("protan", "deutan", "tritan"):
        assert seen(["#808080"], view) in (["#808080"], ["#7f7f7f"], ["#818181"])
        assert seen(list(QUALITATIVE["orchard"]), view) != list(QUALITATIVE["orchard"])


def test_every_family_has_a_sample_in_its_own_face():
    scene = font_sheet()
    groups = [item for item in scene.root.items if isinstance(item, Group)]
    assert [group.title for group in groups if group.name == "family"] == [
        one.name for source in ("shipped", "package", "system") for one in catalog().values() if one.source == source
    ]
    for group in groups:
        faces = {run.face.split("/")[0] for text in group.items for run in text.runs}
        assert group.title in faces
    assert np.isfinite(scene.height)
    assert_readable(scene)
