"""What is written of trends and quantile plots is true of the curves that are drawn."""

import math
import re
from datetime import datetime

import numpy as np
import pandas as pd
import pytest
import scipy.stats
from conftest import laid_out
from truth.reading import Sheet

import facetine as ft

RNG = np.random.default_rng(12)


def drawn_line(sheet, layer=1):
    """The ends of the first straight stroke of a layer."""
    for path in sheet.paths(layer):
        if path.get("stroke") not in (None, "none") and len(path["at"]) == 2:
            return path["at"]
    raise AssertionError("no line")


@pytest.mark.parametrize("kind", ["linear", "log", "sqrt"])
@pytest.mark.parametrize("weighted", [False, True])
def test_the_line_of_a_quantile_plot_goes_through_the_quartiles_on_the_axes(kind, weighted):
    y = np.exp(RNG.normal(2, 0.8, 60))
    # Weights of 1 and of 1 plus repeated rows say the same.
    frame = pd.DataFrame({"v": y, "w": np.full(60, 3.0)})
    figure = ft.figure(frame).map(y="v", **({"weight": "w"} if weighted else {})).qq().scale("y", kind)
    sheet = Sheet(figure, "120 mm", "120 mm")
    (x0, y0), (x1, y1) = drawn_line(sheet)
    at = np.sort(sheet.circles(1), axis=0)
    # Points say where quantiles and values are: position by Blom, value by rank.
    z = scipy.stats.norm.ppf((np.arange(1, 61) - 0.375) / 60.25)
    forward = {"linear": lambda v: v, "log": np.log, "sqrt": np.sqrt}[kind]
    to_x = np.polyfit(z, at[:, 0], 1)
    to_y = np.polyfit(forward(np.sort(y)), np.sort(at[:, 1])[::-1], 1)
    for share in (0.25, 0.75):
        place = np.polyval(to_x, scipy.stats.norm.ppf(share))
        value = np.quantile(forward(y), share)
        on_line = y0 + (place - x0) / (x1 - x0) * (y1 - y0)
        assert on_line == pytest.approx(np.polyval(to_y, value), abs=0.05)


def test_weights_move_the_line_of_a_quantile_plot():
    y = np.sort(RNG.normal(10, 2, 80))
    weight = np.where(y > 10, 8.0, 1.0)
    figure = ft.figure({"v": y, "w": weight}).map(y="v", weight="w").qq()
    rows = figure.numbers(0)
    table = laid_out(figure).runs[0].table
    slope = (table["line_high"][0] - table["line_low"][0]) / np.ptp(table["x"])
    base = table["line_low"][0] - slope * table["x"].min()
    middle = base + slope * np.mean(scipy.stats.norm.ppf([0.25, 0.75]))
    repeated = np.repeat(y, weight.astype(int))
    assert middle == pytest.approx(np.quantile(repeated, [0.25, 0.75]).mean(), abs=0.25)
    assert len(rows) == 80


@pytest.mark.parametrize("turned", [False, True])
@pytest.mark.parametrize("limits", [(8.0, 11.0), (10.5, 30.0)])
def test_the_line_of_a_quantile_plot_is_that_of_all_rows_in_any_window(turned, limits):
    y = np.sort(RNG.exponential(3, 90)) + 8
    z = scipy.stats.norm.ppf((np.arange(1, 91) - 0.375) / 90.25)
    figure = ft.figure({"v": y}).map(y="v").qq().scale("y", limits=limits)
    if turned:
        figure = figure.swap_axes()
    sheet = Sheet(figure, "120 mm", "120 mm")
    seen = (y >= limits[0]) & (y <= limits[1])
    # Points say where quantiles and values are; both rise along each other.
    at = np.sort(sheet.circles(1), axis=0)
    across, up = (np.sort(at[:, 0]), np.sort(at[:, 1])[::-1])
    theory, values = (up, across) if turned else (across, up)
    to_z, to_v = np.polyfit(theory, z[seen], 1), np.polyfit(values, y[seen], 1)
    ends = [
        (np.polyval(to_z, b), np.polyval(to_v, a)) if turned else (np.polyval(to_z, a), np.polyval(to_v, b))
        for a, b in drawn_line(sheet)
    ]
    (z0, v0), (z1, v1) = ends
    low, high = np.quantile(y, [0.25, 0.75])
    slope = (high - low) / np.subtract(*scipy.stats.norm.ppf([0.75, 0.25]))
    assert (v1 - v0) / (z1 - z0) == pytest.approx(slope, rel=0.02)
    assert v0 - slope * z0 == pytest.approx((low + high) / 2, abs=0.05)
    assert all(limits[0] - 0.02 <= value <= limits[1] + 0.02 for _, value in ends)


def spelled(text):
    """A printed equation as a function of its variable."""
    right = text.split("=", 1)[1].split(",")[0]
    right = right.replace("−", "-").replace("+ ", "+").replace("- ", "-")
    right = re.sub(r"(\d) × 10(-?\d+)", r"\1e\2", right)
    terms = re.findall(r"([+-]?[\d.,]+(?:e-?\d+)?)\s*((?:\(.*?\)|[xt])?)(\d*)", right)

    def value(at):
        total = np.zeros(len(at))
        for number, sign, power in terms:
            factor = float(number.replace(",", ""))
            inner = re.fullmatch(r"\(([xt]) ?([+-]) ?([\d.e+-]+)\)", sign)
            base = at if not inner else at + float(f"{inner[2]}{inner[3]}")
            total += factor * (1.0 if not sign else base ** int(power or 1))
        return total

    return value


