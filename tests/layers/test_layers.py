"""Every layer through the sentence: its numbers, its defaults, its refusals."""

import itertools

import numpy as np
import pandas as pd
import pytest
import scipy.stats
from conftest import SVG, laid_out, notes, said, shapes, svg_of, texts

import facetine as ft
from facetine.core.color.palettes import QUALITATIVE, SEQUENTIAL
from facetine.core.color.spaces import contrast, from_hex
from facetine.layers import LAYERS
from facetine.layers.values import DARK, LIGHT, readable
from facetine.messages.errors import FacetineError, KindError, MappingError, OptionError

WHEELS = ft.demo_data("wheels")
FULL = WHEELS.dropna(subset=["moisture_pct"])
SCANS = ft.demo_data("scans")


def wheels(**mapping):
    return ft.figure(WHEELS).map(**mapping)


def table(figure, layer=0):
    return laid_out(figure).tables[layer]


ONE_OF_EACH = {
    "points": lambda f: f.map(x="n", y="v").points(),
    "lines": lambda f: f.map(x="n", y="v").lines(aggregate="mean"),
    "areas": lambda f: f.map(x="n", y="v").areas(aggregate="mean"),
    "bands": lambda f: f.map(x="n", y_low="v", y_high="w").bands(aggregate="mean"),
    "bars": lambda f: f.map(x="g").bars(),
    "histogram": lambda f: f.map(x="v").histogram(),
    "density": lambda f: f.map(x="v").density(filled=True),
    "cumulative": lambda f: f.map(x="v").cumulative(),
    "qq": lambda f: f.map(y="v").qq(),
    "boxes": lambda f: f.map(x="g", y="v").boxes(notches=True),
    "violins": lambda f: f.map(x="g", y="v").violins(),
    "correlation": lambda f: f.map(x="n", y="v").correlation(),
    "ridgelines": lambda f: f.map(x="v", y="g").ridgelines(quantiles=[0.5]),
    "rug": lambda f: f.map(x="n", y="v").rug(),
    "intervals": lambda f: f.map(x="g", y="v").intervals(),
    "trend": lambda f: f.map(x="n", y="v").trend(),
    "cells": lambda f: f.map(x="n", y="v").cells(bins=8, map={"color": None}),
    "contours": lambda f: f.map(x="n", y="v").contours(),
    "labels": lambda f: f.map(x="n", y="v", label="g").labels(where="n > 2.5"),
    "segments": lambda f: f.map(x="n", y="v", x_to="v", y_to="n").segments(arrow=True),
    "reference": lambda f: f.map(x="n", y="v").points().reference(aggregate="mean"),
    "region": lambda f: f.map(x="n", y="v").points().region(x=(0, 1), text="here"),
    "callout": lambda f: f.map(x="n", y="v").points().callout("there", x=0.5, y=0.5, x_to=1, y_to=1),
    "function": lambda f: f.map(x="n", y="v").points().function("x / 2"),
}


def sample(rows):
    rng = np.random.default_rng(rows)
    return pd.DataFrame(
        {
            "n": rng.normal(size=rows),
            "v": rng.normal(size=rows),
            "w": rng.normal(3, 1, rows),
            "g": np.array(["a", "b"], object)[rng.integers(0, 2, rows)],
            "k": np.array(["u", "v"], object)[rng.integers(0, 2, rows)],
        }
    )


def test_every_layer_has_a_figure_here():
    assert set(ONE_OF_EACH) == set(LAYERS)


@pytest.mark.parametrize("layer", ONE_OF_EACH)
@pytest.mark.parametrize("rows", [0, 1, 2, 60])
@pytest.mark.parametrize("swapped", [False, True])
def test_every_layer_draws_few_rows_in_groups_and_panels(layer, rows, swapped):
    figure = ONE_OF_EACH[layer](ft.figure(sample(rows)).map(color="k").facet("k"))
    figure = figure.swap_axes() if swapped else figure
    root = svg_of(figure)
    numbers = " ".join(value for element in root.iter() for value in element.attrib.values())
    assert "nan" not in numbers
    assert "inf" not in numbers.replace("-info", "")


