"""The check: every rule on a figure that breaks it and on one that does not."""

import ast
import io
import json
import subprocess
import sys
from pathlib import Path

import numpy as np
import pandas as pd
import pytest
from conftest import laid_out, quietly, svg_of
from hypothesis import given
from hypothesis import strategies as st

import facetine as ft
from facetine.checks import prints
from facetine.checks.colors import turns
from facetine.checks.profile import profiles
from facetine.checks.rules import every_rule
from facetine.checks.sheet import group_boxes, numbered_sheet
from facetine.checks.spread import hidden_share
from facetine.messages.errors import OptionError
from facetine.messages.findings import Call
from facetine.scene.marks import Markers

RNG = np.random.default_rng(4)
WHEELS = ft.demo_data("wheels")
BOOK = {
    "a": {"label": "A", "unit": "m"},
    "b": {"label": "B", "unit": "s"},
    "y": {"label": "Y", "unit": "g"},
    "x": {"label": "X", "unit": "d"},
}


def of(data, **mapping):
    return ft.figure(data, codebook=BOOK).map(**mapping)


CLOUD = of({"a": RNG.normal(size=60), "b": RNG.normal(size=60)}, x="a", y="b").points(size=2)
DENSE = {"a": RNG.normal(size=3000), "b": RNG.normal(size=3000)}
PAIR = {"a": np.arange(8.0), "b": np.arange(8.0), "k": list("uvuvuvuv")}
SMALL = {"k": ["u", "v"], "a": [0.04, 2.5]}
TWICE = {**PAIR, "c": np.arange(8.0) ** 2}
GROUPS = pd.DataFrame({"k": ["u"] * 40 + ["v"] * 40, "y": RNG.normal(10, 1, 80)})
UNEQUAL = pd.DataFrame({"k": ["u"] * 60 + ["v"] * 6, "y": RNG.normal(10, 1, 66)})
FEW = pd.DataFrame({"k": ["u"] * 40 + ["v"] * 3, "y": RNG.normal(10, 1, 43)})
MEANS = pd.DataFrame({"k": ["u"] * 40 + ["v"] * 2, "y": RNG.normal(10, 1, 42)})
HOLE = {"x": np.concatenate([np.linspace(0, 1, 30), np.linspace(5, 6, 30)]), "y": RNG.normal(size=60)}
FULL = {"x": np.linspace(0, 6, 60), "y": RNG.normal(size=60)}
NOISE = {"x": np.arange(400.0), "y": RNG.normal(size=400)}
SMOOTH = {"x": np.arange(400.0), "y": np.arange(400.0) ** 2}
MANY = {"a": np.arange(9.0), "b": np.arange(9.0), "k": list("abcdefghi")}
APART = pd.DataFrame(
    {"a": np.tile(np.arange(20.0), 2), "b": np.r_[np.arange(20.0), 1000 + np.arange(20.0) * 50], "k": ["u"] * 20 + ["v"] * 20}
)
SKEWED = pd.DataFrame({"k": ["u"] * 4 + ["v"] * 4, "y": [0.5, 1, 9, 30, 10, 11, 12, 13]})
INTERVALS = of(GROUPS, x="k", y="y").intervals()
LEGENDS = of({**PAIR, "m": list("wwzzwwzz")}, x="a", y="b").points()

TINY = of({"k": [f"k{n}" for n in range(15)], "x": list(range(15)), "y": list(range(15))}, x="x", y="y").points().sheet("160 mm")

