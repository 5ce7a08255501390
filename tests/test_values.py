"""The numbers behind a figure, against independent computations and against what stands in the figure."""

import subprocess
import sys

import numpy as np
import pandas as pd
import polars as pl
import pyarrow as pa
import pytest
from conftest import SVG, laid_out, svg_of, texts
from scipy import stats

import facetine as ft
from facetine.batch.runner import export_plan
from facetine.messages.errors import OptionError, PlanError

FRAME = pd.DataFrame(ft.demo_data("wheels"))
BASE = ft.figure(FRAME)


def by(values, *names):
    return values.set_index(list(names))


def test_boxes():
    values = by(BASE.map(x="rind", y="ph", color="milk").boxes().numbers("boxes"), "x", "group")
    boxes = values[values["median"].notna()]
    for (rind, milk), found in FRAME.groupby(["rind", "milk"]):
        own, y = boxes.loc[(rind, milk)], found["ph"]
        lower, median, upper = y.quantile([0.25, 0.5, 0.75])
        assert [own["q1"], own["median"], own["q3"]] == pytest.approx([lower, median, upper])
        inside = y[(y >= lower - 1.5 * (upper - lower)) & (y <= upper + 1.5 * (upper - lower))]
        assert [own["whisker_low"], own["whisker_high"], own["count"]] == pytest.approx([inside.min(), inside.max(), len(y)])
        far = sorted(values.loc[[(rind, milk)]].query("median != median")["y"])
        assert far == pytest.approx(sorted(y.drop(inside.index)))


@pytest.mark.parametrize("turned", [False, True])
def test_bars_and_what_is_written_on_them(turned):
    figure = BASE.map(**{"y" if turned else "x": "rind", "x" if turned else "y": "mass_kg"}).bars(
        aggregate="mean", value_labels="{mean:.3f}"
    )
    values = figure.numbers("bars")
    means = FRAME.groupby("rind")["mass_kg"].mean()
    assert dict(zip(values["y" if turned else "x"], values["mean"], strict=True)) == pytest.approx(means.to_dict())
    written = [text for text in texts(svg_of(figure, 120)) if text.count(".") == 1 and len(text.split(".")[1]) == 3]
    assert sorted(written) == sorted(f"{mean:.3f}" for mean in values["mean"])


def test_counts_in_panels_and_bins():
    values = BASE.map(x="ph").histogram(edges=[4.8, 5.0, 5.2, 5.4, 5.6, 5.8]).facet("cellar").numbers("histogram")
    for cellar, rows in FRAME.groupby("cellar"):
        own = values[values["panel"] == cellar]
        counts, edges = np.histogram(rows["ph"].dropna(), [4.8, 5.0, 5.2, 5.4, 5.6, 5.8])
        assert own["count"].tolist() == counts.tolist()
        assert own["low"].tolist() == pytest.approx(edges[:-1].tolist())
        assert own["share"].tolist() == pytest.approx((counts / counts.sum()).tolist())
        assert own["density"].tolist() == pytest.approx((counts / counts.sum() / np.diff(edges)).tolist())


def test_panels_with_categories_of_their_own_tell_these():
    data = {"k": list("abbcdd"), "p": list("PPPQQQ")}
    figure = ft.figure(data).map(x="k").bars(value_labels="{x}={count}").facet("p", separate="x")
    values = figure.numbers("bars")
    assert values[["panel", "x", "count"]].to_numpy().tolist() == [["P", "a", 1], ["P", "b", 2], ["Q", "c", 1], ["Q", "d", 2]]
    assert [text for text in texts(svg_of(figure, 140)) if "=" in text] == ["a=1", "b=2", "c=1", "d=2"]


def test_intervals():
    values = by(BASE.map(x="rind", y="ph").intervals(level=0.9).numbers(0), "x")
    for rind, rows in FRAME.groupby("rind"):
        y = rows["ph"].dropna()
        low, high = stats.t.interval(0.9, len(y) - 1, y.mean(), stats.sem(y))
        assert values.loc[rind, ["mean", "low", "high", "count"]].tolist() == pytest.approx([y.mean(), low, high, len(y)])