@pytest.mark.parametrize("layer", ONE_OF_EACH)
def test_every_layer_draws_with_missing_values_and_says_how_many(layer):
    frame = sample(80)
    frame.loc[:9, "v"] = np.nan
    frame.loc[5:14, "g"] = None
    figure = ONE_OF_EACH[layer](ft.figure(frame))
    made = laid_out(figure)
    assert len(made.runs[0].table) > 0
    assert any("left out" in str(finding) for finding in made.findings)


@pytest.mark.parametrize("layer", ["histogram", "density", "boxes", "violins", "cells", "contours", "cumulative", "intervals"])
def test_layers_that_compute_write_small_files_for_many_rows(layer):
    figure = ONE_OF_EACH[layer](ft.figure(sample(50_000)))
    drawn = sum(1 for _ in svg_of(figure).iter())
    assert drawn < 1500


@pytest.mark.parametrize("layer", ["histogram", "density", "cumulative", "boxes", "violins", "intervals", "trend", "cells"])
def test_the_order_of_rows_changes_nothing(layer):
    frame = sample(60)
    one = table(ONE_OF_EACH[layer](ft.figure(frame).map(color="k") if layer != "cells" else ft.figure(frame)))
    mixed = frame.sample(frac=1, random_state=3)
    other = table(ONE_OF_EACH[layer](ft.figure(mixed).map(color="k") if layer != "cells" else ft.figure(mixed)))
    for name in one.values:
        if one[name].dtype.kind == "f":
            assert np.allclose(one[name], other[name], equal_nan=True), name


def test_jitter_moves_marks_along_the_category_and_never_the_fit():
    figure = wheels(x="age_days", y="mass_kg").points(arrange="jitter").trend()
    plain = wheels(x="age_days", y="mass_kg").points().trend()
    assert not np.allclose(table(figure)["x"], table(plain)["x"])
    assert np.allclose(table(figure, 1)["y"], table(plain, 1)["y"])
    strips = table(wheels(x="rind", y="mass_kg").points(arrange="jitter"))
    assert np.abs(strips["x"] - np.rint(strips["x"])).max() <= 0.3
    assert np.allclose(np.sort(strips["y"]), np.sort(WHEELS.mass_kg))


def test_a_beeswarm_overlaps_nowhere():
    circles = shapes(svg_of(wheels(x="rind", y="mass_kg").points(arrange="beeswarm", size=3), "120 mm"), "circle")
    at = np.array([(float(c["cx"]), float(c["cy"])) for c in circles])
    apart = np.hypot(*(at[:, None] - at[None, :]).T)
    apart[np.diag_indices(len(at))] = np.inf
    assert apart.min() > 2.95


def test_lying_swarms_spread_upwards():
    circles = shapes(svg_of(wheels(y="rind", x="mass_kg").points(arrange="beeswarm", size=3)), "circle")
    xs = {float(c["cx"]) for c in circles}
    assert len({float(c["cy"]) for c in circles}) > 10
    assert len(xs) > 100


def test_thinning_is_seeded_and_said():
    figure = ft.figure(SCANS).map(x="glow", y="grain").points(thin=2000)
    drawn = table(figure)["drawn"] > 0
    assert drawn.sum() == 2000
    again = ft.figure(SCANS).map(x="glow", y="grain").points(thin=2000)
    assert (drawn == (table(again)["drawn"] > 0)).all()
    assert (drawn != (table(again.seed(3))["drawn"] > 0)).any()
    assert notes(figure) == ("figure.points: 2,000 of 50,000 rows drawn",)