# Code, a figure that breaks the rule, one that does not, and the profile.
CASES = [
    ("text-small", CLOUD.theme(text_size=5), CLOUD, "print"),
    ("text-small", CLOUD, CLOUD.theme(text_size=14), "slide"),
    ("line-thin", CLOUD.theme(axis_width=0.1), CLOUD, "print"),
    ("line-thin", CLOUD.theme("field", hairline_width=0.1), CLOUD.theme("field"), "print"),
    ("sheet-large", CLOUD.sheet("120 mm"), CLOUD.sheet("85 mm"), "print"),
    ("sheet-large", CLOUD.sheet("85 mm", "250 mm"), CLOUD.sheet("85 mm", "200 mm"), "print"),
    ("text-faint", CLOUD.theme(tick_color="#b0b0b0"), CLOUD, "print"),
    ("mark-faint", CLOUD.points(color="#dddddd"), CLOUD.points(color="#333333"), "print"),
    (
        "colors-alike",
        of(PAIR, x="a", y="b", color="k").points().scale("color", colors={"u": "#c0392b", "v": "#7f6a2b"}),
        of(PAIR, x="a", y="b", color="k").points(),
        "print",
    ),
    (
        "grays-alike",
        of(PAIR, x="a", y="b", color="k").points().scale("color", colors={"u": "#3050c0", "v": "#a03060"}),
        of(PAIR, x="a", y="b", color="k", shape="k").points().scale("color", colors={"u": "#3050c0", "v": "#a03060"}),
        "print",
    ),
    (
        "ramp-uneven",
        of(PAIR, x="a", y="b", color="a").points().scale("color", palette=["#000080", "#00ffff", "#008000", "#ffff00", "#800000"]),
        of(PAIR, x="a", y="b", color="a").points().scale("color", palette=["#f0f0ff", "#8080ff", "#000080"]),
        "print",
    ),
    (
        "color-of-two-meanings",
        ft.plate([[LEGENDS.map(color="k"), LEGENDS.map(color="m")]]),
        ft.plate([[LEGENDS.map(color="k"), LEGENDS.map(color="k")]]),
        "wide",
    ),
    ("format-loses", of(SMALL, x="k", y="a").bars(value_labels="{height:.0f}"),
     of(SMALL, x="k", y="a").bars(value_labels="{height:.2f}"), "print"),
    ("format-loses", of(SMALL, x="k", y="a").bars().scale("y", limits=(0, 2.5), ticks=[0.25, 1.75], format=".0f"),
     of(SMALL, x="k", y="a").bars().scale("y", limits=(0, 2.5), ticks=[0.25, 1.75], format=".2f"), "print"),
    ("layers-alike", of(TWICE, x="a", y="b").points().points(map={"y": "c"}),
     of(TWICE, x="a", y="b").points(legend_as="before").points(map={"y": "c"}, legend_as="after"), "print"),
    ("layers-alike", of(TWICE, x="a", y="b").lines().lines(map={"y": "c"}), ft.plate([[of(TWICE, x="a", y=name).lines() for name in "bc"]]), "wide"),
    ("layers-alike", of(TWICE, x="a", y="b").points().lines(data=PAIR),
     of(TWICE, x="a", y="b").points().lines(data=PAIR, color="#a03060"), "print"),
    ("overplotted", of(DENSE, x="a", y="b").points(), of(DENSE, x="a", y="b").cells(), "print"),
    (
        "text-over-marks",
        of(PAIR, x="a", y="b").points(size=6).callout("over the points", x=3.0, y=3.0),
        of(PAIR, x="a", y="b").points(size=6).callout("beside", x=1.0, y=6.0),
        "print",
    ),
    ("title-long", CLOUD.titles("word " * 90), CLOUD.titles("word"), "print"),
    ("axis-backwards", CLOUD.scale("y", reverse=True), CLOUD.scale("y", reverse=True).titles(y="y, downwards"), "print"),
    ("panels-small", TINY.facet("k", per_row=15), TINY.facet("k", per_row=5), "print"),
    ("line-zigzag", of(NOISE, x="x", y="y").lines(), of(SMOOTH, x="x", y="y").lines(), "print"),
    ("smoothed-over-gap", of(HOLE, x="x", y="y").trend("loess"), of(FULL, x="x", y="y").trend("loess"), "print"),
    ("smoothed-over-gap", of(HOLE, x="x", y="y").trend("loess"), of(HOLE, x="x", y="y").trend("linear"), "print"),
    ("rows-few", of(FEW, x="k", y="y").boxes(), of(GROUPS, x="k", y="y").boxes(), "print"),
    ("rows-few", of(FEW, x="k", y="y").violins(), of(GROUPS, x="k", y="y").violins(), "print"),
    ("rows-few", of(MEANS, x="k", y="y").intervals(), INTERVALS, "print"),
    ("rows-few", of(MEANS, x="k", y="y").points(aggregate="mean"), of(GROUPS, x="k", y="y").points(aggregate="mean"), "print"),
    ("sizes-not-stated", of(UNEQUAL, x="k", y="y").boxes(), of(UNEQUAL, x="k", y="y").boxes().scale("x", format="{value} ({count})"), "print"),
    ("sizes-not-stated", of(UNEQUAL, x="k", y="y").boxes(), of(UNEQUAL, x="k", y="y").boxes(outliers=False).points(arrange="jitter"), "print"),
    ("axis-untitled", CLOUD.titles(x=""), CLOUD, "print"),
    ("axis-untitled", CLOUD.scale("y", title=""), CLOUD.theme("bare").scale("y", title=""), "print"),
    ("axis-without-unit", ft.figure(PAIR).map(x="a", y="b").points(), CLOUD, "print"),
    ("log-not-stated", of({"a": [1.0, 1000], "b": [1.0, 2]}, x="a", y="b").points().scale("x", "log"),
     of({"a": [1.0, 1000], "b": [1.0, 2]}, x="a", y="b").points().scale("x", "log", title="A (m), log scale"), "print"),
    ("reach-not-stated", INTERVALS, INTERVALS.titles(note="Means with standard errors"), "print"),
    ("interval-cut", INTERVALS.scale("y", limits=(9.95, 10.05)), INTERVALS.scale("y", limits=(5, 15)), "print"),
    ("rows-missing", of({"a": [1.0, np.nan, 2], "b": [1.0, 2, 3]}, x="a", y="b").points(), CLOUD, "print"),
    ("outliers-twice", of(GROUPS, x="k", y="y").boxes().points(), of(GROUPS, x="k", y="y").boxes(outliers=False).points(), "print"),
    ("many-looks", ft.figure(WHEELS).map(x="age_days", y="ph", color="rind", size="mass_kg", shape="milk", opacity="eye_mm").points(),
     ft.figure(WHEELS).map(x="age_days", y="ph", color="rind").points(), "print"),
    ("many-colors", of(MANY, x="a", y="b", color="k").points(), of(PAIR, x="a", y="b", color="k").points(), "print"),
    ("many-shapes", of({key: values[:7] for key, values in MANY.items()}, x="a", y="b", shape="k").points(), of(PAIR, x="a", y="b", shape="k").points(), "print"),
    ("letters-lost", CLOUD.titles("\U0001f9c0"), CLOUD.titles("cheese"), "print"),
    ("panel-near-empty", of(APART, x="a", y="b").points().facet("k"), of(APART, x="a", y="b").points().facet("k", separate="y"), "print"),
    ("rows-at-one-place", of({"x": [1.0, 2, 2, 3], "y": [1.0, 2, 3, 4]}, x="x", y="y").lines(),
     of({"x": [1.0, 2, 3], "y": [1.0, 2, 3]}, x="x", y="y").lines(), "print"),
    ("open-ends", of(SKEWED, x="k", y="y").intervals().scale("y", "log"), of(SKEWED, x="k", y="y").intervals(), "print"),
    ("look-suggests-order", of(PAIR, x="a", y="b", size="k").points(), of(PAIR, x="a", y="b", shape="k").points(), "print"),
]  # fmt: skip


