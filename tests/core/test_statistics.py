"""Statistics against independent computations: SciPy, NumPy, mpmath, closed forms, optimality."""

import math
from fractions import Fraction
from types import SimpleNamespace

import mpmath
import numpy as np
import pytest
import scipy.stats
from hypothesis import given
from hypothesis import strategies as st
from scipy import integrate, optimize

from facetine.core.columns import Columns
from facetine.core.memory import InMemory
from facetine.core.stats.binning import RULES, chosen_edges, counted, even_edges, rule_width
from facetine.core.stats.cells import counted_hexagons, counted_squares
from facetine.core.stats.centers import center, interval, standard_deviation
from facetine.core.stats.density import bandwidth, density_curve, kernel_density, robust_bandwidth
from facetine.core.stats.fits import compared_slopes
from facetine.core.stats.polynomials import least_squares
from facetine.core.stats.quantile_lines import quantile_line
from facetine.core.stats.quantiles import (
    paired_quantiles,
    plotting_positions,
    quantiles,
    quartile_line,
    theoretical_quantiles,
    weighted_positions,
    weighted_quantiles,
)
from facetine.core.stats.regression import logistic, robust
from facetine.core.stats.smooth import loess, moving_average
from facetine.core.stats.surfaces import density_surface, enclosing_levels
from facetine.core.stats.weights import effective_size
from facetine.layers.boxes import Boxes
from facetine.layers.context import Context
from facetine.layers.cumulative import Cumulative

RNG = np.random.default_rng(11)
NUMPY_NAMES = {
    1: "inverted_cdf", 2: "averaged_inverted_cdf", 3: "closest_observation", 4: "interpolated_inverted_cdf", 5: "hazen",
    6: "weibull", 7: "linear", 8: "median_unbiased", 9: "normal_unbiased",
}  # fmt: skip
samples = st.lists(st.floats(-1e3, 1e3).map(lambda value: round(value, 3)), min_size=1, max_size=50).map(np.array)
spread = samples.filter(lambda x: len(x) > 3 and np.ptp(x) > 0.1)
scales = st.floats(0.1, 10)
shifts = st.floats(-1e3, 1e3)


@given(samples, st.integers(1, 40))
def test_every_value_is_counted_once(x, bins):
    edges = chosen_edges(x, bins=bins)
    assert counted(x, edges).weight.sum() == len(x)


@given(samples, st.sampled_from(RULES))
def test_every_rule_covers_the_sample(x, rule):
    edges = chosen_edges(x, rule=rule)
    assert edges[0] <= x.min()
    assert edges[-1] >= x.max()
    assert counted(x, edges).weight.sum() == len(x)


def test_counts_equal_numpys_also_for_uneven_edges_and_weights():
    x, w = RNG.normal(size=2000), RNG.random(2000)
    for edges in (np.linspace(-4, 4, 33), np.sort(RNG.uniform(-4, 4, 20))):
        assert np.array_equal(counted(x, edges).weight, np.histogram(x, edges)[0])
        assert np.allclose(counted(x, edges, w).weight, np.histogram(x, edges, weights=w)[0])


def test_densities_of_bins_integrate_to_one():
    bins = counted(RNG.normal(size=500), np.array([-5, -1, 0, 0.5, 5.0]))
    assert bins.density @ np.diff(bins.edges) == pytest.approx(1)
    assert bins.share.sum() == pytest.approx(1)


def test_the_rule_of_freedman_and_diaconis_is_its_formula():
    x = RNG.normal(size=300)
    assert rule_width(x, "freedman_diaconis") == pytest.approx(2 * scipy.stats.iqr(x) * 300 ** (-1 / 3))


@pytest.mark.parametrize("rule", RULES)
@pytest.mark.parametrize("x", [np.zeros(0), np.ones(1), np.full(9, 3.0)], ids=["none", "one", "constant"])
def test_rules_without_spread_give_no_width_but_edges(rule, x):
    assert rule_width(x, rule) == 0.0
    edges = chosen_edges(x, rule=rule)
    assert (np.diff(edges) > 0).all()


def test_bins_far_from_zero_keep_their_values():
    x = 1e9 + RNG.uniform(0, 1, 400)
    edges = chosen_edges(x)
    assert len(edges) > 4
    assert counted(x, edges).weight.sum() == 400


def test_edges_lie_at_multiples_of_the_width():
    assert even_edges(-0.7, 1.2, 0.5).tolist() == [-1.0, -0.5, 0.0, 0.5, 1.0, 1.5]
    assert len(even_edges(0, 1e9, 1e-3)) <= 2002


@pytest.mark.parametrize("rule", ["scott", "silverman"])
@pytest.mark.parametrize("weighted", [False, True])
def test_density_equals_scipys(rule, weighted):
    x, at = RNG.gamma(2, 3, 200), np.linspace(-5, 30, 300)
    w = RNG.random(200) if weighted else None
    theirs = scipy.stats.gaussian_kde(x, rule, weights=w)
    width = bandwidth(x, rule, w)
    assert width == pytest.approx(math.sqrt(theirs.covariance[0, 0]), rel=1e-12)
    assert np.allclose(kernel_density(x, at, width, w), theirs(at), rtol=1e-12, atol=1e-14)