def test_histograms_share_their_edges_among_panels_and_groups():
    made = table(wheels(x="mass_kg", color="milk").histogram().facet("cellar"))
    lows = {tuple(np.unique(made["x_low"][(made.panel == p) & (made.group == g)])) for p in range(4) for g in range(3)}
    assert len(lows) == 1
    assert made["count"].sum() == 240


@pytest.mark.parametrize("milk", ["cow", "goat", "ewe"])
def test_histogram_counts_are_numpys(milk):
    made = table(wheels(x="mass_kg", color="milk").histogram(edges=[0, 2, 4, 6, 8, 12]))
    group = sorted(["cow", "goat", "ewe"]).index(milk)
    expected, _ = np.histogram(WHEELS.mass_kg[WHEELS.milk == milk], [0, 2, 4, 6, 8, 12])
    assert made["count"][made.group == group].tolist() == expected.tolist()


def test_panels_of_a_histogram_equal_separate_figures_on_common_bins():
    whole = table(wheels(x="mass_kg").histogram().facet("milk"))
    edges = np.append(np.unique(whole["x_low"]), whole["x_high"].max())
    for number, milk in enumerate(sorted(WHEELS.milk.unique())):
        alone = table(ft.figure(WHEELS[WHEELS.milk == milk]).map(x="mass_kg").histogram(edges=edges))
        assert whole["count"][whole.panel == number].tolist() == alone["count"].tolist()


def test_weights_count_for_rows():
    data = {"k": ["a", "b"], "n": [3.0, 5.0], "v": [1.0, 2.0]}
    assert table(ft.figure(data).map(x="k", weight="n").bars())["count"].tolist() == [3, 5]
    assert table(ft.figure(data).map(x="v", weight="n").histogram(edges=[0, 1.5, 3]))["count"].tolist() == [3, 5]


def test_bars_that_count_one_row_each_ask_whether_the_heights_are_meant():
    assert "map it to the other axis" in notes(ft.figure({"k": ["a", "b", "c"], "n": [3, 4, 5]}).map(x="k").bars())[0]


def test_outliers_under_points_are_said():
    assert "outliers" in " ".join(notes(wheels(x="rind", y="ph").boxes().points()))
    assert notes(wheels(x="rind", y="ph").boxes(outliers=False).points()) == ()


def test_offset_points_stand_beside_each_other():
    made = table(wheels(x="rind", y="mass_kg", color="milk").points(arrange="side_by_side"))
    shift = np.round(made["x"] - np.rint(made["x"]), 9)
    assert len(np.unique(shift)) == 3


def test_measures_of_histograms():
    share = table(wheels(x="mass_kg").histogram(measure="share"))
    assert share["y"].sum() == pytest.approx(1)
    density = table(wheels(x="mass_kg").histogram(measure="density"))
    assert (density["y"] * (density["x_high"] - density["x_low"])).sum() == pytest.approx(1)
    part = table(wheels(x="mass_kg", color="milk").histogram(arrange="share"))
    assert part["y_high"].max() == pytest.approx(1)


def test_bins_of_a_log_axis_are_even_there():
    made = table(ft.figure(ft.demo_data("cultures")).map(x="inoculum").histogram(bins=6).scale("x", "log"))
    assert np.allclose(np.diff(made["x_low"]), np.diff(made["x_low"])[0])
    assert made["count"].sum() == 300


def test_a_histogram_of_times_has_bins_of_days():
    made = table(ft.figure(ft.demo_data("climate")).map(x="time").histogram(bin_width=7))
    assert (made["x_high"] - made["x_low"])[1] == pytest.approx(7 * 86400e6)


def test_a_density_lies_over_its_histogram():
    figure = wheels(x="mass_kg").histogram(bin_width=0.5).density(measure="count", bin_width=0.5)
    area = np.trapezoid(table(figure, 1)["y"], table(figure, 1)["x"])
    assert area == pytest.approx(240 * 0.5, rel=0.01)


