"""Areas on each other show no value where there is none, and the numbers list what is drawn."""

import numpy as np
import pandas as pd
import pytest
from conftest import laid_out, quietly
from hypothesis import given, settings
from hypothesis import strategies as st
from truth.reading import Sheet

import facetine as ft
from facetine.messages.errors import OptionError

KINDS = ["a", "b", "c"]
FULL = pd.DataFrame({"x": np.tile(np.arange(1.0, 9.0), 3), "k": np.repeat(KINDS, 8), "y": np.arange(24.0) % 5 + 1})


def without(lost, *, absent):
    rows = FULL.copy()
    rows.loc[sorted(lost), "y"] = np.nan
    return rows.dropna() if absent else rows


def drawn_at(figure):
    """The x of the upper edge of each area on the paper with its height, read by the ticks: a list for each polygon."""
    sheet = Sheet(figure)
    found = []
    for shape in sheet.paths(1):
        half = len(shape["at"]) // 2
        found.append((np.rint(sheet.read("x", shape["at"][:half, 0])), sheet.read("y", shape["at"][:half, 1])))
    return found


def expected_at(rows, share):
    """By hand: the heights of stacks at each x, and which of them nothing is missing below."""
    table = rows.pivot(index="x", columns="k", values="y").reindex(index=np.arange(1.0, 9.0), columns=KINDS)
    whole = table.notna().all(axis=1).to_numpy()[:, None]
    known = np.broadcast_to(whole, table.shape) if share else table.notna().cumprod(axis=1).to_numpy() > 0
    heights = table.cumsum(axis=1).to_numpy()
    if share:
        heights = heights / table.sum(axis=1).to_numpy()[:, None]
    pieces = []
    for column in range(3):
        run = []
        for row in range(9):
            if row < 8 and known[row, column]:
                run.append((row + 1.0, heights[row, column]))
                continue
            pieces += [run] if len(run) > 1 else []
            run = []
    return pieces


@settings(max_examples=20, deadline=None)
@given(st.sets(st.integers(0, 23), max_size=6), st.booleans(), st.sampled_from(["stack", "share"]))
def test_stacks_break_where_a_value_is_missing_and_an_absent_row_is_one(lost, absent, arrange):
    rows = without(lost, absent=absent)
    figure = ft.figure(rows).map(x="x", y="y", color="k").areas(arrange=arrange)
    pieces = expected_at(rows, arrange == "share")
    found = sorted((x.tolist(), y.tolist()) for x, y in drawn_at(figure))
    wanted = sorted(([x for x, _ in piece], [y for _, y in piece]) for piece in pieces)
    assert [x for x, _ in found] == [x for x, _ in wanted]
    # Half of the last digit of a tick, and what the file rounds.
    tolerance = 0.006 if arrange == "share" else 0.05
    for (_, heights), (_, expected) in zip(found, wanted, strict=True):
        scale = 0.01 if arrange == "share" and max(heights) > 2 else 1
        np.testing.assert_allclose(np.array(heights) * scale, expected, atol=tolerance)
    numbers = quietly(figure.numbers)
    assert not numbers.duplicated(["group", "x"]).any()
    assert len(numbers) == sum(len(piece) for piece in pieces)
    said = [finding for finding in laid_out(figure).findings if finding.code == "stack-gaps"]
    assert len(said) == (len(lost) > 0)
    assert not lost or said[0].text.startswith(f"{len(lost)} place")


@pytest.mark.parametrize("arrange", ["stack", "overlay"])
@pytest.mark.parametrize("absent", [True, False])
def test_gaps_are_zeros_on_request_and_said(arrange, absent):
    figure = ft.figure(without({3, 12}, absent=absent)).map(x="x", y="y", color="k").areas(arrange=arrange, gaps="zero")
    heights = dict(zip(KINDS, drawn_at(figure), strict=True))
    assert heights["a"][1][3] == pytest.approx(0, abs=0.05)
    assert all(len(x) == 8 for x, _ in heights.values())
    assert [finding.text for finding in laid_out(figure).findings if finding.code == "gaps-zero"] == [
        "2 places without a value taken as zero"
    ]
    with pytest.raises(OptionError, match="both say what stands in a gap"):
        laid_out(ft.figure(FULL).map(x="x", y="y", color="k").areas(gaps="zero", bridge=True))


def test_counts_of_no_rows_are_zero():
    rows = pd.DataFrame({"x": [1, 1, 2, 3, 3, 1, 3], "y": np.ones(7), "k": list("aaaaabb")})
    figure = ft.figure(rows).map(x="x", y="y", color="k").areas(aggregate="count")
    heights = drawn_at(figure)
    np.testing.assert_allclose(heights[1][1], [3, 1, 3], atol=0.05)


@pytest.mark.parametrize("verb", ["areas", "bands"])
def test_areas_and_bands_of_their_own_break_at_a_row_without_a_value(verb):
    rows = pd.DataFrame({"x": [1.0, 2, 3, 4, 5], "y": [1.0, 2, np.nan, 2, 1], "low": 0.5})
    mapped = {"y": "y"} if verb == "areas" else {"y_low": "low", "y_high": "y"}
    figure = getattr(ft.figure(rows).map(x="x", **mapped), verb)()
    assert [x.tolist() for x, _ in drawn_at(figure)] == [[1, 2], [4, 5]]


def test_a_band_of_means_breaks_where_no_row_has_a_value():
    rows = pd.DataFrame({"x": np.repeat([1.0, 2, 3, 4, 5], 4), "y": np.arange(20.0) % 7})
    rows.loc[rows["x"] == 3, "y"] = np.nan
    figure = ft.figure(rows).map(x="x", y="y").bands(around="mean")
    assert [x.tolist() for x, _ in drawn_at(figure)] == [[1, 2], [4, 5]]