@given(spread, scales, shifts)
def test_density_follows_shift_and_scale(x, scale, shift):
    """f_{aX+b}(ax + b) = f_X(x) / a."""
    at = np.linspace(x.min(), x.max(), 9)
    width = bandwidth(x)
    moved = x * scale + shift
    assert bandwidth(moved) == pytest.approx(width * scale, rel=1e-6)
    assert np.allclose(kernel_density(moved, at * scale + shift, width * scale) * scale, kernel_density(x, at, width), atol=1e-6)


def test_the_convolution_is_near_the_exact_sum():
    x = np.concatenate([RNG.normal(0, 1, 60_000), RNG.normal(6, 0.2, 20_000)])
    at, width = np.linspace(-6, 9, 101), 0.05
    exact = np.zeros(len(at))
    for value in np.array_split(x, 40):
        exact += np.exp(-0.5 * ((at[:, None] - value) / width) ** 2).sum(axis=1)
    exact /= len(x) * width * math.sqrt(2 * math.pi)
    assert np.abs(kernel_density(x, at, width) - exact).max() < 1e-3 * exact.max()


@pytest.mark.parametrize("count", [60, 50_000])
def test_density_within_bounds_integrates_to_one_and_stays_inside(count):
    x = RNG.exponential(1, count)
    at = np.linspace(0, 15, 4001)
    value = kernel_density(x, at, 0.3, low=0.0)
    assert integrate.trapezoid(value, at) == pytest.approx(1, abs=2e-3)
    assert (kernel_density(x, np.array([-0.1, -1.0]), 0.3, low=0.0) == 0).all()


@pytest.mark.parametrize("x", [np.zeros(0), np.ones(1), np.full(5, 2.0), np.full(3, 7.1)])
def test_a_sample_without_spread_has_no_curve(x):
    assert len(density_curve(x, bandwidth(x)).at) == 0


def test_effective_size():
    assert effective_size(np.ones(7)) == pytest.approx(7)
    assert effective_size(np.array([1.0, 0, 0])) == pytest.approx(1)


def test_a_surface_integrates_to_one_and_follows_the_exact_product_kernel():
    x, y = RNG.normal(size=400), RNG.normal(size=400)
    surface = density_surface(x, y, 0.4, 0.3)
    steps = np.diff(surface.x[:2])[0] * np.diff(surface.y[:2])[0]
    assert surface.value.sum() * steps == pytest.approx(1)
    row, column = 60, 70
    kernel = np.exp(-0.5 * ((surface.x[column] - x) / 0.4) ** 2 - 0.5 * ((surface.y[row] - y) / 0.3) ** 2)
    exact = kernel.mean() / (2 * math.pi * 0.4 * 0.3)
    assert surface.value[row, column] == pytest.approx(exact, rel=0.02)


@pytest.mark.parametrize("far", [[], [8.0], [1000.0], [50.0, -300.0, 1e6]])
def test_contour_levels_enclose_the_share_of_rows_that_they_say(far):
    rng = np.random.default_rng(5)
    x, y = (np.append(rng.normal(size=1500), far) for _ in "xy")
    widths = robust_bandwidth(x, 1 / 6), robust_bandwidth(y, 1 / 6)
    surface = density_surface(x, y, *widths)
    shares = np.array([0.1, 0.5, 0.9])
    distance_x, distance_y = ((one[:, None] - one[None, :]) / width for one, width in zip((x, y), widths, strict=True))
    for share, level in zip(shares, enclosing_levels(surface, x, y, shares), strict=True):
        exact = np.exp(-0.5 * (distance_x**2 + distance_y**2)).mean(axis=1) / (2 * math.pi * widths[0] * widths[1])
        assert (exact >= level).mean() == pytest.approx(share, abs=0.005)


@pytest.mark.parametrize(("size", "far"), [(400, 1e12), (40_000, 1e12), (40_000, 300.0), (400, 60.0)])
def test_a_density_keeps_its_peak_beside_a_far_value(size, far):
    rng = np.random.default_rng(3)
    x = np.append(rng.normal(size=size), far)
    curve = density_curve(x, 0.3)
    assert np.trapezoid(curve.value, curve.at) == pytest.approx(1, abs=1e-3)
    places = np.linspace(-3, 3, 41)
    exact = np.array([scipy.stats.norm.pdf(place, x, 0.3).mean() for place in places])
    assert np.abs(kernel_density(x, places, 0.3) - exact).max() < 1e-3 * exact.max()
    assert np.abs(np.interp(places, curve.at, curve.value) - exact).max() < 1e-2 * exact.max()


@pytest.mark.parametrize("kind", NUMPY_NAMES)
@given(samples, st.lists(st.sampled_from([0, 0.1, 0.25, 0.5, 0.73, 0.9, 1.0]), min_size=1, max_size=5))
def test_all_nine_quantiles_equal_numpys(kind, x, shares):
    expected = np.quantile(x, shares, method=NUMPY_NAMES[kind])
    assert np.allclose(quantiles(x, np.array(shares), kind), expected, rtol=1e-9, atol=1e-9)