def test_densities_are_scipys_and_stay_in_their_bounds():
    made = table(wheels(x="ph").density())
    assert np.allclose(made["density"], scipy.stats.gaussian_kde(WHEELS.ph)(made["x"]), rtol=1e-9)
    assert table(wheels(x="eye_mm").density(support=(0, None)))["x"].min() == 0


def test_cumulative_ends_at_one_for_every_group():
    made = table(wheels(x="mass_kg", color="milk").cumulative())
    for group in range(3):
        share = made["share"][made.group == group]
        assert share[0] == 0
        assert share[-1] == 1


def test_quantile_plots():
    made = table(wheels(y="mass_kg").qq())
    assert made["y"].tolist() == np.sort(WHEELS.mass_kg).tolist()
    assert np.allclose(made["x"], scipy.stats.norm.ppf((np.arange(1, 241) - 3 / 8) / 240.25))
    two = table(ft.figure({"a": np.arange(50.0), "b": 2 * np.arange(50.0)}).map(x="a", y="b").qq())
    assert np.allclose(two["y"][1:-1], 2 * two["x"][1:-1], atol=1.0)
    assert laid_out(wheels(y="mass_kg").qq()).scales.first("x").title == "Normal quantiles (standard deviations)"


def test_boxes_hold_the_quartiles_of_each_group():
    made = table(wheels(x="rind", y="firmness_n", color="milk").boxes())
    boxes = made.take(~np.isnan(made["median"]))
    expected = WHEELS.groupby(["milk", "rind"]).firmness_n.median()
    assert np.allclose(np.sort(boxes["median"]), np.sort(expected))
    assert boxes["count"].sum() == 240


def test_outliers_can_be_left_to_the_points():
    made = table(wheels(x="rind", y="firmness_n").boxes(outliers=False))
    assert len(made) == 4
    assert (made["y_high"] <= WHEELS.firmness_n.max()).all()


def test_a_category_on_y_lays_boxes_violins_and_intervals():
    for layer in ("boxes", "violins", "intervals"):
        made = laid_out(ft.figure(WHEELS).map(x="mass_kg", y="rind")._add_layer(layer, {}))
        assert made.scales.first("y").kind == "levels"
        assert made.tables[0]["x"].max() > 4


def test_violins_mirror_their_density_and_halves_do_not():
    made = table(wheels(x="rind", y="ph").violins())
    assert np.allclose(made["x"] - made["x_low"], made["x_high"] - made["x"])
    left = table(wheels(x="rind", y="ph").violins(half="left"))
    assert np.allclose(left["x_high"], left["x"])
    split = table(wheels(x="rind", y="ph", color="brushed").violins(half="split"))
    assert ((split["x_low"] == split["x"]) | (split["x_high"] == split["x"])).all()
    with pytest.raises(KindError, match="two groups"):
        table(wheels(x="rind", y="ph", color="milk").violins(half="split"))


def test_intervals_are_those_of_student():
    made = table(wheels(x="milk", y="mass_kg").intervals())
    for number, milk in enumerate(sorted(WHEELS.milk.unique())):
        part = WHEELS.mass_kg[WHEELS.milk == milk]
        expected = scipy.stats.t.interval(0.95, len(part) - 1, part.mean(), scipy.stats.sem(part))
        assert (made["low"][number], made["high"][number]) == pytest.approx(expected)


def test_intervals_as_given():
    data = {"k": ["a", "b"], "m": [2.0, 3.0], "lo": [1.0, 2.5], "hi": [4.0, 3.5]}
    made = table(ft.figure(data).map(x="k", y="m", y_low="lo", y_high="hi").intervals())
    assert made["y_low"].tolist() == [1.0, 2.5]


def test_a_trend_is_the_least_squares_line_of_each_group():
    made = table(wheels(x="moisture_pct", y="firmness_n", color="rind").trend())
    for number, rind in enumerate(sorted(FULL.rind.unique())):
        part = FULL[FULL.rind == rind]
        line = scipy.stats.linregress(part.moisture_pct, part.firmness_n)
        here = made.group == number
        assert np.allclose(made["y"][here], line.intercept + line.slope * made["x"][here])
        assert (made["y_low"][here] < made["y"][here]).all()