def codes(figure, profile="print", **options):
    return [finding.code for finding in figure.check(profile, **options)]


@pytest.mark.parametrize(("code", "broken", "sound", "profile"), CASES, ids=[f"{i}-{case[0]}" for i, case in enumerate(CASES)])
def test_every_rule_finds_what_breaks_it_and_nothing_else(code, broken, sound, profile):
    assert code in codes(broken, profile)
    assert code not in codes(sound, profile)


def test_every_rule_has_a_case():
    assert {rule.code for rule in every_rule()} == {case[0] for case in CASES} | {"font-not-embeddable"}
    assert all(rule.says and rule.reason for rule in every_rule())


def test_a_font_that_may_not_travel_is_found(monkeypatch):
    assert "font-not-embeddable" not in codes(CLOUD)
    monkeypatch.setattr(prints, "embedding_forbidden", lambda face: True)
    assert "font-not-embeddable" in codes(CLOUD)


def test_the_table_of_a_font_says_whether_it_may_travel():
    face = laid_out(CLOUD).scene.texts()[0].runs[0].face
    assert not prints.embedding_forbidden(face)


@given(st.integers(1, 30), st.floats(0.5, 4))
def test_discs_apart_hide_nothing_and_discs_in_one_place_all_but_one(count, radius):
    apart = np.column_stack([np.arange(count) * 10.0, np.zeros(count)])
    assert hidden_share(apart, radius) == pytest.approx(0, abs=1e-9)
    assert hidden_share(np.zeros((count, 2)), radius) == pytest.approx(1 - 1 / count, abs=1e-9)


def test_see_through_discs_hide_less_by_the_formula():
    share = hidden_share(np.zeros((3, 2)), 3.0, 0.5)
    assert share == pytest.approx(1 - (1 - 0.5**3) / (3 * 0.5))