def test_quantiles_of_nothing_are_missing_and_types_are_checked():
    assert np.isnan(quantiles(np.zeros(0), np.array([0.5]))).all()
    with pytest.raises(ValueError, match="1 to 9"):
        quantiles(np.ones(3), np.array([0.5]), 10)


weighted = samples.flatmap(
    lambda x: st.tuples(
        st.just(x), st.lists(st.integers(1, 9), min_size=len(x), max_size=len(x)).map(lambda w: np.array(w, float))
    )
)


@given(samples, st.floats(0.01, 1e6))
def test_equal_weights_give_the_quantiles_of_the_default_type_exactly(x, weight):
    shares = np.array([0.0, 0.2, 0.25, 0.5, 0.8, 1.0])
    assert np.array_equal(weighted_quantiles(x, np.full(len(x), weight), shares), quantiles(x, shares))
    nearly = np.full(len(x), weight)
    nearly[0] = np.nextafter(weight, 2 * weight)
    assert np.allclose(weighted_quantiles(x, nearly, shares), quantiles(x, shares), atol=1e-9 * max(1, np.abs(x).max()))


@given(weighted, st.floats(1e-3, 1e3), st.randoms())
def test_weighted_quantiles_follow_neither_the_unit_of_weights_nor_the_order_of_rows(pair, factor, random):
    x, w = pair
    shares = np.linspace(0, 1, 11)
    found = weighted_quantiles(x, w, shares)
    order = list(range(len(x)))
    random.shuffle(order)
    slack = 1e-9 * max(1.0, np.abs(x).max())
    assert np.allclose(weighted_quantiles(x, w * factor, shares), found, atol=slack)
    assert np.allclose(weighted_quantiles(x[order], w[order], shares), found, atol=slack)
    assert (np.diff(found) >= -slack).all()
    assert x.min() <= found[0] <= found[-1] <= x.max()


@given(weighted)
def test_a_weighted_quantile_is_the_mean_of_a_stretch_of_the_steps(pair):
    x, w = pair
    shares = [0.0, 0.1, 0.25, 0.5, 0.8, 1.0]
    # In fractions, row by row: what each step holds of [(h - 1)/n, h/n].
    whole = [Fraction(int(value)) for value in w]
    size = sum(whole) ** 2 / sum(value**2 for value in whole)
    rows = sorted(zip(x.tolist(), whole, strict=True))
    expected = []
    for share in shares:
        h = Fraction(share) * (size - 1) + 1
        low, high, start, total = (h - 1) / size, h / size, Fraction(0), Fraction(0)
        for value, mass in rows:
            end = start + mass / sum(whole)
            total += Fraction(value) * max(min(end, high) - max(start, low), Fraction(0))
            start = end
        expected.append(float(total * size))
    assert weighted_quantiles(x, w, np.array(shares)) == pytest.approx(expected, rel=1e-9, abs=1e-9 * max(1, np.abs(x).max()))


@pytest.mark.parametrize(("x", "w", "median"), [([1, 2, 3, 100], [1, 1, 1, 1000], 99.9994), ([1, 2, 3, 10], [1, 1, 5, 1], 3.0)])
def test_a_median_lies_where_the_weight_is(x, w, median):
    found = weighted_quantiles(np.array(x, float), np.array(w, float), np.array([0.5]))
    assert found == pytest.approx([median], abs=5e-5)


@given(samples.filter(lambda x: len(x) > 1))
def test_equal_weights_change_no_box(x):
    plain, weighed = box(x), box(x, weights=np.full(len(x), 3.0))
    for name in ("whisker_low", "q1", "median", "q3", "whisker_high", "notch_low", "notch_high"):
        assert getattr(plain, name) == pytest.approx(getattr(weighed, name), abs=1e-9 * max(1.0, np.abs(x).max()))


@given(samples)
def test_two_samples_pair_all_rows_and_one_lies_on_the_identity_with_itself(x):
    pairs = paired_quantiles(x, x[::-1])
    assert np.array_equal(pairs.first, pairs.second)
    assert np.array_equal(pairs.first, np.sort(x))
    both = paired_quantiles(x, np.append(x, [1.0, 2.0]))
    assert np.array_equal(both.second, np.sort(np.append(x, [1.0, 2.0])))
    assert np.array_equal(both.first, quantiles(x, plotting_positions(len(x) + 2), 9))


@given(samples)
def test_equal_weights_give_the_plotting_positions(x):
    ordered, shares = weighted_positions(x, np.full(len(x), 7.0))
    assert np.array_equal(ordered, np.sort(x))
    assert shares == pytest.approx((np.arange(1, len(x) + 1) - 3 / 8) / (len(x) + 1 / 4))