def drawn_curve(sheet, layer):
    return max((path["at"] for path in sheet.paths(layer) if path.get("fill", "none") == "none"), key=len)


@pytest.mark.parametrize("degree", [1, 2, 3])
@pytest.mark.parametrize("start", [0.0, 2000.0, 1e6])
def test_a_printed_equation_is_the_drawn_curve(degree, start):
    x = start + np.linspace(0, 40, 30)
    y = 5 + 0.3 * (x - start) ** degree / 40 ** (degree - 1) + RNG.normal(0, 0.2, 30)
    method = {"method": "linear"} if degree == 1 else {"method": "polynomial", "degree": degree}
    figure = ft.figure({"x": x, "y": y}).map(x="x", y="y").points(size=1).trend(**method, equation=True, level=None)
    sheet = Sheet(figure, "180 mm", "100 mm")
    text = next(text for text in sheet.texts() if text.startswith("y ="))
    curve, dots = drawn_curve(sheet, 2), sheet.circles(1)
    dots = dots[np.argsort(dots[:, 0])]
    to_x = np.polyfit(dots[:, 0], x, 1)
    to_y = np.polyfit(dots[:, 1], y, 1)
    values = spelled(text)(np.polyval(to_x, curve[:, 0]))
    assert np.abs(values - np.polyval(to_y, curve[:, 1])).max() < 0.01 * np.ptp(y)


@pytest.mark.parametrize(("days", "zone"), [(2, None), (40, "America/New_York"), (2500, "Asia/Tokyo")])
def test_an_equation_of_times_says_its_unit_and_its_origin(days, zone):
    hours = np.linspace(0, 24 * days, 50)
    stamps = pd.Timestamp("2030-03-05 17:30") + pd.to_timedelta(hours, unit="h")
    stamps = stamps.tz_localize(zone) if zone else stamps
    y = 20 + hours / (24 * days) * 7 + RNG.normal(0, 0.3, 50)
    figure = ft.figure(pd.DataFrame({"t": stamps, "y": y})).map(x="t", y="y").points(size=1).trend(equation=True, level=None)
    sheet = Sheet(figure, "180 mm", "100 mm")
    first = next(text for text in sheet.texts() if text.startswith("y ="))
    second = next(text for text in sheet.texts() if "from" in text and "(t in" in text)
    unit, said = re.fullmatch(r"\(t in (\w+) from (.*)\)", second).groups()
    origin = pd.Timestamp(datetime.strptime(said, "%d %b %Y"), tz=zone)
    length = {"years": pd.Timedelta(days=365.2425), "days": pd.Timedelta(days=1), "hours": pd.Timedelta(hours=1)}[unit]
    t = np.array([(stamp - origin) / length for stamp in stamps])
    curve, dots = drawn_curve(sheet, 2), sheet.circles(1)
    dots = dots[np.argsort(dots[:, 0])]
    values = spelled(first)(np.polyval(np.polyfit(dots[:, 0], t, 1), curve[:, 0]))
    assert np.abs(values - np.polyval(np.polyfit(dots[:, 1], y, 1), curve[:, 1])).max() < 0.01 * np.ptp(y)
    row = figure.numbers(1).iloc[0]
    midnight = pd.Timestamp(datetime.strptime(row["origin"], "%d %b %Y"), tz=zone)
    in_days = np.array([(stamp - midnight) / pd.Timedelta(days=1) for stamp in stamps])
    fit = scipy.stats.linregress(in_days, y)
    assert midnight.date() == stamps[0].date()
    assert row["intercept"] == pytest.approx(fit.intercept)
    assert row["slope"] == pytest.approx(fit.slope)
    base, slope = (float(part.replace("−", "-")) for part in row["coefficients"].split(", "))
    assert (base, slope) == pytest.approx((fit.intercept, fit.slope), rel=2e-3)


def test_coefficients_of_curves_on_times_are_of_days():
    days = np.arange(60.0)
    stamps = pd.Timestamp("2030-05-01") + pd.to_timedelta(days, unit="D")
    y = 3 - 0.4 * days + 0.02 * days**2
    row = ft.figure({"t": stamps, "y": y}).map(x="t", y="y").trend("polynomial", degree=2).numbers(0).iloc[0]
    said = [float(part.replace("−", "-")) for part in row["coefficients"].split(", ")]
    assert said == pytest.approx([3, -0.4, 0.02], rel=1e-3)


def test_descriptions_say_what_was_fitted_on_what():
    wheels = ft.demo_data("wheels")
    base = ft.figure(wheels).map(x="age_days", y="mass_kg").points().trend(level=None)
    assert "Straight line of mass on age." in base.describe()
    swapped = base.swap_axes().describe()
    assert "Straight line of mass on age." in swapped
    logs = base.scale("x", "log").scale("y", "log").describe()
    assert "Straight line of the logarithm of mass on the logarithm of age." in logs
    data = base.without("trend").trend(level=None, space="data").scale("y", "log").describe()
    assert "Straight line of mass on age." in data


@pytest.mark.parametrize("window", [1, 3, 4, 7])
def test_moving_means_do_not_depend_on_the_order_of_ties(window):
    x = np.repeat(np.arange(12.0), 3)
    y = RNG.normal(0, 1, 36)
    turned = np.concatenate([RNG.permutation(3) + 3 * group for group in range(12)])
    curves = []
    for order in (np.arange(36), turned):
        figure = ft.figure({"x": x[order], "y": y[order]}).map(x="x", y="y").trend("moving", window=window)
        curves.append(drawn_curve(Sheet(figure), 1))
    assert np.allclose(curves[0], curves[1], atol=0.011)
    assert math.isfinite(curves[0].sum())
