"""The sum rule: rows that stand in marks, or entered a result, and rows that were said to be left out are all rows given."""

import os
import re
import warnings

import numpy as np
import pytest
from conftest import laid_out
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from test_any_sentence import sentences

import facetine as ft
from facetine.layers import LAYERS
from facetine.messages.errors import FacetineError
from facetine.scene.marks import Group, Text

MANY = int(os.environ.get("FACETINE_SENTENCES", "1000")) // len(LAYERS)
ROWS = re.compile(r"^([\d,]+) (?:rows?|labels?)\b.*(?:left out|not counted|count nowhere|not shown)")
OTHERS = re.compile(r"([\d,]+) (?:points?|rows?|labels?|ticks?|bars?|cells?|segments?|intervals?|ranges?|dots?) not shown")


def left_out(made, run):
    """How many rows the findings of a layer say are left out."""
    total = 0
    for finding in made.findings:
        if finding.where.startswith(f"figure.{run.layer.verb}"):
            for found in (ROWS.match(finding.text), *OTHERS.finditer(finding.text)):
                if found is not None:
                    total += int(found[1].replace(",", ""))
                    break
    return total


def in_marks(made, run):
    """The rows of a layer that stand in its marks."""
    found = set()

    def walk(group):
        for item in group.items:
            if isinstance(item, Group):
                walk(item)
            elif group.layer == run.number and isinstance(item, Text):
                found.update([] if item.row is None else [item.row])
            elif group.layer == run.number and getattr(item, "rows", None) is not None:
                found.update(item.rows.tolist())

    walk(made.scene.root)
    return found


def entered(run):
    """How many rows entered the results of a layer that counts them; None where its table does not say."""
    table = run.table
    if "count" not in table or "weight" in run.columns:
        return None
    if run.layer.verb == "boxes":
        return float(np.nansum(table["count"][~np.isnan(table["median"])]))
    if run.layer.verb in ("bars", "histogram", "cells", "intervals", "points", "lines"):
        return float(np.nansum(table["count"]))
    return None


@pytest.mark.parametrize("verb", [verb for verb in LAYERS if not LAYERS[verb].explains or verb == "labels"])
def test_every_row_is_shown_or_said_to_be_left_out(verb):
    counted = {"marks": 0, "results": 0}

    @settings(max_examples=MANY, suppress_health_check=list(HealthCheck), deadline=None, derandomize=True, database=None)
    @given(st.data())
    def some(data):
        warnings.simplefilter("ignore", ft.FacetineFinding)
        try:
            figure = data.draw(sentences(verb))
            made = laid_out(figure, "140 mm")
        except FacetineError:
            return
        run = made.runs[0]
        height = figure._sentence.table.height
        if any(axis.window for axis in made.scales.axes.values()) and verb != "points":
            return  # what a window cuts stands in the marks all the same, and is cut by the panel
        said = left_out(made, run)
        if not run.layer.results(run.context.columns):
            shown = len(in_marks(made, run))
            assert shown + said == height, (figure, shown, said, height, made.findings)
            counted["marks"] += 1
        elif (count := entered(run)) is not None:
            assert count + said == pytest.approx(height), (figure, count, said, height, made.findings)
            counted["results"] += 1

    some()
