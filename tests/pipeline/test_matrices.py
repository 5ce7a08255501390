"""Each of several columns against each other one."""

import numpy as np
import pandas as pd
import pytest
from conftest import laid_out
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats
from test_layout import assert_sound
from test_marginals import NAMES, assert_aligned

import facetine as ft
from facetine.core.stats.correlation import mid_ranks, pearson, spearman
from facetine.messages.errors import FacetineError, MappingError, OptionError

WHEELS = ft.demo_data("wheels")
FRAME = pd.DataFrame(WHEELS)
NUMBERS = ["mass_kg", "ph", "firmness_n", "moisture_pct"]
SAMPLES = st.lists(st.tuples(st.floats(-1e6, 1e6), st.floats(-1e6, 1e6)), min_size=4, max_size=60)


def fields(made):
    return {(place.panel.rows.start, place.panel.columns.start): place for place in made.layout.panels}


@given(SAMPLES)
def test_coefficients_are_those_of_an_independent_computation(pairs):
    x, y = np.array(pairs).T
    if np.ptp(x) < 1e-6 * np.abs(x).max() + 1e-9 or np.ptp(y) < 1e-6 * np.abs(y).max() + 1e-9:
        return
    theirs = stats.pearsonr(x, y)
    mine = pearson(x, y)
    assert mine.r == pytest.approx(theirs.statistic, abs=1e-7)
    if abs(mine.r) < 1 - 1e-9:
        low, high = theirs.confidence_interval(0.95)
        assert (mine.low, mine.high) == pytest.approx((low, high), abs=1e-5)
    np.testing.assert_allclose(mid_ranks(x), stats.rankdata(x))
    ranks = spearman(x, y)
    assert ranks.r == pytest.approx(stats.spearmanr(x, y).statistic, abs=1e-9)
    if abs(ranks.r) < 1 - 1e-9:
        half = stats.norm.ppf(0.975) * np.sqrt((1 + ranks.r**2 / 2) / (len(x) - 3))
        assert (ranks.low, ranks.high) == pytest.approx(tuple(np.tanh(np.arctanh(ranks.r) + np.array([-half, half]))))


def test_coefficients_where_there_is_little_or_much():
    assert np.isnan(pearson(np.ones(5), np.arange(5.0)).r)
    assert np.isnan(pearson(np.ones(1), np.ones(1)).r)
    assert np.isnan(pearson(np.arange(3.0), np.array([1.0, 3.0, 2.0])).low)
    assert pearson(np.arange(9.0) * 1e300, np.arange(9.0) * 1e-300).r == pytest.approx(1)


def test_every_pair_has_its_panel_on_the_axes_of_its_row_and_column():
    made = laid_out(ft.matrix(WHEELS, NUMBERS, map={"color": "rind"}), 180)
    assert_sound(made)
    assert_aligned(made)
    places = fields(made)
    assert len(places) == 16
    for (row, column), place in places.items():
        run = made.runs[place.panel.field]
        assert run.layer.verb == ("histogram" if row == column else "points" if row > column else "correlation")
        assert place.panel.x == places[(row + 1) % 4, column].panel.x
        assert place.panel.y == places[row, (column + 1) % 4].panel.y
        if row > column:
            own = FRAME.dropna(subset=[NUMBERS[row], NUMBERS[column]])
            assert sorted(run.table["y"]) == pytest.approx(sorted(own[NUMBERS[row]]))
        if row == column:
            assert place.panel.measure is not None
            assert run.table["count"].sum() == FRAME[NUMBERS[row]].notna().sum()
    labelled = {side: sorted(at for at, place in places.items() if place.labelled(side)) for side in ("left", "below")}
    assert labelled == {"left": [(row, 0) for row in range(4)], "below": [(3, column) for column in range(4)]}
    extent = made.scales.axes[places[0, 0].panel.y].extent
    assert extent.low <= FRAME.mass_kg.min() <= FRAME.mass_kg.max() <= extent.high, (
        "labels of the row tell its column, not counts"
    )
    assert len(made.layout.legends.legends) == 1
    named = laid_out(ft.matrix(WHEELS, NUMBERS, map={"color": "rind"}).titles(color="Kind of rind"), 180)
    assert named.layout.legends.legends[0].legend.title == "Kind of rind"


@pytest.mark.parametrize("method", ["pearson", "spearman"])
def test_a_correlation_is_written_with_its_interval(method):
    made = laid_out(ft.matrix(WHEELS, NUMBERS, over_diagonal={"correlation": {"method": method}}), 180)
    said = [text.content for text in made.scene.texts() if text.role == "value"]
    expected = []
    for row, column in [(0, 1), (0, 2), (0, 3), (1, 2), (1, 3), (2, 3)]:
        own = FRAME[[NUMBERS[row], NUMBERS[column]]].dropna().to_numpy().T
        theirs = (stats.pearsonr if method == "pearson" else stats.spearmanr)(*own)
        expected.append(f"{theirs.statistic:.2f}".replace("-", "−"))
    assert [text for text in said if " to " not in text] == expected