@pytest.mark.parametrize("method", ["linear", "polynomial", "loess", "robust", "quantile", "moving"])
def test_every_method_of_a_trend_draws(method):
    made = table(wheels(x="moisture_pct", y="firmness_n").trend(method, level=None))
    assert np.isfinite(made["y"]).all()
    assert np.isnan(made["y_low"]).all()


def test_a_logistic_trend_takes_yes_and_no():
    made = table(wheels(x="firmness_n", y="brushed").trend("logistic"))
    assert ((made["y"] > 0) & (made["y"] < 1)).all()


def test_equations_are_written():
    said = " ".join(texts(svg_of(wheels(x="moisture_pct", y="firmness_n").trend(equation=True))))
    line = scipy.stats.linregress(FULL.moisture_pct, FULL.firmness_n)
    assert f"{abs(line.slope):.3g}" in said
    assert f"{line.rvalue**2:.2f}" in said


def test_a_trend_on_a_log_axis_is_straight_there():
    made = table(ft.figure(ft.demo_data("cultures")).map(x="inoculum", y="colonies").trend().scale("x", "log").scale("y", "log"))
    assert np.allclose(np.diff(made["y"]), np.diff(made["y"])[0])


def test_cells_count_every_row_once():
    made = table(ft.figure(SCANS).map(x="glow", y="grain").cells(bins=20))
    assert made["count"].sum() == 50_000
    assert table(ft.figure(SCANS).map(x="glow", y="grain").cells(cell="hex"))["count"].sum() == 50_000


def test_cells_of_categories_are_the_cross_table():
    made = table(wheels(x="rind", y="milk").cells(all_pairs=True))
    expected = pd.crosstab(WHEELS.milk, WHEELS.rind).to_numpy()
    found = np.zeros_like(expected)
    found[made["y"].astype(int), made["x"].astype(int)] = made["count"]
    assert (found == expected).all()


def test_given_cells_ask_for_an_aggregate_and_all_pairs_are_missing_there():
    base = wheels(x="rind", y="grade", color="mass_kg")
    with pytest.raises(OptionError, match="aggregate"):
        table(base.cells())
    made = table(base.cells(aggregate="mean"))
    expected = WHEELS.groupby(["rind", "grade"], observed=True).mass_kg.mean()
    assert np.allclose(np.sort(made["color"]), np.sort(expected))
    data = {"a": ["p", "q"], "b": ["r", "s"], "v": [1.0, 2.0]}
    both = table(ft.figure(data).map(x="a", y="b", color="v").cells(all_pairs=True))
    assert np.isnan(both["color"]).sum() == 2


def test_given_cells_off_a_grid_are_binned_by_an_aggregate():
    base = ft.figure(SCANS).derive(c="glow * 2").map(x="glow", y="grain", color="c")
    with pytest.raises(OptionError, match="no grid"):
        table(base.cells())
    made = table(base.cells(aggregate="mean", bins=10))
    assert len(made) <= 120
    assert np.allclose(made["color"], 2 * made["x"], atol=15)
    with pytest.raises(KindError, match="holds categories"):
        table(wheels(x="rind", y="cellar", color="milk").cells(aggregate="mean"))


def test_contours_of_groups_and_of_given_heights():
    made = table(ft.figure(SCANS).map(x="glow", y="grain", color="state").contours(levels=[0.5, 0.9]))
    assert set(np.unique(made["level"])) == {0.5, 0.9}
    x, y = np.meshgrid(np.arange(5.0), np.arange(4.0))
    data = {"x": x.ravel(), "y": y.ravel(), "z": (x + y).ravel()}
    given = table(ft.figure(data).map(x="x", y="y", color="z").contours(given=True, levels=[2.0, 5.0]))
    assert np.allclose(given["x"] + given["y"], given["level"])
    with pytest.raises(FacetineError, match="full grid"):
        table(ft.figure({k: v[:-1] for k, v in data.items()}).map(x="x", y="y", color="z").contours(given=True))