def test_what_a_disc_hides_depends_on_both_radii_and_opacities():
    """A small disc in the middle of a large one: what is seen is the ring and the small one over the large one."""
    small, large, a, b = 3.0, 8.0, 0.5, 0.8
    areas = np.array([small, large]) ** 2
    seen = b * (areas[1] - areas[0]) + (1 - (1 - a) * (1 - b)) * areas[0]
    share = hidden_share(np.zeros((2, 2)), np.array([small, large]), np.array([a, b]))
    assert share == pytest.approx(1 - seen / (a * areas[0] + b * areas[1]), abs=0.01)


def test_points_hide_each_other_in_whatever_order_they_are_drawn():
    crowd = of({"a": RNG.normal(size=2000), "b": RNG.normal(size=2000), "k": list("uvwx") * 500}, x="a", y="b", color="k")
    found = {
        order: next(one.text for one in crowd.points(draw_order=order).check("print") if one.code == "overplotted")
        for order in ("mixed", "groups")
    }
    assert found["mixed"] == found["groups"]


def test_the_hidden_share_of_two_discs_is_that_of_their_lens():
    radius, distance = 6.0, 5.0
    lens = 2 * radius**2 * np.arccos(distance / (2 * radius)) - distance / 2 * np.sqrt(4 * radius**2 - distance**2)
    assert hidden_share(np.array([[0.0, 0], [distance, 0]]), radius) == pytest.approx(lens / (2 * np.pi * radius**2), abs=0.02)


def test_turns_of_a_ramp():
    assert turns(np.array([0.9, 0.5, 0.9])) == 1
    assert turns(np.array([0.9, 0.899, 0.9, 0.2])) == 0


# What the check gives back.


def test_findings_come_serious_first_and_name_a_group_that_can_be_picked():
    fig = ft.figure(WHEELS).map(x="rind", y="mass_kg", color="milk").boxes().theme(text_size=5)
    found = fig.check()
    order = [finding.severity for finding in found]
    assert order == sorted(order, key=["warning", "hint", "info"].index)
    ids = {element.get("id").partition("-")[2] for element in svg_of(fig).iter() if element.get("id")}
    groups = {finding.group for finding in found} - {""}
    assert groups
    assert groups <= ids
    assert "write" in repr(found)
    assert repr(CLOUD.check()).startswith("nothing found for print")


def test_a_number_stands_at_what_is_found():
    """The smallest box, of three rows, is the second one of the second panel."""
    data = pd.DataFrame(
        {"k": [*"u" * 20, *"v" * 20, *"u" * 20, *"v" * 3], "y": RNG.normal(size=63), "p": ["a"] * 40 + ["b"] * 23}
    )
    figure = of(data, x="k", y="y").boxes().facet("p")
    (few,) = [one for one in figure.check("wide") if one.code == "rows-few"]
    made = laid_out(figure, "180 mm")
    box = made.layout.panels[1].box
    assert box.x + box.width / 2 < few.at[0] < box.right
    assert box.y <= few.at[1] <= box.bottom
    assert few.group == "panel-2-layer-1-boxes"
    small = CLOUD.theme(text_size=5).check("print")[0]
    assert any(abs(text.box.right - small.at[0]) < 0.1 for text in laid_out(CLOUD.theme(text_size=5)).scene.texts())


def test_a_code_is_silenced_with_a_reason():
    fig = CLOUD.theme(text_size=5)
    found = fig.check(silence={"text-small": "the editor scales it"})
    assert "text-small" not in [finding.code for finding in found]
    assert found.silenced[0][1] == "the editor scales it"
    assert "silenced text-small: the editor scales it" in repr(found)


def test_the_profile_follows_the_width_where_it_is_not_said():
    assert CLOUD.sheet("180 mm").check().profile.name == "wide"
    assert CLOUD.check().profile.name == "print"
    assert "sheet-large" not in [finding.code for finding in CLOUD.sheet("180 mm").check()]


def test_fixes_leave_nothing_that_they_fix(capsys):
    fig = (
        of({"a": [1.0, 10, 1000], "b": [1.0, 2, 3]}, x="a", y="b")
        .points()
        .theme(text_size=5)
        .scale("x", "log")
        .sheet("120 mm")
        .titles(y="")
    )
    before = fig.to_dict()
    better = fig.check("print", fix=True)
    lines = capsys.readouterr().out.splitlines()
    assert {line.split("(")[0] for line in lines} == {"figure.theme", "figure.sheet", "figure.titles"}
    assert not {"text-small", "sheet-large", "log-not-stated", "axis-untitled"} & set(codes(better))
    assert fig.to_dict() == before
    assert better.check("print", fix=True).to_dict() == better.to_dict()
    assert "nothing to fix" in capsys.readouterr().out