def box(x, whiskers="1.5 iqr", weights=None):
    """The numbers of the box that the layer makes of one sample, and what lies beyond its whiskers."""
    columns = {"y": x} if weights is None else {"y": x, "weight": weights}
    table = Boxes(whiskers=whiskers).compute(InMemory(Columns.of(columns)), Context("test"))
    names = ("whisker_low", "q1", "median", "q3", "whisker_high", "notch_low", "notch_high")
    return SimpleNamespace(**{name: float(table[name][0]) for name in names}, outliers=table["y"][1:])


@given(samples)
def test_boxes_follow_their_definition(x):
    found = box(x)
    lower, median, upper = np.quantile(x, [0.25, 0.5, 0.75])
    assert (found.q1, found.median, found.q3) == pytest.approx((lower, median, upper))
    reach = 1.5 * (upper - lower)
    inside = x[(x >= lower - reach) & (x <= upper + reach)]
    assert found.whisker_low == pytest.approx(min(inside.min(), lower))
    assert found.whisker_high == pytest.approx(max(inside.max(), upper))
    assert len(found.outliers) == ((x < found.whisker_low) | (x > found.whisker_high)).sum()


def test_whiskers_of_boxes():
    x = np.arange(101.0)
    assert (box(x, "range").whisker_low, box(x, "range").whisker_high) == (0, 100)
    assert (box(x, (5, 95)).whisker_low, box(x, (5, 95)).whisker_high) == (5, 95)
    one = box(np.array([4.0]))
    assert (one.whisker_low, one.median, one.whisker_high, one.notch_low) == (4, 4, 4, 4)


@given(samples)
def test_the_empirical_distribution_is_the_share_at_or_below(x):
    found = Cumulative().compute(InMemory(Columns.of({"x": x})), Context("test"))
    assert found["share"][0] == 0
    assert np.allclose(found["share"][1:], [(x <= value).mean() for value in found["x"][1:]])


def test_plotting_positions_and_theory():
    assert plotting_positions(5) == pytest.approx((np.arange(1, 6) - 3 / 8) / (5 + 0.25))
    shares = np.array([0.1, 0.5, 0.9])
    assert theoretical_quantiles(shares, "normal") == pytest.approx(scipy.stats.norm.ppf(shares))
    assert theoretical_quantiles(shares, "exponential") == pytest.approx(scipy.stats.expon.ppf(shares))
    assert theoretical_quantiles(shares, "uniform") == pytest.approx(shares)
    with pytest.raises(ValueError, match="gumbel"):
        theoretical_quantiles(shares, "gumbel")
    theory = theoretical_quantiles(plotting_positions(400), "normal")
    ends = quantiles(theory, np.array([0.25, 0.75]))
    assert quartile_line(ends, 3 + 2 * ends) == pytest.approx((3, 2))


@pytest.mark.parametrize("level", [0.5, 0.9, 0.95, 0.99])
def test_t_intervals_equal_scipys(level):
    x = RNG.normal(5, 2, 23)
    expected = scipy.stats.t.interval(level, 22, loc=x.mean(), scale=scipy.stats.sem(x))
    assert interval(x, level=level)[1:] == pytest.approx(expected, rel=1e-12)


def test_reaches():
    x = RNG.normal(5, 2, 40)
    error = scipy.stats.sem(x)
    assert interval(x, reach="std_error").high - x.mean() == pytest.approx(error)
    assert interval(x, reach="std_dev").high - x.mean() == pytest.approx(x.std(ddof=1))
    assert interval(x, "median", "quartiles") == pytest.approx(np.quantile(x, [0.5, 0.25, 0.75]))
    assert interval(x, reach="range")[1:] == (x.min(), x.max())


def test_the_bootstrap_is_seeded_and_near_the_formula():
    x = RNG.normal(0, 1, 200)
    one, again = interval(x, draws=4000), interval(x[::-1], draws=4000)
    assert one[1:] == pytest.approx(again[1:])
    assert one[1:] == pytest.approx(interval(x)[1:], abs=0.03)


def test_the_interval_of_a_median_covers_as_it_says():
    rng = np.random.default_rng(5)
    hits = 0
    for _ in range(600):
        found = interval(rng.exponential(1, 25), "median")
        hits += found.low <= math.log(2) <= found.high
    assert hits / 600 >= 0.94


def test_centers_of_nothing_of_one_and_of_two():
    assert all(math.isnan(value) for value in interval(np.zeros(0)))
    one = interval(np.array([3.0]))
    assert one.center == 3
    assert math.isnan(one.low)
    two = interval(np.array([1.0, 3.0]))
    assert two[1:] == pytest.approx(scipy.stats.t.interval(0.95, 1, loc=2, scale=1))
    for wrong in ({"around": "mode"}, {"reach": "far"}):
        with pytest.raises(ValueError):
            interval(np.ones(3), **wrong)


def test_means_far_from_zero_keep_their_digits():
    x = 1e9 + np.array([0.125, 0.25, 0.375])
    assert center(x, "mean") - 1e9 == 0.25
    assert center(x, "median") - 1e9 == 0.25
    assert standard_deviation(x) == 0.125