def test_labels_write_the_words_of_a_column():
    said = texts(svg_of(wheels(x="ph", y="mass_kg", label="rind").labels(where="mass_kg > 9")))
    assert set(said) & {"bloomy", "washed", "natural"}


def test_labels_of_another_layer_write_what_it_computed():
    figure = wheels(x="rind", y="mass_kg").bars(aggregate="mean").labels(layer="bars", text="{mean:.2f}")
    assert f"{WHEELS[WHEELS.rind == 'waxed'].mass_kg.mean():.2f}" in texts(svg_of(figure))
    with pytest.raises(OptionError, match="no computed value 'men'. Did you mean 'mean'"):
        svg_of(wheels(x="rind", y="mass_kg").bars(aggregate="mean").labels(layer="bars", text="{men}"))
    with pytest.raises(OptionError, match="no earlier layer 'bar'. Did you mean 'bars'"):
        svg_of(wheels(x="rind").bars().labels(layer="bar", text="{count}"))


def test_value_labels_write_counts_in_a_readable_ink():
    root = svg_of(wheels(x="rind", color="milk").bars(value_labels="{count:,.0f}"))
    inks = {text.get("fill") for text in root.iter(f"{SVG}text") if "".join(text.itertext()) in ("45", "28", "29")}
    assert inks <= {DARK, LIGHT}
    for color in (*QUALITATIVE["orchard"], *SEQUENTIAL["cellar"]):
        assert contrast(from_hex([color]), from_hex([readable(color)])[0])[0] >= 4
    above = svg_of(wheels(x="rind").bars(value_labels="{share:.0%}"))
    assert "35%" in texts(above)
    with pytest.raises(OptionError, match="no template"):
        wheels(x="rind").bars(value_labels="{")
    with pytest.raises(OptionError, match="is no format"):
        svg_of(wheels(x="rind").bars(value_labels="{count:q}"))


def test_references_stand_at_values_dates_and_categories():
    base = wheels(x="ph", y="mass_kg").points()
    assert table(base.reference(y=4), 1)["y"].tolist() == [4]
    assert table(base.reference(aggregate="median").facet("milk"), 1)["y"].tolist() == pytest.approx(
        WHEELS.groupby("milk").mass_kg.median().tolist()
    )
    sales = ft.figure(ft.demo_data("sales")).map(x="month", y="retail").lines().reference(x="2029-06-01", text="new shop")
    assert "new shop" in texts(svg_of(sales))
    assert table(wheels(x="rind", y="ph").points().reference(x="washed"), 1)["x"].tolist() == [2]


def test_regions_and_callouts_are_data():
    figure = wheels(x="ph", y="mass_kg").points().region(x=(5.2, None), shape="ellipse", text="here").callout("see", x=5.5, y=8)
    assert {"here", "see"} <= set(texts(svg_of(figure)))


def test_a_crossed_mapping_has_nested_labels():
    made = laid_out(wheels(x=("milk", "cellar")).bars())
    axis = made.scales.first("x")
    assert axis.title == "Milk × Cellar"
    assert axis.labels[:4] == ("Loft", "North", "Quarry", "Tunnel")
    assert axis.outer[0] == "cow"
    assert {"cow", "ewe", "goat"} <= {text.content for text in made.scene.texts()}
    assert made.tables[0]["count"].sum() == 240
    horizontal = laid_out(wheels(y=("milk", "cellar")).bars())
    assert {"cow", "ewe", "goat"} <= {text.content for text in horizontal.scene.texts()}