def parsed(line):
    """Of what, verb, values and options of a call that is written out."""
    call = ast.parse(line, mode="eval").body
    options = {one.arg: ast.literal_eval(one.value) for one in call.keywords}
    return call.func.value.id, call.func.attr, tuple(ast.literal_eval(one) for one in call.args), options


def test_the_printed_sentence_makes_the_fixed_figure(capsys):
    fig = INTERVALS.theme(text_size=5)
    better = fig.check("print", fix=True)
    again = fig
    for line in capsys.readouterr().out.splitlines():
        _, verb, given, options = parsed(line)
        again = getattr(again, verb)(*given, **options)
    assert again.to_dict() == better.to_dict()
    assert again._sentence.titles.note == "Means with 95 % confidence intervals"


@given(st.text(), st.floats(0.1, 900), st.text(min_size=1))
def test_what_a_fix_says_is_what_it_does(value, number, title):
    call = Call.to("figure", "titles", value, x=title, size=round(number, 2), colors=(title, "#204080"))
    assert parsed(str(call)) == ("figure", "titles", call.values, dict(call.options))


@pytest.mark.parametrize(
    ("options", "said"),
    [
        ({"profile": "prnt"}, "Did you mean 'print'"),
        ({"profile": 3}, "profile is a name"),
        ({"silence": "text-small"}, "codes and reasons"),
        ({"silence": {"text-small": ""}}, "has no reason"),
        ({"silence": {"small": "no"}}, "no code"),
        ({"fix": "yes"}, "fix"),
        ({"profil": "print"}, "Did you mean 'profile'"),
    ],
)
def test_bad_calls_of_the_check_are_refused(options, said):
    with pytest.raises(OptionError, match=said):
        CLOUD.check(**options)


def test_profiles_say_what_they_are_for():
    assert set(profiles()) == {"print", "wide", "thesis", "slide", "poster", "web"}
    assert all(profile.text_points >= 6 and profile.says for profile in profiles().values())


# The numbered sheet.


def test_the_sheet_has_a_number_for_each_finding_and_one_in_the_figure_for_those_with_a_place():
    fig = ft.figure(WHEELS).map(x="rind", y="mass_kg", color="milk").boxes().scale("y", "log").theme(text_size=5)
    found = fig.check()
    scene = laid_out(fig).scene
    sheet = numbered_sheet(scene, found)
    assert sheet.height > scene.height
    (numbers,) = [item for item in sheet.root.items if getattr(item, "name", "") == "numbers"]
    placed = sum(finding.group in group_boxes(scene) for finding in found)
    assert placed >= 2
    assert sum(isinstance(item, Markers) for item in numbers.items) == len(found) + placed
    written = [text.content for text in sheet.texts() if text.role == "finding"]
    for number, finding in enumerate(found, 1):
        assert str(number) in written
        assert any(finding.code in line for line in written)


# The command line.


def run(*args):
    return subprocess.run([sys.executable, "-m", "facetine.cli.start", *args], capture_output=True, text=True, check=False)


@pytest.mark.slow
def test_the_command_checks_data_and_says_so_with_its_exit_code():
    ft.demo_data("wheels").to_csv("wheels.csv", index=False)
    mapped = ["-m", "x=rind", "-m", "y=mass_kg", "-m", "color=milk", "-l", "boxes"]
    good = run("check", "wheels.csv", "-m", "x=age_days", "-m", "y=mass_kg")
    assert (good.returncode, good.stderr) == (0, "")
    bad = run("check", "wheels.csv", *mapped, "--figure", "numbered.png")
    assert bad.returncode == 1
    assert "rows-few" in bad.stdout
    assert Path("numbered.png").exists()
    quiet = run("check", "wheels.csv", *mapped, "--silence", "rows-few=a first look")
    assert quiet.returncode == 0
    assert "silenced rows-few: a first look" in quiet.stdout
    lines = [json.loads(line) for line in run("check", "wheels.csv", *mapped, "--json").stdout.splitlines()]
    assert {"figure", "code", "severity", "where", "text", "fix", "group"} <= set(lines[0])


