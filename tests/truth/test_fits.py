"""Equations, fits and options: what is printed is what is drawn, in the units of the data."""

import re

import numpy as np
import pandas as pd
import pytest
import scipy.stats
from conftest import notes
from truth.reading import Sheet, texts_of

import facetine as ft
from facetine.messages.errors import FacetineError, OptionError

rng = np.random.default_rng(9)
LOGS = pd.DataFrame({"x": 10 ** rng.uniform(0, 5, 200)})
LOGS["y"] = 10 ** (0.4 + 0.9 * np.log10(LOGS.x) + rng.normal(0, 0.2, 200))


def equation_of(figure):
    (said,) = [" ".join(texts_of(figure, "160 mm")).split("y = ", 1)[1]]
    return said


def coefficient(text):
    found = re.search(r"(\d[\d.,]*)(?: × 10(−?\d+))?", text)
    return float(found[1].replace(",", "")) * 10 ** int((found[2] or "0").replace("−", "-"))


def test_the_equation_on_log_axes_names_logarithms():
    figure = ft.figure(LOGS).map(x="x", y="y").trend(equation=True).scale("x", "log").scale("y", "log")
    (said,) = [text for text in texts_of(figure, "160 mm") if "R2" in text]
    slope, base = np.polyfit(np.log10(LOGS.x), np.log10(LOGS.y), 1)
    found = re.match(r"log10 y = (\S+) \+ (\S+) log10 x", said)
    assert (float(found[1]), float(found[2])) == pytest.approx((base, slope), abs=2e-3)


def test_the_equation_on_a_root_axis_names_the_root():
    data = pd.DataFrame({"x": np.arange(1.0, 40), "y": np.arange(1.0, 40) ** 2 * 0.3})
    said = texts_of(ft.figure(data).map(x="x", y="y").trend(equation=True).scale("y", "sqrt"), "160 mm")
    assert any(text.startswith("√y = ") for text in said)


@pytest.mark.parametrize(("days", "unit", "length"), [(2, "hours", 1 / 24), (300, "days", 1.0), (4000, "years", 365.2425)])
def test_a_slope_over_time_is_told_per_hour_day_or_year(days, unit, length):
    start = np.datetime64("2030-01-01")
    t = start + (np.linspace(0, days, 80) * 86400e6).astype("timedelta64[us]")
    y = 5 + 0.02 * np.linspace(0, days, 80)
    said = texts_of(ft.figure({"t": t, "y": y}).map(x="t", y="y").trend(equation=True), "160 mm")
    (line,) = [text for text in said if text.startswith("y = ")]
    found = re.match(r"y = (\S+) \+ (\S+) t", line)
    assert float(found[2]) == pytest.approx(0.02 * length, rel=5e-3)
    assert any(f"t in {unit} from 01 Jan 2030" in text for text in said)
    slope = ft.figure({"t": t, "y": y}).map(x="t", y="y").trend().labels(layer="trend", text="per day {slope:.4f}")
    assert "per day 0.0200" in texts_of(slope)


@pytest.mark.parametrize(
    ("degree", "low", "high"),
    [(1, 0, 10), (2, 0, 10), (2, 1990, 2030), (3, 1000, 1010), (3, -5, 5), (4, 99000, 100000), (2, 1e6, 1e6 + 5)],
)
def test_the_printed_equation_stays_by_the_drawn_line(degree, low, high):
    r = np.random.default_rng(degree)
    x = np.sort(r.uniform(low, high, 60))
    u = (x - x.mean()) / np.ptp(x)
    y = 3 + 5 * u - 20 * u**2 + (30 * u**3 if degree > 2 else 0) + r.normal(0, 0.3, 60)
    data = pd.DataFrame({"x": x, "y": y})
    (said,) = [
        t
        for t in texts_of(ft.figure(data).map(x="x", y="y").trend("polynomial", degree=degree, equation=True), "260 mm")
        if t.startswith("y = ")
    ]
    line = np.polynomial.Polynomial.fit(x, y, degree)(x)
    assert np.abs(evaluated(said, x) - line).max() <= 0.005 * np.ptp(y)
    assert not re.search(r"\d\.\d{8,}", said)