def test_swapped_axes_take_scale_and_title_along():
    figure = wheels(x="rind", y="mass_kg").bars(aggregate="mean").titles(x="Kind", y="Weight").scale("y", include=10)
    made = laid_out(figure.swap_axes())
    assert (made.scales.first("x").title, made.scales.first("y").title) == ("Weight", "Kind")
    assert made.scales.first("x").extent.high > 10
    assert made.tables[0]["x_low"].tolist() == [0, 0, 0, 0]
    assert repr(figure.swap_axes().swap_axes()) == repr(figure)


def test_areas_stack_to_the_sum():
    sales = ft.unpivot(ft.demo_data("sales"), ["retail", "wholesale"], into="channel", values="sold")
    made = table(ft.figure(sales).map(x="month", y="sold", color="channel").areas())
    total = ft.demo_data("sales").retail + ft.demo_data("sales").wholesale
    assert made["y_high"].max() == total.max()


WRONG = [
    (KindError, lambda: wheels(x="rind", y="mass_kg").trend(), "needs numbers"),
    (KindError, lambda: wheels(x="age_days", y="rind").trend(), "needs numbers"),
    (KindError, lambda: wheels(x="age_days", y="mass_kg").trend("logistic"), "0 and 1"),
    (OptionError, lambda: wheels(x="age_days", y="ph").trend("lowess"), "Did you mean 'loess'"),
    (OptionError, lambda: wheels(x="age_days", y="ph").trend("loess", degree=3), "degree of 0, 1 or 2"),
    (OptionError, lambda: wheels(x="age_days", y="ph").trend("loess", equation=True), "no equation"),
    (OptionError, lambda: wheels(x="age_days", y="ph").trend("linear", method="polynomial"), "given twice"),
    (OptionError, lambda: wheels(x="age_days", y="ph").points("big"), "by their names"),
    (KindError, lambda: wheels(x="rind").histogram(), "needs numbers"),
    (KindError, lambda: wheels(x="ph", y="mass_kg").histogram(), "computes one of them"),
    (OptionError, lambda: wheels(x="ph").histogram(bins=5, bin_width=1), "say the same thing"),
    (OptionError, lambda: wheels(x="ph").histogram(edges=[3, 2]), "must increase"),
    (OptionError, lambda: wheels(x="ph").histogram(bins=0), "bins"),
    (OptionError, lambda: wheels(x="ph").density(bandwidth=-1), "above 0"),
    (OptionError, lambda: wheels(x="ph").density(bandwidth="scot"), "Did you mean 'scott'"),
    (KindError, lambda: ft.figure(ft.demo_data("sales")).map(x="retail", y="month").boxes(), "quartiles of numbers"),
    (KindError, lambda: wheels(x="ph", y="mass_kg").points(arrange="beeswarm"), "needs categories"),
    (OptionError, lambda: wheels(x="rind", y="ph").boxes(whiskers=(90, 10)), "percentiles"),
    (OptionError, lambda: wheels(x="rind", y="ph").intervals(reach="sd"), "reach"),
    (OptionError, lambda: wheels(x="rind", y="ph").cells(cell="hex"), "numbers on both axes"),
    (OptionError, lambda: wheels(x="ph", y="mass_kg").contours(levels=[1.5]), "between 0 and 1"),
    (OptionError, lambda: wheels(x="ph", y="mass_kg").contours(given=True), "heights in color"),
    (OptionError, lambda: wheels(x="ph", y="mass_kg").points().reference(), "one of x, y, aggregate and slope"),
    (OptionError, lambda: wheels(x="ph", y="mass_kg").points().reference(y="high"), "is a number here"),
    (OptionError, lambda: wheels(x="rind", y="ph").points().reference(x="wased"), "Did you mean 'washed'"),
    (OptionError, lambda: wheels(x="ph", y="mass_kg").points().region(), "neither x nor y"),
    (OptionError, lambda: wheels(x="ph", y="mass_kg").points().callout("a"), "needs x and y, or at="),
    (OptionError, lambda: wheels(x="ph", y="mass_kg").points().callout("a", x=5, y=5, x_to=3), "both x_to and y_to"),
    (OptionError, lambda: wheels(x="rind").bars().labels(layer="bars"), "no text"),
    (MappingError, lambda: wheels(x="ph", y="mass_kg").labels(), "nothing is mapped to label"),
    (MappingError, lambda: wheels(x="ph").segments(), "nothing is mapped to y"),
    (MappingError, lambda: wheels(x=("milk", "celar")).bars(), "Did you mean 'cellar'"),
    (KindError, lambda: wheels(x=("milk", "ph")).bars(), "crosses 'ph'"),
    (MappingError, lambda: wheels(x="rind").intervals(), "nothing is mapped to y"),
]  # fmt: skip