def test_a_trend_on_a_log_axis():
    values = BASE.map(x="age_days", y="firmness_n", color="rind").trend("linear").scale("x", "log").numbers("trend")
    for rind, rows in FRAME.dropna(subset=["age_days", "firmness_n"]).groupby("rind"):
        own = values[values["group"] == rind]
        fit = stats.linregress(np.log10(rows["age_days"]), rows["firmness_n"])
        assert own["slope"].iloc[0] == pytest.approx(fit.slope)
        assert own["y"].tolist() == pytest.approx((fit.intercept + fit.slope * np.log10(own["x"])).tolist())
        assert (own["y_low"] < own["y"]).all()
        assert (own["y"] < own["y_high"]).all()


def test_means_over_time_keep_times_and_zones():
    times = pd.date_range("2030-03-30", periods=60, freq="h", tz="Europe/Berlin")
    frame = pd.DataFrame({"t": np.repeat(times, 2), "v": np.arange(120.0)})
    values = ft.figure(frame).map(x="t", y="v").lines(aggregate="mean").numbers("lines")
    assert values["x"].tolist() == times.tolist()
    assert values["mean"].tolist() == frame.groupby("t")["v"].mean().tolist()


def test_cells_cumulative_shares_and_cross_counts():
    cells = by(BASE.map(x="rind", y="milk").cells().numbers("cells"), "x", "y")["count"]
    assert cells.to_dict() == FRAME.groupby(["rind", "milk"]).size().to_dict()
    steps = BASE.map(x="ph").cumulative().numbers("cumulative")
    y = FRAME["ph"].dropna()
    # The curve begins at zero, below its first step.
    assert steps["y"].tolist() == pytest.approx([0, *((y <= x).mean() for x in steps["x"][1:])])


def test_points_are_rows_of_the_data_with_what_is_mapped():
    frame = FRAME.iloc[40:].reset_index(drop=True)
    figure = ft.figure(frame).keep("age_days > 60").map(x="age_days", y="ph", size="mass_kg", color="rind")
    values = figure.points(arrange="jitter", where="ph > 5.2").numbers("points")
    kept = frame.query("age_days > 60 and ph > 5.2 and mass_kg == mass_kg")
    assert sorted(values["row"]) == kept.index.tolist()
    own = frame.loc[values["row"]]
    for name, column in (("x", "age_days"), ("y", "ph"), ("size", "mass_kg"), ("group", "rind")):
        assert values[name].tolist() == own[column].tolist()


def test_all_layers_stand_below_each_other():
    values = BASE.map(x="age_days", y="ph").points().rug().numbers()
    assert values["layer"].value_counts().to_dict() == {"points": FRAME["ph"].notna().sum(), "rug": FRAME["ph"].notna().sum()}


@pytest.mark.parametrize("made", [pl.from_pandas, pa.Table.from_pandas])
def test_the_frame_is_of_the_library_that_came_in(made):
    frame = made(FRAME[["rind", "ph"]])
    values = ft.figure(frame).map(x="rind", y="ph").bars(aggregate="mean").numbers("bars")
    assert type(values) is type(frame)
    columns = values.to_dict(as_series=False) if isinstance(values, pl.DataFrame) else values.to_pydict()
    assert columns["mean"] == pytest.approx(FRAME.groupby("rind")["ph"].mean().tolist())


def test_rows_stand_where_their_marks_are():
    figure = BASE.map(x="age_days", y="ph").points()
    found = figure.at("points", rows=[3, 17], width="85 mm")
    assert found["row"].tolist() == [3, 17]
    circles = svg_of(figure, "85 mm").iter(f"{SVG}circle")
    places = {(round(float(one.get("cx")), 1), round(float(one.get("cy")), 1)) for one in circles}
    scale = 72 / 25.4
    assert {(round(x * scale, 1), round(y * scale, 1)) for x, y in found[["x_mm", "y_mm"]].to_numpy()} <= places
    bars = BASE.map(x="rind").bars().at("bars", rows=[0, 1, 2, 3, 99])
    assert bars["row"].tolist() == [0, 1, 2, 3]
    assert bars["x_mm"].is_monotonic_increasing