def certified(x, y, degree):
    """Coefficients by normal equations with 50 digits."""
    with mpmath.workdps(50):
        design = mpmath.matrix([[mpmath.mpf(float(value)) ** power for power in range(degree + 1)] for value in x])
        target = mpmath.matrix([mpmath.mpf(float(value)) for value in y])
        solved = mpmath.lu_solve(design.T * design, design.T * target)
        return np.array([float(value) for value in solved])


def test_a_straight_line_has_the_certified_coefficients_and_errors():
    x, y = RNG.uniform(0, 10, 30), RNG.normal(0, 1, 30)
    fit = least_squares(x, y, x)
    assert fit.coefficients == pytest.approx(certified(x, y, 1), rel=1e-12)
    theirs = scipy.stats.linregress(x, y)
    at_zero = least_squares(x, y, np.array([0.0]))
    assert at_zero.error[0] == pytest.approx(theirs.intercept_stderr, rel=1e-10)
    assert fit.explained == pytest.approx(theirs.rvalue**2, rel=1e-10)
    low, high = at_zero.band(0.95)
    half = scipy.stats.t.ppf(0.975, 28) * theirs.intercept_stderr
    assert (high - low)[0] / 2 == pytest.approx(half, rel=1e-10)


@pytest.mark.parametrize(("degree", "low", "high"), [(5, 0.0, 20.0), (10, -9.0, -3.0), (3, 1e6, 1e6 + 10), (2, 1e9, 1e9 + 5)])
def test_ill_conditioned_polynomials_fit_as_the_certified_ones_do(degree, low, high):
    x = np.linspace(low, high, 60)
    u = (x - low) / (high - low)
    y = 1 + u - 2 * u**2 + 0.5 * u**degree + 0.01 * np.sin(37 * u)
    ours = least_squares(x, y, x, degree)
    exact = certified(u, y, degree)
    expected = np.polynomial.polynomial.polyval(u, exact)
    assert np.abs(ours.value - expected).max() < 1e-8


def test_weights_count_like_repeated_rows():
    x, y = RNG.uniform(0, 5, 12), RNG.normal(size=12)
    times = RNG.integers(1, 5, 12)
    weighted = least_squares(x, y, x, 1, times.astype(float))
    repeated = least_squares(np.repeat(x, times), np.repeat(y, times), x)
    assert weighted.coefficients == pytest.approx(repeated.coefficients, rel=1e-9)


@given(spread, scales, shifts)
def test_lines_follow_shift_and_scale(x, scale, shift):
    y = np.sin(x)
    if len(np.unique(x)) < 3:
        return
    at = np.linspace(x.min(), x.max(), 5)
    fit, moved = least_squares(x, y, at), least_squares(x * scale + shift, 3 * y - 1, at * scale + shift)
    assert np.allclose(moved.value, 3 * fit.value - 1, atol=1e-6)
    assert np.allclose(moved.error, 3 * fit.error, atol=1e-6, equal_nan=True)


@pytest.mark.parametrize("fit", [least_squares, robust, quantile_line])
def test_a_line_needs_two_different_x(fit):
    with pytest.raises(ValueError, match="different x"):
        fit(np.ones(4), np.arange(4.0), np.ones(1))


def test_a_line_through_two_points_has_no_error():
    fit = least_squares(np.array([0.0, 1]), np.array([1.0, 3]), np.array([2.0]))
    assert fit.value[0] == pytest.approx(5)
    assert np.isnan(fit.error).all()
    assert np.isnan(fit.band(0.95)[0]).all()


def test_the_robust_line_satisfies_hubers_equations():
    rng = np.random.default_rng(21)
    x = rng.uniform(0, 10, 80)
    y = 2 + 3 * x + rng.normal(0, 0.5, 80)
    y[:8] += 40
    fit = robust(x, y, x)
    residual = y - fit.value
    scale = np.median(np.abs(residual - np.median(residual))) / scipy.stats.norm.ppf(0.75)
    score = np.clip(residual / scale, -1.345, 1.345)
    assert abs(score.sum()) < 1e-6 * 80
    assert abs(score @ x) < 1e-5 * 80
    assert fit.coefficients == pytest.approx([2, 3], abs=0.3)


def test_the_robust_line_without_outliers_is_least_squares():
    x = np.arange(10.0)
    assert robust(x, 4 - 2 * x, x).coefficients == pytest.approx([4, -2])


@pytest.mark.parametrize("share", [0.1, 0.5, 0.9])
def test_the_quantile_line_minimises_its_loss(share):
    x, noise = RNG.uniform(0, 10, 90), RNG.exponential(1, 90)
    y = 1 + 0.5 * x + noise

    def loss(line):
        residual = y - line[0] - line[1] * x
        return np.where(residual > 0, share * residual, (share - 1) * residual).sum()

    fit = quantile_line(x, y, x, share)
    ours = loss(fit.coefficients)
    found = optimize.minimize(
        loss, fit.coefficients + 0.05, method="Nelder-Mead", options={"xatol": 1e-9, "fatol": 1e-12, "maxiter": 4000}
    )
    assert ours <= found.fun + 1e-9
    assert (y < fit.value - 1e-9).sum() <= share * 90 <= (y <= fit.value + 1e-9).sum()