@pytest.mark.parametrize(("error", "make", "said"), WRONG, ids=[str(n) for n in range(len(WRONG))])
def test_a_wrong_use_names_its_fix(error, make, said):
    with pytest.raises(FacetineError) as caught:
        make().export("never.svg")
    assert isinstance(caught.value, error), caught.value
    assert said in str(caught.value)


def test_groups_too_small_for_what_is_asked_are_left_out_and_said():
    one = ft.figure({"x": [1.0], "y": [2.0]}).map(x="x", y="y")
    assert "2 different x at least" in " ".join(notes(one.trend()))
    assert "no density of 1 value" in " ".join(notes(ft.figure({"x": [1.0]}).map(x="x").density()))
    assert "too few for an interval" in " ".join(notes(ft.figure({"k": ["a"], "y": [2.0]}).map(x="k", y="y").intervals()))


def test_boxes_take_weights():
    data = {"k": ["a"] * 5, "v": [1.0, 2, 3, 4, 100], "w": [1.0, 1, 1, 1, 0]}
    made = laid_out(ft.figure(data).map(x="k", y="v", weight="w").boxes())
    (row,) = np.flatnonzero(~np.isnan(made.tables[0]["median"]))
    assert made.tables[0]["median"][row] == 2.5
    assert made.tables[0]["count"][row] == 4.0
    assert made.tables[0]["whisker_high"][row] == 4.0
    assert any("w of zero count nowhere" in note for note in said(made))


@pytest.mark.parametrize("share", [0.05, 0.5, 0.95])
def test_a_lone_bar_whose_sides_have_no_place_on_its_axis_is_drawn(share):
    made = laid_out(ft.figure({"s": [share]}).map(x="s").bars().scale("x", "logit"))
    (table,) = made.tables
    assert np.isfinite([table["x_low"][0], table["x_high"][0]]).all()
    assert table["x_low"][0] < table["x"][0] < table["x_high"][0]


def test_labels_avoid_each_other_by_default_where_they_are_few_and_what_has_no_room_is_counted_over_all_panels():
    rng = np.random.default_rng(5)
    few = {"x": rng.normal(size=40), "y": rng.normal(size=40), "name": [f"wheel {n}" for n in range(40)], "k": ["a", "b"] * 20}
    figure = ft.figure(few).map(x="x", y="y", label="name").points()

    def boxes(drawn, **options):
        return [text.box for text in laid_out(drawn, **options).scene.texts() if text.role == "label"]

    apart = boxes(figure.labels())
    assert not any(one.overlaps(other, -0.5) for one, other in itertools.combinations(apart, 2))
    assert len(boxes(figure.labels(side="above"))) == 40
    assert len(boxes(figure.labels(avoid=False))) == 40
    many = {"x": rng.normal(size=250), "y": rng.normal(size=250), "name": ["w"] * 250}
    assert len(boxes(ft.figure(many).map(x="x", y="y", label="name").labels())) == 250
    tight = laid_out(figure.labels(size=14).facet("k"), "60 mm")
    written = [text for text in tight.scene.texts() if text.role == "label"]
    (note,) = [note for note in said(tight) if "left out, for which there is no space" in note]
    assert int(note.split(": ")[1].split()[0]) == 40 - len(written)