def evaluated(said, x):
    """The printed equation by hand: terms of x, or of x minus a number in parentheses."""
    right = said.split(" = ", 1)[1].split(",  R2")[0].replace("−", "-")
    moved = re.search(r"\(x ([+-]) ([\d.]+(?: × 10-?\d+)?)\)", right)
    if moved:
        shift = number(moved[2]) * (1 if moved[1] == "+" else -1)
        right, x = right.replace(moved[0], "x"), x + shift
    total = np.zeros(len(x))
    for sign, value, power in re.findall(r"(?:^| )([+-]? ?)(\d[\d.]*(?: × 10-?\d+)?)(?: (x\d*))?(?= |$)", right):
        exponent = 0 if not power else int(power[1:] or 1)
        total += (-1 if "-" in sign else 1) * number(value) * x**exponent
    return total


def number(text):
    found = re.fullmatch(r"([\d.]+)(?: × 10(-?\d+))?", text)
    return float(found[1]) * 10.0 ** int(found[2] or 0)


def test_two_spaces_on_one_axis_are_said_and_one_can_be_chosen():
    data = pd.DataFrame({"x": np.repeat([1.0, 2, 3], 20), "y": 10 ** rng.normal(1, 0.3, 60)})
    base = ft.figure(data).map(x="x", y="y").scale("y", "log")
    assert any("computed from the data" in note for note in notes(base.intervals().trend()))
    assert not any("computed from the data" in note for note in notes(base.intervals(space="axis").trend()))
    assert not any("computed from the data" in note for note in notes(base.intervals().trend(space="data")))
    sheet = Sheet(base.intervals(space="axis"))
    logs = np.log10(data.y[data.x == 1])
    half = scipy.stats.t.ppf(0.975, 19) * scipy.stats.sem(logs)
    first = sheet.paths(1)[0]["at"]
    ends = sheet.read("y", [first[:, 1].max(), first[:, 1].min()], log=True)
    assert ends == pytest.approx(10 ** (logs.mean() + np.array([-half, half])), rel=0.01)


def test_a_trend_in_data_space_on_a_log_axis_is_the_line_of_the_data():
    data = pd.DataFrame({"x": np.linspace(1, 10, 40), "y": 5 + 3 * np.linspace(1, 10, 40)})
    sheet = Sheet(ft.figure(data).map(x="x", y="y").trend(level=None, space="data").scale("y", "log"))
    at = sheet.paths(1)[0]["at"]
    x, y = sheet.read("x", at[:, 0]), sheet.read("y", at[:, 1], log=True)
    assert y == pytest.approx(5 + 3 * x, rel=5e-3)


def test_a_trend_has_a_place_each_point_and_a_half():
    data = pd.DataFrame({"x": np.arange(30.0), "y": np.sin(np.arange(30.0))})
    for width in ("60 mm", "300 mm"):
        at = Sheet(ft.figure(data).map(x="x", y="y").trend("loess", level=None), width).paths(1)[0]["at"]
        assert len(at) >= 101
        assert np.diff(at[:, 0]).max() <= 1.5 or len(at) == 101


def test_edges_are_in_the_unit_of_the_data_on_log_and_time_axes():
    x = 10 ** rng.uniform(0, 2, 300)
    edges = [1, 3, 10, 40, 100]
    figure = ft.figure({"x": x}).map(x="x").histogram(edges=edges, value_labels="{count}").scale("x", "log")
    sheet = Sheet(figure)
    assert [text for text in sheet.texts(sheet.layer(1)) if text] == [str(count) for count in np.histogram(x, edges)[0]]
    lefts = sheet.read("x", sheet.rects(1)[:, 0], log=True)
    assert lefts == pytest.approx(edges[:-1], rel=0.01)
    t = np.datetime64("2030-01-01") + rng.integers(0, 90, 200).astype("timedelta64[D]")
    days = ["2030-01-01", "2030-02-01", "2030-03-15", "2030-04-05"]
    said = texts_of(ft.figure({"t": t}).map(x="t").histogram(edges=days, value_labels="{count}"))
    counts = np.histogram(t.astype("datetime64[D]").astype(int), np.array(days, "datetime64[D]").astype(int))[0]
    assert {str(count) for count in counts} <= set(said)
    with pytest.raises(OptionError, match="no place"):
        texts_of(ft.figure({"x": x}).map(x="x").histogram(edges=[0, 10]).scale("x", "log"))


def test_bins_of_a_width_on_a_log_axis_are_even_in_the_data():
    x = rng.uniform(5, 95, 200)
    sheet = Sheet(ft.figure({"x": x}).map(x="x").histogram(bin_width=10).scale("x", "log"))
    lefts = sheet.read("x", sheet.rects(1)[:, 0], log=True)
    assert lefts[1:] == pytest.approx(np.arange(10, 10 * len(lefts), 10), rel=0.02)