def test_the_logistic_curve_is_where_the_likelihood_is_flat():
    x = RNG.normal(3, 2, 300)
    y = (RNG.random(300) < 1 / (1 + np.exp(-(x - 3)))).astype(float)
    found = logistic(x, y, x)
    assert found.settled
    assert abs((y - found.value).sum()) < 1e-8
    assert abs((y - found.value) @ x) < 1e-7
    assert ((found.low < found.value) & (found.value < found.high)).all()


def test_separated_outcomes_have_no_band():
    x = np.arange(10.0)
    found = logistic(x, (x > 4.5).astype(float), x)
    assert not found.settled
    assert np.isnan(found.low).all()
    with pytest.raises(ValueError, match="0 and 1"):
        logistic(x, x, x)


def direct_loess(x, y, at, span, degree):
    """A local regression at every place, by least squares on the nearest rows alone."""
    out = []
    for place in at:
        distance = np.abs(x - place)
        near = np.argsort(distance, kind="stable")[: math.ceil(span * len(x))]
        reach = distance[near].max() * max(span, 1.0)
        root = np.sqrt((1 - np.minimum(distance[near] / reach, 1) ** 3) ** 3)
        design = np.vander(x[near] - place, degree + 1, increasing=True)
        out.append(np.linalg.lstsq(design * root[:, None], y[near] * root, rcond=None)[0][0])
    return np.array(out)


@pytest.mark.parametrize("degree", [0, 1, 2])
@pytest.mark.parametrize("span", [0.3, 0.75, 1.5])
def test_loess_equals_a_direct_local_regression(degree, span):
    x = np.sort(RNG.uniform(0, 10, 60))
    y = np.sin(x) + RNG.normal(0, 0.2, 60)
    at = np.linspace(0.1, 9.9, 25)
    full = min(span, 1.0)
    expected = (
        direct_loess(x, y, at, full if span <= 1 else span, degree) if span <= 1 else direct_loess_wide(x, y, at, span, degree)
    )
    assert np.allclose(loess(x, y, at, span, degree).value, expected, atol=1e-8)


def direct_loess_wide(x, y, at, span, degree):
    out = []
    for place in at:
        distance = np.abs(x - place)
        root = np.sqrt((1 - (distance / (distance.max() * span)) ** 3) ** 3)
        design = np.vander(x - place, degree + 1, increasing=True)
        out.append(np.linalg.lstsq(design * root[:, None], y * root, rcond=None)[0][0])
    return np.array(out)


def test_loess_errors_are_those_of_its_smoother_matrix():
    x = np.sort(RNG.uniform(0, 10, 40))
    y = np.cos(x) + RNG.normal(0, 0.3, 40)
    matrix = np.array([loess(x, row, x, 0.6, 1).value for row in np.eye(40)]).T
    delta = np.trace((np.eye(40) - matrix) @ (np.eye(40) - matrix).T)
    sigma2 = ((y - matrix @ y) ** 2).sum() / delta
    fit = loess(x, y, x, 0.6, 1)
    assert fit.freedom == pytest.approx(delta, rel=1e-8)
    assert np.allclose(fit.error, np.sqrt(sigma2 * (matrix**2).sum(axis=1)), rtol=1e-8)


def test_loess_of_many_rows_is_near_that_of_all():
    x = np.sort(RNG.uniform(0, 10, 1400))
    y = np.sin(x) + RNG.normal(0, 0.2, 1400)
    exact = loess(x, y, np.array([2.0, 5.0]), 0.4)
    doubled = loess(np.repeat(x, 2), np.repeat(y, 2), np.array([2.0, 5.0]), 0.4)
    assert doubled.value == pytest.approx(exact.value, abs=0.01)


def test_loess_reproduces_polynomials_and_survives_ties():
    x = np.repeat(np.arange(6.0), 5)
    assert np.allclose(loess(x, 2 + x - x**2, x, 0.9, 2).value, 2 + x - x**2, atol=1e-7)
    assert np.isfinite(loess(x, np.sin(x), x, 0.2, 2).value).all()
    with pytest.raises(ValueError, match="different x"):
        loess(np.ones(5), np.ones(5), np.ones(1), degree=1)


def test_slopes_are_compared_by_welch():
    x, one, two = RNG.normal(size=40), RNG.normal(size=40), RNG.normal(size=25)
    fits = [least_squares(x, 2 * x + one, x), least_squares(x[:25], 3 * x[:25] + two, x)]
    theirs = [scipy.stats.linregress(x, 2 * x + one), scipy.stats.linregress(x[:25], 3 * x[:25] + two)]
    found = compared_slopes(*fits)
    error = math.hypot(theirs[0].stderr, theirs[1].stderr)
    freedom = error**4 / (theirs[0].stderr ** 4 / 38 + theirs[1].stderr ** 4 / 23)
    difference = theirs[1].slope - theirs[0].slope
    assert found.difference == pytest.approx(difference)
    assert found.p == pytest.approx(2 * scipy.stats.t.sf(abs(difference / error), freedom))
    assert found.high - found.low == pytest.approx(2 * scipy.stats.t.ppf(0.975, freedom) * error)
    assert fits[0].slope_p == pytest.approx(theirs[0].pvalue)