def test_correlations_follow_their_place_or_the_data():
    figure = ft.figure(WHEELS).map(x="mass_kg", y="firmness_n").scale("x", "log").scale("y", "log")
    own = FRAME[["mass_kg", "firmness_n"]].dropna()
    on_axis, in_data = (laid_out(figure.correlation(space=space)).runs[0].table["r"][0] for space in ("axis", "data"))
    assert on_axis == pytest.approx(stats.pearsonr(np.log(own.mass_kg), np.log(own.firmness_n)).statistic)
    assert in_data == pytest.approx(stats.pearsonr(own.mass_kg, own.firmness_n).statistic)
    panels = laid_out(figure.correlation("spearman").facet("milk"))
    for number, (_, part) in enumerate(FRAME.dropna(subset=["firmness_n"]).groupby("milk")):
        assert panels.runs[0].table["r"][number] == pytest.approx(stats.spearmanr(part.mass_kg, part.firmness_n).statistic)


def test_categories_have_boxes_cells_and_bars():
    made = laid_out(ft.matrix(WHEELS, ["mass_kg", "rind", "milk"], map={"color": "brushed"}), 150)
    assert_sound(made)
    assert_aligned(made)
    verbs = {at: made.runs[place.panel.field].layer.verb for at, place in fields(made).items()}
    assert verbs[0, 1] == verbs[2, 0] == "boxes"
    assert verbs[1, 2] == verbs[2, 1] == "cells"
    assert verbs[1, 1] == verbs[2, 2] == "bars"
    counts = made.runs[fields(made)[2, 1].panel.field].table["count"]
    assert sorted(counts[counts > 0]) == sorted(FRAME.groupby(["milk", "rind"]).size().tolist())
    none = laid_out(ft.matrix(WHEELS, ["mass_kg", "rind", "ph"], mixed=None, over_diagonal=None), 150)
    assert sorted(fields(none)) == [(0, 0), (1, 1), (2, 0), (2, 2)]


@given(st.lists(NAMES, min_size=2, max_size=5, unique=True), st.integers(100, 180))
def test_panels_are_aligned_whatever_the_words(words, width):
    frame = {word: np.random.default_rng(number).normal(10.0**number, 3, 30) for number, word in enumerate(words)}
    made = laid_out(ft.matrix(frame, words).titles(words[0] * 3), width)
    assert_aligned(made)
    assert_sound(made)


def test_eight_columns_stand_on_a_page_and_one_has_a_scale_of_its_own():
    columns = [*NUMBERS, "eye_mm", "age_days", "rind", "milk"]
    made = laid_out(ft.matrix(WHEELS, columns).scale("x", "log", for_column="age_days"), 180)
    assert_sound(made)
    assert_aligned(made)
    places = fields(made)
    assert made.scales.axes[places[5, 0].panel.y].kind == made.scales.axes[places[6, 5].panel.x].kind == "log"
    assert made.scales.axes[places[0, 1].panel.x].kind == "linear"


@pytest.mark.parametrize("layer", ["boxes", "violins", "rug", "cumulative", "points"])
def test_any_layer_of_one_variable_stands_on_the_diagonal(layer):
    made = laid_out(ft.matrix(WHEELS, NUMBERS[:2], diagonal=layer))
    assert_sound(made)
    assert [made.runs[fields(made)[n, n].panel.field].layer.verb for n in (0, 1)] == [layer] * 2


def test_it_goes_into_plain_data_and_back():
    figure = ft.matrix(WHEELS, NUMBERS, under_diagonal={"points": {"size": 2.0}}, over_diagonal=None)
    assert ft.from_dict(figure.to_dict(), WHEELS).to_dict() == figure.to_dict()
    assert repr(ft.from_dict(figure.to_dict(), WHEELS)) == repr(figure)


@pytest.mark.parametrize(
    ("error", "call", "match"),
    [
        (OptionError, lambda: ft.matrix(WHEELS, ["ph"]), "from 2 to 20"),
        (OptionError, lambda: ft.matrix(WHEELS, "ph"), "list of columns"),
        (OptionError, lambda: laid_out(ft.matrix(WHEELS, NUMBERS).titles(x="X")), "which headings name"),
        (OptionError, lambda: ft.matrix(WHEELS, ["ph", "ph"]), "named twice"),
        (MappingError, lambda: ft.matrix(WHEELS, ["ph", "mas_kg"]), "Did you mean 'mass_kg'"),
        (OptionError, lambda: ft.matrix(WHEELS, NUMBERS, under_diagonal="pints"), "Did you mean 'points'"),
        (OptionError, lambda: ft.matrix(WHEELS, NUMBERS, under_diagonal=3), "is a layer"),
        (OptionError, lambda: ft.matrix(WHEELS, NUMBERS, over_diagonal={"correlation": {"method": "pearsn"}}), "pearson"),
        (OptionError, lambda: laid_out(ft.matrix(WHEELS, NUMBERS).points()), "a matrix has none"),
        (OptionError, lambda: laid_out(ft.matrix(WHEELS, NUMBERS).facet("milk")), "a matrix has none"),
        (OptionError, lambda: laid_out(ft.matrix(WHEELS, NUMBERS).marginal("top", "rug")), "a matrix has none"),
        (OptionError, lambda: laid_out(ft.matrix(WHEELS, NUMBERS, map={"x": "ph"})), "follows the columns"),
        (
            OptionError,
            lambda: laid_out(ft.matrix(WHEELS, NUMBERS, under_diagonal=None, over_diagonal=None, diagonal=None)),
            "draw nothing",
        ),
        (OptionError, lambda: laid_out(ft.matrix(WHEELS, NUMBERS).scale("x", "log", for_column="age_days")), "no such column"),
    ],
)
def test_wrong_calls_say_the_right_one(error, call, match):
    with pytest.raises(FacetineError, match=match) as caught:
        call()
    assert type(caught.value) is error