@pytest.mark.parametrize(("call", "said"), [
    (lambda f: f.numbers("bars"), "figure.numbers: no layer 'bars'"),
    (lambda f: f.at("points", rows="3"), "rows is a list of numbers"),
    (lambda f: f.at("points", rows=[-1]), "rows is a list of numbers"),
    (lambda f: f.at("points", rows=3), "rows is a list of numbers"),
    (lambda f: f.at("points"), "missing a required"),
])  # fmt: skip
def test_what_can_not_be_read_off_is_answered(call, said):
    with pytest.raises(OptionError, match=said):
        call(BASE.map(x="age_days", y="ph").points())


@pytest.mark.parametrize("layer", [
    "points", "lines", "areas", "bars", "histogram", "density", "cumulative", "qq", "boxes", "violins", "ridgelines", "rug",
    "intervals", "trend", "cells", "contours", "segments", "bands",
])  # fmt: skip
def test_every_layer_has_values_of_one_row_a_computed_row(layer):
    mapping = {"x": "rind"} if layer == "bars" else {"x": "ph"}
    if layer in ("boxes", "violins", "intervals"):
        mapping = {"x": "rind", "y": "ph"}
    elif layer == "ridgelines":
        mapping = {"x": "ph", "y": "rind"}
    elif layer in ("points", "lines", "areas", "trend", "cells", "contours"):
        mapping = {"x": "age_days", "y": "ph"}
    elif layer == "segments":
        mapping = {"x": "age_days", "y": "ph", "x_to": "mass_kg", "y_to": "ph"}
    elif layer == "bands":
        mapping = {"x": "age_days", "y_low": "ph", "y_high": "firmness_n"}
    elif layer == "qq":
        mapping = {"y": "ph"}
    figure = getattr(BASE.map(**mapping), layer)(**({"aggregate": "mean"} if layer in ("areas", "bands") else {}))
    values = figure.numbers(layer, width=160)
    (table,) = laid_out(figure, 160).tables
    assert len(values) == len(table)
    assert len(values.columns) >= 2
    numbers = values.select_dtypes("number")
    assert numbers.notna().any().all(), numbers.columns[~numbers.notna().any()].tolist()


def test_the_numbers_go_out_as_a_table_from_the_command_line_and_from_plans(tmp_path):
    FRAME.to_csv(tmp_path / "wheels.csv", index=False)
    command = [sys.executable, "-m", "facetine.cli.main", "draw", "wheels.csv", "-m", "x=rind", "-m", "y=ph", "-l", "boxes"]
    done = subprocess.run([*command, "-o", "a.pdf", "--numbers", "a.csv"], cwd=tmp_path, capture_output=True, text=True)
    assert done.returncode == 0, done.stderr
    assert done.stdout.splitlines()[1].startswith("wrote a.csv  ")
    found = pd.read_csv(tmp_path / "a.csv").dropna(subset="median").set_index("x")["median"].to_dict()
    assert found == pytest.approx(FRAME.groupby("rind")["ph"].median().to_dict())
    wrong = subprocess.run([*command, "-o", "a.pdf", "--numbers", "a.txt"], cwd=tmp_path, capture_output=True, text=True)
    assert (wrong.returncode, wrong.stderr.count("\n")) == (2, 1)
    (tmp_path / "plan.toml").write_text(
        '[data.w]\nfile = "wheels.csv"\n[figure.boxes]\ndata = "w"\nmap = { x = "rind", y = "ph" }\nlayers = ["boxes"]\nnumbers = true\n'
    )
    (outcome,) = export_plan(tmp_path / "plan.toml")
    assert outcome.error is None
    assert outcome.numbers.path.read_bytes() == (tmp_path / "a.csv").read_bytes()
    assert outcome.numbers.rows == len(pd.read_csv(tmp_path / "a.csv"))
    (tmp_path / "both.toml").write_text(
        (tmp_path / "plan.toml").read_text() + '[figure.b]\nlike = "boxes"\nfile = "boxes"\nformats = ["svg"]\n'
    )
    with pytest.raises(PlanError, match=r"would both write 'boxes\.csv'"):
        export_plan(tmp_path / "both.toml")