@pytest.mark.slow
def test_the_command_checks_a_plan_whose_figures_may_silence_codes():
    ft.demo_data("wheels").to_csv("wheels.csv", index=False)
    Path("plan.toml").write_text(
        '[data.wheels]\nfile = "wheels.csv"\n'
        '[figure.small]\ndata = "wheels"\nmap = { x = "age_days", y = "mass_kg" }\nlayers = ["points"]\ntheme = { text_size = 5 }\n'
        '[figure.quiet]\ndata = "wheels"\nmap = { x = "age_days", y = "mass_kg" }\nlayers = ["points"]\ntheme = { text_size = 5 }\n'
        'silence = { text-small = "the editor asked for it" }\n'
        '[figure.broken]\ndata = "wheels"\nmap = { x = "age" }\nlayers = ["points"]\n',
        "utf-8",
    )
    done = run("check", "plan.toml")
    assert done.returncode == 1
    assert done.stdout.count("text-small") == 2
    assert "silenced text-small: the editor asked for it" in done.stdout
    assert "broken" in done.stderr
    assert run("check", "plan.toml", "--only", "quiet").returncode == 0
    assert run("check", "plan.toml", "--only", "quite").returncode == 2
    assert run("check", "plan.toml", "-m", "x=a").returncode == 2


# In words.


def test_the_description_says_what_the_rows_say():
    fig = ft.figure(WHEELS).map(x="age_days", y="mass_kg", color="rind").points().trend("linear")
    short, long = fig.describe(), fig.describe(length="long")
    assert long.startswith(short)
    counts = WHEELS["rind"].value_counts()
    for name in counts.index:
        assert f"{name} ({counts[name]} rows)" in short
        values = WHEELS.loc[WHEELS["rind"] == name, "mass_kg"]
        assert f"n = {counts[name]})" in long
        assert f"{name} {values.median():.3g} (" in long
    assert f"Mass (kg) runs from {WHEELS.mass_kg.min():.3g} to {WHEELS.mass_kg.max():.3g}" in long
    medians = WHEELS.groupby("rind")["mass_kg"].median()
    assert f"between {medians.idxmax()} and {medians.idxmin()}" in long


def test_slopes_in_words_are_those_of_least_squares_with_their_intervals():
    from scipy import stats

    data = WHEELS.dropna(subset=["moisture_pct", "firmness_n"])
    fit = stats.linregress(data.moisture_pct, data.firmness_n)
    reach = stats.t.ppf(0.975, len(data) - 2) * fit.stderr
    words = ft.figure(data).map(x="moisture_pct", y="firmness_n").trend("linear").describe("long").replace("−", "-")
    assert f"{fit.slope:.3g} (95 % interval {fit.slope - reach:.3g} to {fit.slope + reach:.3g})" in words


def test_every_format_that_can_hold_it_has_the_description():
    import pikepdf
    from PIL import Image

    fig = ft.figure(WHEELS).map(x="age_days", y="mass_kg").points().titles("Mass")
    said = fig.describe()
    quietly(fig.export, ["a.svg", "a.pdf", "a.png", "a.tiff", "a.jpg", "a.webp"], dpi=72)
    assert said in Path("a.svg").read_text("utf-8")
    with pikepdf.open("a.pdf") as pdf:
        assert str(pdf.docinfo["/Subject"]) == said
    for name in ("a.png", "a.tiff", "a.jpg", "a.webp"):
        image = Image.open(io.BytesIO(Path(name).read_bytes()))
        found = image.info.get("Description") or image.getexif().get(270)
        assert found == said


def test_a_plate_is_described_figure_by_figure():
    words = ft.plate([[CLOUD, INTERVALS]], letters="A").describe("long")
    assert "Chart with points" in words
    assert "Chart with intervals" in words
    with pytest.raises(OptionError, match="Did you mean 'long'"):
        CLOUD.describe("lng")


def test_a_unit_that_a_name_may_mean_is_proposed_with_the_line_to_write():
    base = ft.figure(WHEELS).map(x="age_days", y="firmness_n").points()
    (found,) = [one for one in base.check("print") if one.code == "axis-without-unit"]
    assert found.fix == 'codebook={"firmness_n": {"label": "Firmness", "unit": "N"}}'
    book = eval(found.fix.partition("=")[2])
    said = ft.figure(WHEELS, codebook=book).map(x="age_days", y="firmness_n").points()
    assert "axis-without-unit" not in codes(said)
    assert laid_out(said).scales.first("y").title == "Firmness (N)"
    assert laid_out(base).scales.first("y").title == "Firmness n"