@pytest.mark.parametrize("degree", [1, 2])
def test_robust_errors_are_the_third_kind_of_their_formula(degree):
    x = RNG.uniform(0, 10, 40)
    y = 2 * x + x * RNG.normal(size=40)
    design = np.vander(x, degree + 1, increasing=True)
    inverse = np.linalg.inv(design.T @ design)
    residual = y - design @ inverse @ design.T @ y
    leverage = np.einsum("ij,jk,ik->i", design, inverse, design)
    covariance = inverse @ design.T @ np.diag((residual / (1 - leverage)) ** 2) @ design @ inverse
    at = np.array([0.0, 4.0])
    rows = np.vander(at, degree + 1, increasing=True)
    fit = least_squares(x, y, at, degree, robust_errors=True)
    assert fit.error == pytest.approx(np.sqrt(np.einsum("ij,jk,ik->i", rows, covariance, rows)), rel=1e-7)
    if degree == 1:
        assert fit.slope_error == pytest.approx(math.sqrt(covariance[1, 1]), rel=1e-7)


def test_a_prediction_band_holds_one_more_value():
    x, y = RNG.normal(size=30), RNG.normal(size=30)
    fit = least_squares(x, y, np.array([0.3]))
    low, high = fit.band(0.9, "prediction")
    sigma2 = ((y - np.polyval(np.polyfit(x, y, 1), x)) ** 2).sum() / 28
    spread = math.sqrt(sigma2 * (1 + 1 / 30 + (0.3 - x.mean()) ** 2 / ((x - x.mean()) ** 2).sum()))
    assert (high - low)[0] / 2 == pytest.approx(scipy.stats.t.ppf(0.95, 28) * spread)


@pytest.mark.parametrize("method", ["linear", "robust", "quantile", "logistic", "loess", "moving"])
def test_rescaling_all_weights_changes_no_fit(method):
    rng = np.random.default_rng(8)
    x, w = np.sort(rng.normal(size=60)), rng.uniform(0.5, 4, 60)
    y = (rng.random(60) < 1 / (1 + np.exp(-x))).astype(float) if method == "logistic" else x + rng.normal(size=60)
    at = np.linspace(-1, 1, 5)

    def numbers(weights):
        if method == "moving":
            return moving_average(x, y, 6, weights)[1]
        if method == "loess":
            fit = loess(x, y, at, weights=weights)
            return np.concatenate([fit.value, fit.error])
        call = {"linear": least_squares, "robust": robust, "quantile": quantile_line, "logistic": logistic}[method]
        fit = call(x, y, at, weights=weights)
        return np.concatenate([fit.value, fit.low if method == "logistic" else fit.error])

    assert np.allclose(numbers(w), numbers(250 * w), rtol=1e-8, equal_nan=True)
    assert np.allclose(numbers(None), numbers(np.full(60, 3.0)), rtol=1e-8, equal_nan=True)
    assert not np.allclose(numbers(None), numbers(w), rtol=1e-3, equal_nan=True)


@pytest.mark.parametrize("far", [400.0, 1000.0])
def test_a_far_value_does_not_stop_the_logistic_search(far):
    rng = np.random.default_rng(2)
    x = rng.normal(size=300)
    y = (rng.random(300) < 1 / (1 + np.exp(-(0.3 + 1.95 * x)))).astype(float)
    x, y = np.append(x, far), np.append(y, 1.0)
    found = logistic(x, y, np.linspace(-2, 2, 5))

    def loss(line):
        eta = line[0] + line[1] * x
        return -(y * eta - np.logaddexp(0, eta)).sum()

    theirs = optimize.minimize(loss, [0, 1], method="Nelder-Mead", options={"xatol": 1e-10, "fatol": 1e-13, "maxiter": 9000}).x
    assert found.settled
    assert found.coefficients == pytest.approx(theirs, abs=1e-5)
    assert (found.high - found.low > 0).all()


@pytest.mark.parametrize("far", [None, 1e7])
@pytest.mark.parametrize("share", [0.1, 0.5, 0.8])
def test_quantile_lines_reach_the_least_loss_of_a_linear_programme(share, far):
    rng = np.random.default_rng(12)
    x, y = np.round(rng.normal(size=60), 1), rng.normal(size=60)
    w = rng.integers(1, 5, 60).astype(float)
    if far is not None:
        y[7] = far

    def loss(line, weights):
        residual = y - line[0] - line[1] * x
        return (weights * np.where(residual > 0, share * residual, (share - 1) * residual)).sum()

    for weights in (np.ones(60), w):
        plain = np.column_stack([np.ones(60), x])
        cost = np.concatenate([[0, 0], share * weights, (1 - share) * weights])
        rows = np.column_stack([plain, np.eye(60), -np.eye(60)])
        theirs = optimize.linprog(cost, A_eq=rows, b_eq=y, bounds=[(None, None)] * 2 + [(0, None)] * 120)
        ours = quantile_line(x, y, x, share, weights)
        assert ours.settled
        assert loss(ours.coefficients, weights) <= theirs.fun * (1 + 1e-9) + 1e-9