def test_bins_of_times_take_words():
    t = np.datetime64("2030-01-15") + rng.integers(0, 150, 200).astype("timedelta64[D]")
    said = texts_of(ft.figure({"t": t}).map(x="t").histogram(bin_width="1 month", value_labels="{low:%d %b} {count}"), "200 mm")
    months = pd.Series(t).dt.strftime("01 %b").value_counts()
    assert {f"{month} {count}" for month, count in months.items()} <= set(said)
    hours = np.datetime64("2030-01-01") + rng.integers(0, 600, 300).astype("timedelta64[m]")
    said = texts_of(ft.figure({"t": hours}).map(x="t").histogram(bin_width="2 hours", value_labels="{low:%H} {count}"), "200 mm")
    counts = (pd.Series(hours).dt.hour // 2 * 2).value_counts()
    assert {f"{hour:02d} {count}" for hour, count in counts.items()} <= set(said)
    with pytest.raises(OptionError, match="for times"):
        texts_of(ft.figure({"x": [1.0, 2]}).map(x="x").histogram(bin_width="2 hours"))


def test_a_bandwidth_is_in_the_unit_of_the_data_on_times_and_logs():
    t = np.datetime64("2030-01-01") + rng.integers(0, 60, 100).astype("timedelta64[D]")
    base = ft.figure({"t": t}).map(x="t")
    days = t.astype("datetime64[D]").astype(float)
    for said in (5, "5 days", "120 hours"):
        sheet = Sheet(base.density(bandwidth=said))
        at = sheet.paths(1)[0]["at"]
        peak = sheet.read("y", at[:, 1].min())
        places = np.linspace(days.min() - 15, days.max() + 15, 2000)
        exact = scipy.stats.norm.pdf((places[:, None] - days) / 5).mean(axis=1).max() / 5
        assert peak == pytest.approx(exact, rel=0.02)
    x = rng.uniform(10, 100, 300)
    sheet = Sheet(ft.figure({"x": x}).map(x="x").density(bandwidth=8.0).scale("x", "log"))
    at = sheet.paths(1)[0]["at"]
    value = sheet.read("x", at[:, 0], log=True)
    exact = scipy.stats.norm.pdf((value[:, None] - x) / 8).mean(axis=1) / 8 * value * np.log(10)
    assert sheet.read("y", at[:, 1]) == pytest.approx(exact, abs=0.01 * exact.max())


@pytest.mark.parametrize("layer", ["density", "violins"])
def test_support_is_in_the_unit_of_the_data(layer):
    x = rng.exponential(5, 200)
    base = ft.figure({"x": x, "k": ["a"] * 200})
    figure = (
        base.map(x="x").density(support=(0, None)) if layer == "density" else base.map(x="x", y="k").violins(support=(0, None))
    )
    sheet = Sheet(figure)
    at = np.concatenate([path["at"] for path in sheet.paths(1)])
    assert sheet.read("x", at[:, 0].min()) == pytest.approx(0, abs=0.1)
    logged = base.map(x="x").density(support=(0.5, None)).scale("x", "log")
    sheet = Sheet(logged)
    at = sheet.paths(1)[0]["at"]
    assert sheet.read("x", at[:, 0].min(), log=True) >= 0.49
    assert sheet.said("rows-outside-support")


def test_contours_end_at_their_support():
    data = {"x": rng.exponential(1, 400), "y": rng.normal(size=400)}
    sheet = Sheet(ft.figure(data).map(x="x", y="y").contours(support={"x": (0, None)}))
    at = np.concatenate([path["at"] for path in sheet.paths(1)])
    assert sheet.read("x", at[:, 0].min()) >= -0.02


def test_uneven_cells_count_as_numpy():
    x, y = rng.uniform(0, 100, 400), rng.uniform(0, 10, 400)
    edges = [0, 5, 50, 100], [0, 1, 4, 10]
    sheet = Sheet(ft.figure({"x": x, "y": y}).map(x="x", y="y").cells(edges=edges, value_labels="{count}"), "200 mm", "150 mm")
    counts = np.histogram2d(y, x, [edges[1], edges[0]])[0].ravel().astype(int)
    assert sorted(int(text) for text in sheet.texts(sheet.layer(1))) == sorted(counts)
    widths = sorted(np.round(sheet.rects(1)[:3, 2] / sheet.rects(1)[:3, 2].sum(), 2))
    assert widths == pytest.approx([0.05, 0.45, 0.5], abs=0.01)


def test_logistic_trends_keep_their_band_beside_a_far_value_and_say_separation():
    x = np.append(rng.normal(size=200), 400.0)
    y = np.append(rng.random(200) < 1 / (1 + np.exp(-2 * x[:200])), True)
    sheet = Sheet(ft.figure({"x": x, "y": y}).map(x="x", y="y").trend("logistic"))
    assert len(sheet.paths(1)) == 2
    assert not sheet.said("separated")
    apart = Sheet(ft.figure({"x": np.arange(20.0), "y": np.arange(20) > 9}).map(x="x", y="y").trend("logistic"))
    assert len(apart.said("separated")) == 1
    assert len(apart.paths(1)) == 1


def test_quantile_trends_reach_the_least_loss_beside_an_outlier():
    from scipy.optimize import linprog

    x, y = rng.normal(size=50), rng.normal(size=50)
    y[3] = 1e7
    said = texts_of(
        ft.figure({"x": x, "y": y})
        .map(x="x", y="y")
        .trend("quantile")
        .labels(layer="trend", text="q {slope:.9f} {intercept:.9f}")
    )
    slope, base = (float(part.replace("−", "-")) for part in next(text for text in said if text.startswith("q ")).split()[1:])
    rows = np.column_stack([np.ones(50), x, np.eye(50), -np.eye(50)])
    best = linprog([0, 0] + [0.5] * 100, A_eq=rows, b_eq=y, bounds=[(None, None)] * 2 + [(0, None)] * 100).fun
    assert 0.5 * np.abs(y - base - slope * x).sum() <= best + 1e-6


def test_many_rows_have_a_quantile_line_in_seconds():
    import time

    x = rng.normal(size=200_000)
    y = 2 * x + rng.standard_t(3, size=200_000)
    started = time.perf_counter()
    texts_of(ft.figure({"x": x, "y": y}).map(x="x", y="y").trend("quantile"))
    assert time.perf_counter() - started < 8


def test_a_sample_against_itself_lies_on_the_identity_and_uses_all_rows():
    x = rng.normal(size=30)
    both = pd.DataFrame({"a": np.append(x, [np.nan] * 10), "b": np.append(rng.permutation(x), rng.normal(size=10))})
    same = Sheet(ft.figure({"a": x, "b": rng.permutation(x)}).map(x="a", y="b").qq(line=False))
    points = same.circles(1)
    assert same.read("x", points[:, 0]) == pytest.approx(same.read("y", points[:, 1]), abs=0.02)
    assert len(points) == 30
    uneven = Sheet(ft.figure(both).map(x="a", y="b").qq(line=False))
    assert len(uneven.circles(1)) == 40
    one = Sheet(ft.figure({"b": x}).map(y="b").qq(line=False))
    theory = scipy.stats.norm.ppf((np.arange(1, 31) - 3 / 8) / 30.25)
    assert np.sort(one.read("x", one.circles(1)[:, 0])) == pytest.approx(theory, abs=0.02)


@pytest.mark.parametrize(
    ("method", "options"),
    [
        ("loess", {"equation": True}), ("loess", {"robust_errors": True}), ("robust", {"band": "prediction"}), ("loess", {"compare": "slopes"}),
        ("linear", {"degree": 3}), ("moving", {"equation": True}), ("logistic", {"band": "prediction"}),
    ],
)  # fmt: skip
def test_options_that_say_nothing_for_a_method_are_refused(method, options):
    with pytest.raises(FacetineError):
        texts_of(ft.figure({"x": np.arange(9.0), "y": [0.0, 1, 0, 0, 1, 1, 0, 1, 1]}).map(x="x", y="y").trend(method, **options))


def test_slopes_are_compared_and_described():
    x = np.tile(np.arange(20.0), 2)
    g = np.repeat(["a", "b"], 20)
    y = np.where(g == "a", 1.0, 1.5) * x + rng.normal(size=40)
    figure = ft.figure({"x": x, "y": y, "g": g}).map(x="x", y="y", color="g").trend(compare="slopes")
    one, two = (scipy.stats.linregress(x[g == name], y[g == name]) for name in "ab")
    said = texts_of(figure.labels(layer="trend", text="d={slope_difference:.4f}"))
    assert f"d={two.slope - one.slope:.4f}" in said
    error = np.hypot(one.stderr, two.stderr)
    freedom = error**4 / (one.stderr**4 / 18 + two.stderr**4 / 18)
    p = 2 * scipy.stats.t.sf(abs(two.slope - one.slope) / error, freedom)
    from conftest import laid_out

    description = laid_out(figure).scene.description
    assert "slope" in description
    number, power = re.search(r"p = ([\d.]+)(?: × 10⁻([⁰¹²³⁴⁵⁶⁷⁸⁹]+))?", description).groups()
    power = (power or "⁰").translate(str.maketrans("⁰¹²³⁴⁵⁶⁷⁸⁹", "0123456789"))
    assert float(number) * 10.0 ** -int(power) == pytest.approx(p, rel=0.005, abs=0)


def test_robust_errors_and_prediction_bands_are_drawn():
    x = np.linspace(0, 10, 60)
    y = 2 * x + x * rng.normal(size=60)
    base = ft.figure({"x": x, "y": y}).map(x="x", y="y")

    def band(**options):
        sheet = Sheet(base.trend(**options))
        (ribbon,) = [path["at"] for path in sheet.paths(1) if path.get("fill") not in (None, "none")]
        ends = ribbon[np.isclose(ribbon[:, 0], ribbon[:, 0].max())]
        return float(np.ptp(sheet.read("y", ends[:, 1])))

    fit = scipy.stats.linregress(x, y)
    residual = y - fit.intercept - fit.slope * x
    design = np.column_stack([np.ones(60), x])
    inverse = np.linalg.inv(design.T @ design)
    leverage = np.einsum("ij,jk,ik->i", design, inverse, design)
    covariance = inverse @ design.T @ np.diag((residual / (1 - leverage)) ** 2) @ design @ inverse
    t = scipy.stats.t.ppf(0.975, 58)
    at = np.array([1.0, 10.0])
    assert band(robust_errors=True) == pytest.approx(2 * t * np.sqrt(at @ covariance @ at), rel=0.02)
    sigma2 = (residual**2).sum() / 58
    assert band(band="prediction") == pytest.approx(2 * t * np.sqrt(sigma2 * (1 + at @ inverse @ at)), rel=0.02)


def test_shares_have_wilson_intervals():
    yes = np.repeat([True, False], [7, 23])
    figure = (
        ft.figure({"k": ["a"] * 30, "yes": yes})
        .map(x="k", y="yes")
        .intervals(around="share", value_labels="{share:.3f} {low:.3f} {high:.3f}")
    )
    theirs = scipy.stats.binomtest(7, 30).proportion_ci(0.95, "wilson")
    assert f"{7 / 30:.3f} {theirs.low:.3f} {theirs.high:.3f}" in texts_of(figure)
    with pytest.raises(FacetineError, match="yes and no"):
        texts_of(ft.figure({"k": ["a", "a"], "v": [1.0, 5.0]}).map(x="k", y="v").intervals(around="share"))


def test_loess_over_few_places_does_not_depend_on_the_first_row():
    x = np.repeat([1.0, 2, 3], 15)
    y = x + rng.normal(size=45)
    order = rng.permutation(45)

    def curve(rows):
        sheet = Sheet(ft.figure({"x": x[rows], "y": y[rows]}).map(x="x", y="y").trend("loess", level=None))
        return sheet.paths(1)[0]["at"]

    assert curve(np.arange(45)) == pytest.approx(curve(order), abs=0.02)
    at = curve(order)
    sheet = Sheet(ft.figure({"x": x, "y": y}).map(x="x", y="y").trend("loess", level=None))
    drawn = np.interp([1.0, 2, 3], sheet.read("x", at[:, 0]), sheet.read("y", at[:, 1]))
    assert drawn == pytest.approx([y[x == place].mean() for place in (1, 2, 3)], abs=0.02)


def test_an_even_moving_average_is_centered():
    x = np.arange(9.0)
    sheet = Sheet(ft.figure({"x": x, "y": x**2}).map(x="x", y="y").trend("moving", window=4))
    at = sheet.paths(1)[0]["at"]
    middle = np.interp(4.0, sheet.read("x", at[:, 0]), sheet.read("y", at[:, 1]))
    assert middle == pytest.approx((4 / 2 + 9 + 16 + 25 + 36 / 2) / 4, abs=0.05)
