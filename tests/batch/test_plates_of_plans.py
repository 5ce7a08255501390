"""Plates in plans: figures of the plan set together."""

import re

import numpy as np
import pytest
from PIL import Image

import facetine as ft
from facetine.batch.models import FigurePlan
from facetine.batch.runner import export_plan
from facetine.messages.errors import PlanError

PLAN = """
[plan]
formats = ["pdf"]

[data.wheels]
file = "wheels.csv"

[figure.aging]
data = "wheels"
map = { x = "age_days", y = "firmness_n", color = "rind" }
layers = [{ points = { size = 2 } }]

[figure.boxes]
data = "wheels"
alone = false
map = { x = "rind", y = "ph", color = "rind" }
layers = ["boxes"]

[plate.both]
rows = [["aging", ["boxes", { picture = "rind.png" }]], ["aging", ""]]
letters = "A"
share_legend = true
titles = "Both"
theme = { text_size = 7 }
same_scale = []
"""


@pytest.fixture
def folder(tmp_path):
    import pandas as pd

    pd.DataFrame(ft.demo_data("wheels")).to_csv(tmp_path / "wheels.csv", index=False)
    Image.fromarray(np.zeros((20, 30), "uint8")).save(tmp_path / "rind.png")
    (tmp_path / "plan.toml").write_text(PLAN)
    return tmp_path


def test_a_plate_of_a_plan_holds_its_figures_and_pictures(folder):
    outcomes = export_plan(folder / "plan.toml")
    assert [outcome.name for outcome in outcomes] == ["aging", "both"]
    assert [outcome.error for outcome in outcomes] == [None, None]
    (file,) = outcomes[1].files
    assert file.path.name == "both.pdf"
    assert file.width_mm == pytest.approx(180)
    (alone,) = export_plan(folder / "plan.toml", only="both")
    assert alone.files[0].size == file.size
    (single,) = export_plan(folder / "plan.toml", only="boxes")
    assert single.files


def test_a_plan_holds_every_part_of_a_figure(folder):
    """What `to_dict` writes goes into a plan, and a theme's file stands beside the plan, also for a plate."""
    inner = ft.figure(ft.demo_data("wheels")).map(x="age_days", y="ph").points()
    figure = ft.figure(ft.demo_data("wheels")).keep("age_days > 30").map(x="age_days", y="ph").points().swap_axes().seed(0)
    figure = figure.inset(inner, at=(0.5, 0.5, 1, 1), zoom=False).marginal("top", "rug").panel(ratio=0.5).theme(text_size=7)
    said = FigurePlan(data="wheels", width=120, **figure.to_dict())
    assert said.spec() == figure.to_dict()
    (folder / "house.toml").write_text('name = "press"\ntext_size = 6\n')
    changed = PLAN.replace("theme = { text_size = 7 }", 'theme = "house.toml"').replace(
        'layers = ["boxes"]', 'layers = ["boxes"]\nswap_axes = true\nsteps = [{ keep = "age_days > 30" }]\ninsets = []'
    )
    (folder / "plan.toml").write_text(changed)
    assert [outcome.error for outcome in export_plan(folder / "plan.toml")] == [None, None]


@pytest.mark.parametrize(
    ("old", "new", "match"),
    [
        ('"aging", ["boxes"', '"agin", ["boxes"', "Did you mean 'aging'"),
        ("[plate.both]", "[plate.aging]", "have one name"),
        ("share_legend", "share_legends", "Did you mean 'share_legend'"),
        ("{ picture =", "{ photo =", "is a picture"),
    ],
)
def test_what_a_plate_of_a_plan_gets_wrong_is_named(folder, old, new, match):
    (folder / "plan.toml").write_text(PLAN.replace(old, new))
    assert re.search(match, _said(folder / "plan.toml"))


def _said(plan):
    try:
        outcomes = export_plan(plan)
    except PlanError as error:
        return str(error)
    (failed,) = [outcome.error for outcome in outcomes if outcome.error is not None]
    return str(failed)