@given(st.integers(0, 200), st.integers(1, 200))
def test_wilson_intervals_equal_scipys(hits, misses):
    x = np.repeat([1.0, 0.0], [hits, misses])
    theirs = scipy.stats.binomtest(hits, hits + misses).proportion_ci(0.95, "wilson")
    assert interval(x, "share")[1:] == pytest.approx((theirs.low, theirs.high), abs=1e-12)


@pytest.mark.parametrize("around", ["mean", "median"])
def test_corrected_bootstrap_intervals_are_near_scipys(around):
    x = np.random.default_rng(4).lognormal(size=60)
    theirs = scipy.stats.bootstrap(
        (x,), np.mean if around == "mean" else np.median, n_resamples=20000, method="BCa", rng=np.random.default_rng(1)
    ).confidence_interval
    ours = interval(x, around, draws=20000)
    assert ours[1:] == pytest.approx((theirs.low, theirs.high), rel=0.04)
    plain = interval(x, around, draws=20000, bootstrap="percentile")
    assert plain.high < ours.high or around == "median"


def test_weights_of_one_change_no_interval_and_no_unit_of_weights_does():
    rng = np.random.default_rng(6)
    x, w = rng.normal(3, 1, 40), rng.uniform(0.2, 3, 40)
    for around, reach in (("mean", "confidence"), ("mean", "std_error"), ("mean", "std_dev"), ("median", "quartiles")):
        assert interval(x, around, reach, weights=np.ones(40)) == pytest.approx(interval(x, around, reach))
        assert interval(x, around, reach, weights=w) == pytest.approx(interval(x, around, reach, weights=90 * w))
    size = w.sum() ** 2 / (w**2).sum()
    mean = np.average(x, weights=w)
    spread = math.sqrt(np.average((x - mean) ** 2, weights=w) * size / (size - 1))
    expected = scipy.stats.t.interval(0.95, size - 1, loc=mean, scale=spread / math.sqrt(size))
    assert interval(x, weights=w)[1:] == pytest.approx(expected)


@given(spread, st.integers(1, 9))
def test_moving_averages_are_means_of_neighbours(x, window):
    y = np.cos(np.arange(len(x)))
    at, found = moving_average(x, y, window)
    order = np.argsort(x, kind="stable")
    # Rows of one x stand for their mean, and their averages too.
    means = {value: y[x == value].mean() for value in x.tolist()}
    ordered = np.array([means[value] for value in x[order].tolist()])
    plain = []
    for place in range(len(x)):
        # An even window takes half of the row at either end.
        share = np.clip((window + 1) / 2 - np.abs(np.arange(len(x)) - place), 0, 1)
        plain.append(np.average(ordered, weights=share))
    for place, value in enumerate(at.tolist()):
        assert found[place] == pytest.approx(np.mean(np.array(plain)[at == value]), abs=1e-9)
    turned = np.random.default_rng(3).permutation(len(x))
    assert moving_average(x[turned], y[turned], window)[1] == pytest.approx(found, abs=1e-9)


def test_squares_equal_numpys():
    x, y, w = RNG.normal(size=3000), RNG.normal(size=3000), RNG.random(3000)
    ex, ey = np.linspace(-2, 2, 17), np.linspace(-3, 1, 9)
    assert np.array_equal(counted_squares(x, y, ex, ey), np.histogram2d(y, x, [ey, ex])[0])
    assert np.allclose(counted_squares(x, y, ex, ey, w), np.histogram2d(y, x, [ey, ex], weights=w)[0])


@given(samples, st.floats(0.5, 50), st.floats(0.5, 50))
def test_hexagons_hold_every_value_in_the_nearest(x, width, height):
    y = np.cos(x) * 40
    found = counted_hexagons(x, y, width, height)
    assert found.weight.sum() == len(x)
    assert np.bincount(found.cell).sum() == len(x)
    # No other center is nearer, on paper where a row is √3/2 of a column.
    far = ((x[:, None] - found.x[None, :]) / width) ** 2 + 0.75 * ((y[:, None] - found.y[None, :]) / height) ** 2
    own = far[np.arange(len(x)), found.cell]
    assert (own <= far.min(axis=1) + 1e-6).all()


def test_a_surface_of_times_a_microsecond_apart_keeps_its_steps():
    near = np.array([0.0, 1, 2, 3, 4, 5])
    found = density_surface(near, near[::-1].copy(), 1.5, 1.5)
    far = density_surface(near + 1.9e15, near[::-1] + 1.9e15, 1.5, 1.5)
    np.testing.assert_allclose(far.value, found.value, rtol=1e-6, atol=1e-12)
    np.testing.assert_allclose(far.x - 1.9e15, found.x, atol=0.5)
