"""Values written on marks: clear of whiskers, of each other and of other marks."""

import numpy as np
import pytest
from conftest import laid_out, said
from hypothesis import given, settings
from hypothesis import strategies as st

import facetine as ft
from facetine.scene.marks import Paths, Rects, Text

WHEELS = ft.demo_data("wheels")


def edges(boxes):
    """Left, top, right and bottom of boxes, shape (n, 4)."""
    boxes = np.asarray(boxes, float).reshape(-1, 4)
    return np.column_stack([boxes[:, :2], boxes[:, :2] + boxes[:, 2:]])


def drawn(figure, width="85 mm"):
    """The values that are written, bars, and lines of intervals, as edges; and all that was made."""
    values, bars, lines = [], [], []

    def walk(group):
        for item in group.items:
            if hasattr(item, "items"):
                walk(item)
            elif isinstance(item, Text) and item.role == "value":
                values.append(item.box)
            elif isinstance(item, Rects) and item.rows is not None:
                bars.extend(np.asarray(item.boxes).tolist())
            elif isinstance(item, Paths) and item.rows is not None:
                at = np.asarray(item.points)
                lines.extend([*pair.min(axis=0), *np.ptp(pair, axis=0)] for pair in at.reshape(-1, 2, 2))

    made = laid_out(figure, width)
    walk(made.scene.root)
    return edges(values), edges(bars), edges(lines), made


def shared(one, other):
    """How much two sets of boxes share, in the direction in which it is less, shape (n, m)."""
    across = np.minimum(one[:, None, 2], other[None, :, 2]) - np.maximum(one[:, None, 0], other[None, :, 0])
    up = np.minimum(one[:, None, 3], other[None, :, 3]) - np.maximum(one[:, None, 1], other[None, :, 1])
    return np.minimum(across, up)


@pytest.mark.parametrize("turned", [False, True])
@pytest.mark.parametrize("color", [None, "milk"])
def test_values_of_bars_stand_beyond_the_whiskers(turned, color):
    x, y = ("mass_kg", "rind") if turned else ("rind", "mass_kg")
    base = ft.figure(WHEELS).map(x=x, y=y, color=color)
    form = "{x:.1f}" if turned else "{y:.1f}"
    bars = base.bars(aggregate="mean", arrange="side_by_side", value_labels=form).intervals(color="black", caps=2)
    values, _, lines, _ = drawn(bars, "160 mm")
    assert len(values) == (12 if color else 4)
    assert len(lines) >= len(values)
    assert shared(values, lines).max() < 0
    bare = drawn(base.bars(aggregate="mean", arrange="side_by_side", value_labels=form), "160 mm")[0]
    assert len(bare) == len(values)


def test_values_of_two_layers_stand_above_each_other():
    figure = ft.figure(WHEELS).map(x="milk", y="mass_kg").bars(aggregate="mean", value_labels="{y:.2f}")
    values, _, _, _ = drawn(figure.intervals(value_labels="{count}"))
    assert len(values) == 6
    assert shared(values, values)[~np.eye(6, dtype=bool)].max() < 0.5


@settings(max_examples=25, deadline=None)
@given(st.lists(st.integers(1, 99_999), min_size=2, max_size=60), st.booleans())
def test_no_value_stands_on_another_or_on_a_bar_and_all_others_are_counted(heights, turned):
    data = {"k": [f"k{number}" for number in range(len(heights))], "v": heights}
    figure = ft.figure(data).map(x="v", y="k") if turned else ft.figure(data).map(x="k", y="v")
    values, bars, _, made = drawn(figure.bars(value_labels="{x:,}" if turned else "{y:,}"))
    apart = ~np.eye(len(values), dtype=bool)
    assert not (shared(values, values)[apart] > 0.5).any()
    outside = shared(values, bars) <= 1.5
    within = (values[:, None, [0, 1]] >= bars[None, :, [0, 1]] - 1.5) & (values[:, None, [2, 3]] <= bars[None, :, [2, 3]] + 1.5)
    assert (outside | within.all(axis=2)).all()
    assert (values[:, 2] <= made.scene.width + 1.5).all()
    lost = [note for note in said(made) if "value label" in note]
    assert len(values) == len(heights) if not lost else f"{len(heights) - len(values)} value label" in lost[0]


@settings(max_examples=25, deadline=None)
@given(st.integers(1, 30), st.integers(1, 99_999), st.sampled_from(["60 mm", "85 mm", "120 mm"]))
def test_long_values_stand_in_their_bar_where_beside_it_is_no_space(words, height, width):
    data = {"k": ["a", "b"] * 2, "v": [height, height // 2 + 1] * 2, "p": ["one", "one", "two", "two"]}
    figure = ft.figure(data).map(x="v", y="k").bars(value_labels="{x}" + " of" * words).facet("p")
    values, bars, _, made = drawn(figure, width)
    for value in values:
        on = [bar for bar in bars if shared(value[None], bar[None])[0, 0] > 1.5]
        assert all(bar[0] <= value[0] and value[2] <= bar[2] for bar in on)
        assert value[2] <= made.scene.width + 1.5
        # Nothing of the panel beside it is reached either.
        others = [place.box for place in made.layout.panels if place.box.x > value[0]]
        assert all(value[2] <= box.x + 1.5 for box in others)
    lost = [note for note in said(made) if "value label" in note]
    assert len(values) == 4 if not lost else f"{4 - len(values)} value label" in lost[0]


@pytest.mark.parametrize("swapped", [False, True])
@pytest.mark.parametrize("kind", ["linear", "sqrt"])
def test_values_of_a_figure_on_a_plate_stay_off_the_words_of_the_next(kind, swapped):
    data = {"k": ["Alpha", "Beta", "Gamma"], "v": [31, 22, 9]}
    if swapped:
        lying = ft.figure(data).map(x="k", y="v").bars(value_labels="{x} pieces of all").scale("y", kind).swap_axes()
    else:
        lying = ft.figure(data).map(x="v", y="k").bars(value_labels="{x} pieces of all").scale("x", kind)
    upright = ft.figure(data).map(x="k", y="v").bars()
    first, second, third = (lying.titles(name) for name in ("One", "Two", "Three"))
    made = laid_out(ft.plate([[first, upright], [second, third]]), "150 mm")
    texts = list(made.scene.texts())
    values = edges([text.box for text in texts if text.role == "value"])
    others = edges([text.box for text in texts if text.role != "value"])
    assert len(values) >= 8
    assert shared(values, others).max() < 0.5


def test_crowded_values_are_thinned_evenly():
    data = {"k": [f"k{number}" for number in range(40)], "v": np.full(40, 123_456)}
    values, bars, _, _ = drawn(ft.figure(data).map(x="k", y="v").bars(value_labels="{y:,}"), "120 mm")
    slots = np.rint(((values[:, 0] + values[:, 2]) / 2 - bars[0, 0]) / np.diff(bars[:, 0])[0] - 0.5)
    assert len(values) > 5
    assert len(np.unique(np.diff(np.sort(slots)))) == 1
