"""Choices with a name: said, written down and read again, drawn on paper, refused where they say nothing."""

import datetime
import json
import re

import pytest

import facetine as ft
from facetine.batch.runner import export_plan
from facetine.messages.errors import FacetineError, MappingError, OptionError

WHEELS = ft.demo_data("wheels")
AGES = ft.figure(WHEELS).map(x="age_days", y="mass_kg").points()
OTHER = ft.figure(WHEELS).map(x="ph", y="firmness_n").points()


def model_in(figure, tmp_path, **options):
    figure.export(tmp_path / "page.html", **{"width": "160 mm", **options})
    (carried,) = re.findall(r'id="figure-data">(.*?)</script>', (tmp_path / "page.html").read_text("utf-8"))
    return json.loads(carried)["said"]


STARTS = [
    ({"age_days": (20, 80)}, WHEELS["age_days"].between(20, 80)),
    (
        {"rind": ["washed", "waxed"], "mass_kg": (2, 6.5)},
        WHEELS["rind"].isin(["washed", "waxed"]) & WHEELS["mass_kg"].between(2, 6.5),
    ),
    ({"rind": "washed"}, WHEELS["rind"] == "washed"),
    ("age_days < 40 OR milk = 'goat'", (WHEELS["age_days"] < 40) | (WHEELS["milk"] == "goat")),
]


@pytest.mark.parametrize(("start", "expected"), STARTS)
def test_what_is_chosen_at_first_is_drawn_on_paper_in_all_figures_that_respond(start, expected, tmp_path):
    plate = ft.plate([[AGES.choose("young", along="x", start=start), OTHER.respond("young")], [OTHER.map(x="eye_mm"), None]])
    built = plate.export(tmp_path / "a.svg", width="160 mm")
    assert built.files
    highlighted = ft.plate(
        [
            [AGES.highlight(expression(start), legend_as="young"), OTHER.highlight(expression(start), legend_as="young")],
            [OTHER.map(x="eye_mm"), None],
        ]
    )
    highlighted.export(tmp_path / "b.svg", width="160 mm")
    # The same picture as a highlight of these rows.
    one, two = ((tmp_path / name).read_text("utf-8") for name in ("a.svg", "b.svg"))
    assert re.sub(r"f[0-9a-f]{8}", "", one) == re.sub(r"f[0-9a-f]{8}", "", two)
    # A page has the same rows, and leaves them to the reader.
    said = model_in(plate, tmp_path)
    (choice,) = said["choices"]
    assert (choice["name"], choice["along"], choice["member"]) == ("young", "x", 0)
    assert choice["started"]["count"] == int(expected.sum())
    assert said["responses"] == {"1": {"young": {"how": "highlight", "all": None}}}
    assert "all others" not in (tmp_path / "page.html").read_text("utf-8").partition("<script")[0]


def expression(start):
    """The same said by hand."""
    if isinstance(start, str):
        return start
    parts = []
    for name, value in start.items():
        if isinstance(value, tuple):
            parts.append(f'"{name}" BETWEEN {value[0]!r} AND {value[1]!r}')
        elif isinstance(value, list):
            parts.append(f'"{name}" IN ({", ".join(repr(one) for one in value)})')
        else:
            parts.append(f'"{name}" = {value!r}')
    return " AND ".join(parts)


def test_two_dates_are_ends_and_two_names_are_values(tmp_path):
    days = ft.figure(ft.demo_data("climate")).map(x="time", y="temp_c").lines()
    column = ft.demo_data("climate")["time"]
    for ends in [
        ("2030-03-01", "2030-03-08"),
        ["2030-03-01", "2030-03-08"],
        (datetime.date(2030, 3, 1), datetime.date(2030, 3, 8)),
    ]:
        said = model_in(days.choose("week", along="x", start={"time": ends}), tmp_path)
        assert said["choices"][0]["started"]["count"] == int(column.between("2030-03-01", "2030-03-08").sum()) > 0
    said = model_in(AGES.choose("kinds", start={"rind": ("washed", "waxed")}), tmp_path)
    assert said["choices"][0]["started"]["count"] == int(WHEELS["rind"].isin(["washed", "waxed"]).sum())


@pytest.mark.parametrize("start", [None, *(start for start, _ in STARTS)])
def test_choices_are_plain_data_and_come_back(start):
    figure = AGES.choose("ages", along="xy", start=start).choose("kind", by="rind", multiple=True).respond("ages").respond("kind")
    again = ft.from_dict(json.loads(json.dumps(figure.to_dict())), WHEELS)
    assert repr(again) == repr(figure)
    assert (
        eval(
            f"ft.{str(repr(figure)).replace('figure(240 rows × 13 columns)', 'figure(WHEELS)')}".replace("\n", "").replace(
                "  ", ""
            ),
            {"ft": ft, "WHEELS": WHEELS},
        )._sentence.choices
        == figure._sentence.choices
    )
    bare = figure.choose(None).respond(None)
    assert repr(bare) == repr(AGES)


def test_choices_of_plans(tmp_path):
    WHEELS.to_csv(tmp_path / "wheels.csv", index=False)
    (tmp_path / "plan.toml").write_text(
        """
[plan]
formats = ["html", "svg"]
[data.wheels]
file = "wheels.csv"
[figure.ages]
data = "wheels"
map = { x = "age_days", y = "mass_kg" }
layers = ["points"]
choose = { young = { along = "x", start = { age_days = [20, 80] } } }
alone = false
[figure.others]
data = "wheels"
map = { x = "ph", y = "firmness_n" }
layers = ["points"]
respond = { young = "highlight" }
alone = false
[plate.both]
rows = [["ages", "others"]]
"""
    )
    (outcome,) = export_plan(tmp_path / "plan.toml", jobs=1)
    assert outcome.error is None
    page = (tmp_path / "figures" / "both.html").read_text("utf-8")
    assert '"name":"young"' in page
    assert '"responses":{"1":{"young":{"how":"highlight","all":null}}}' in page
    assert "young" in (tmp_path / "figures" / "both.svg").read_text("utf-8")


@pytest.mark.parametrize(
    ("make", "said"),
    [
        (lambda: AGES.choose("a b"), "'a b' is no name of a choice"),
        (lambda: AGES.choose("ages", along="z"), "along: can't be 'z'"),
        (lambda: AGES.choose("ages", along="x", by="rind"), "by is for marks that are picked, and along for a brush"),
        (lambda: AGES.choose("ages", along="x", multiple=True), "multiple is for marks that are picked"),
        (lambda: AGES.choose("ages", multiple="yes"), "multiple is True or False"),
        (lambda: AGES.choose("ages", by="rnd"), "no column 'rnd' for by=. Did you mean 'rind'?"),
        (lambda: AGES.choose("ages", start={"age_dys": (1, 2)}), "age_dys"),
        (lambda: AGES.choose("ages", start={}), "start says no column"),
        (lambda: AGES.choose("ages", start=7), "start is a dict of columns, or an expression, not 7"),
        (lambda: AGES.choose("ages", start={"age_days": [None]}), "is neither two ends nor a list of values"),
        (lambda: AGES.choose("ages", start={"age_days": None}), "None is no value"),
        (lambda: AGES.choose("ages", start="age_days"), "where yes or no is needed"),
        (lambda: AGES.choose("a", along="x").choose("b", along="xy"), "the figure draws a brush for 'a' already"),
        (lambda: AGES.choose("a").choose("b", by="rind"), "the figure picks marks for 'a' already"),
        (lambda: AGES.respond("ages", "limts"), "no response 'limts'"),
    ],
)
def test_what_can_be_no_choice_is_refused_at_once(make, said):
    with pytest.raises((OptionError, MappingError)) as caught:
        make()
    assert said in str(caught.value)


@pytest.mark.parametrize(
    ("cells", "said"),
    [
        ([AGES, OTHER.respond("ages")], "no figure of the sheet chooses 'ages'"),
        ([AGES.choose("age"), OTHER.respond("ages")], "no choice 'ages'. Did you mean 'age'?"),
        ([AGES.choose("ages"), OTHER.choose("ages", along="x")], "two figures of the sheet choose 'ages' differently"),
        (
            [AGES.choose("ages"), ft.figure(WHEELS.copy()).map(x="ph", y="mass_kg").points().respond("ages")],
            "'ages' chooses rows of another frame",
        ),
        (
            [AGES.choose("ages", start={"rind": "washed"}), OTHER.highlight("ph > 5.3").respond("ages")],
            "highlights rows of its own",
        ),
    ],
)
def test_what_a_sheet_does_not_hold_is_refused(cells, said, tmp_path):
    with pytest.raises(FacetineError) as caught:
        ft.plate([cells]).export(tmp_path / "never.svg")
    assert said in str(caught.value)
    assert not (tmp_path / "never.svg").exists()


def test_one_choice_can_be_made_in_several_figures(tmp_path):
    both = [figure.choose("old", along="x", start="age_days > 100") for figure in (AGES, OTHER)]
    said = model_in(ft.plate([both]), tmp_path)
    assert [(one["name"], one["member"]) for one in said["choices"]] == [("old", 0), ("old", 1)]
    assert "figure 1, 2" in (tmp_path / "page.html").read_text("utf-8")
    made = both[0].variants(theme=["press", "field"]).export(tmp_path / "two.svg", width="160 mm")
    assert made.files


def test_a_start_that_no_row_has_is_told(tmp_path):
    nothing = AGES.choose("ages", along="x", start={"age_days": (5000, 6000)})
    (found,) = [one for one in nothing.check().findings if one.code == "highlights-nothing"]
    assert (found.where, "'ages'" in found.text) == ("figure.choose", True)


def drawn_places(path):
    """The fill and place of every marker of a drawing, in order."""
    return re.findall(r'<g fill="(#[0-9a-f]{6})">|<circle cx="([\d.]+)" cy="([\d.]+)"', path.read_text("utf-8"))


@pytest.mark.parametrize("other", [{}, {"g": "ph"}], ids=["without the column", "with another of that name"])
def test_a_start_is_about_rows_whatever_others_call_their_columns(other, tmp_path):
    """Paper and page show the rows of the figure that chooses."""
    heavy = AGES.derive(g="mass_kg * 1000").choose("heavy", along="y", start={"g": (2000, 4500)})
    shown = OTHER.derive(**other) if other else OTHER
    ft.plate([[heavy, shown.respond("heavy")]]).export(tmp_path / "a.svg", width="160 mm")
    by_hand = [one.highlight("mass_kg BETWEEN 2 AND 4.5", legend_as="heavy") for one in (AGES, OTHER)]
    ft.plate([by_hand]).export(tmp_path / "b.svg", width="160 mm")
    assert len(drawn_places(tmp_path / "a.svg")) > 400
    assert drawn_places(tmp_path / "a.svg") == drawn_places(tmp_path / "b.svg")


def test_layers_with_data_of_their_own_stay_as_they_are(tmp_path):
    figure = AGES.choose("ages", start={"age_days": (20, 80)}).points(data=WHEELS.head(30), name="others")
    (found,) = [one for one in figure.check().findings if one.code == "not-highlighted"]
    assert found.where == "figure.choose"


def test_rows_stay_the_same_after_they_were_kept_and_derived(tmp_path):
    some = ft.figure(WHEELS).keep("age_days > 60").derive(g="mass_kg * 1000").map(x="ph", y="g").points().respond("ages")
    said = model_in(ft.plate([[AGES.choose("ages", along="x", start={"age_days": (50, 90)}), some]]), tmp_path)
    assert [layer["frame"] for layer in said["layers"]] == [0, 0]
    # Those that the choosing figure shows, whether the other one keeps them or not.
    assert said["choices"][0]["started"]["count"] == int(WHEELS["age_days"].between(50, 90).sum())


CLIMATE = ft.demo_data("climate").query("cellar == 'Loft'")
TIMES = ft.figure(CLIMATE).map(x="time", y="temp_c").lines()
LIMITED = [
    (AGES.choose("span", along="x", start={"age_days": (20, 80)}), AGES.map(y="ph"), "x", (20, 80)),
    (AGES.choose("span", along="x", start={"age_days": (20, 80)}), AGES.map(x="ph", y="age_days"), "y", (20, 80)),
    (AGES.swap_axes().choose("span", along="x", start={"age_days": (20, 80)}), AGES.map(y="ph"), "x", (20, 80)),
    (AGES.choose("span", along="x", start={"age_days": (20, 80)}), AGES.trend().swap_axes(), "x", (20, 80)),
    (TIMES.choose("span", along="x", start={"time": ("2030-03-01", "2030-04-01")}), TIMES, "x", ("2030-03-01", "2030-04-01")),
    (
        AGES.choose("span", along="x", start="milk = 'goat'"),
        AGES,
        "x",
        tuple(float(WHEELS.loc[WHEELS["milk"] == "goat", "age_days"].agg(end)) for end in ("min", "max")),
    ),
    (
        AGES.choose("span", along="xy", start={"age_days": (20, 80), "mass_kg": (2, 6)}).scale("x", "log"),
        AGES.map(y="ph").scale("x", "sqrt"),
        "x",
        (20, 80),
    ),
]


@pytest.mark.parametrize(("choosing", "other", "axis", "ends"), LIMITED)
def test_on_paper_the_detail_shows_the_interval_that_is_chosen_at_first(choosing, other, axis, ends, tmp_path):
    answered = ft.plate([[choosing, other.respond("span", "limits")]])
    said = ft.plate([[choosing, other.scale(axis, limits=ends)]])
    for name, plate in (("answered", answered), ("said", said)):
        plate.export(tmp_path / f"{name}.svg", width="160 mm")
    assert (tmp_path / "answered.svg").read_bytes() == (tmp_path / "said.svg").read_bytes()


REFUSED_LIMITS = [
    (AGES.choose("span"), AGES, "picks marks, which have no interval"),
    (AGES.choose("span", along="x"), OTHER, "no axis of the figure shows 'age_days'"),
    (
        ft.figure(WHEELS).map(x="rind", y="ph").points().choose("span", along="x"),
        ft.figure(WHEELS).map(x="rind", y="mass_kg").points(),
        "'rind' is a .* on x, of which there is no interval",
    ),
    (AGES.choose("span", along="x", start={"age_days": (20, 80)}), AGES.scale("x", limits=(0, 50)), "has limits of its own"),
    (AGES.choose("span", along="x"), AGES.scale("x", "category"), "'age_days' is a category on x, of which there is no interval"),
]


@pytest.mark.parametrize(("choosing", "other", "says"), REFUSED_LIMITS)
def test_limits_that_can_not_be_are_refused_with_the_way_out(choosing, other, says, tmp_path):
    with pytest.raises(OptionError, match=says):
        ft.plate([[choosing, other.respond("span", "limits")]]).export(tmp_path / "a.svg", width="160 mm")
    with pytest.raises(OptionError, match="the figure chooses 'own' itself"):
        AGES.choose("own", along="x").respond("own", "limits").export(tmp_path / "a.svg")
    assert not (tmp_path / "a.svg").exists()


def test_limits_come_from_figures_of_other_frames_too(tmp_path):
    younger = ft.figure(WHEELS[WHEELS["age_days"] < 200].copy()).map(x="age_days", y="ph").points()
    plate = ft.plate([[AGES.choose("span", along="x", start={"age_days": (20, 80)}), younger.respond("span", "limits")]])
    said = model_in(plate, tmp_path)
    assert said["limits"] == {"1": {"span": [["x", "x"]]}}
    assert said["choices"][0]["ends"] == {"x": [20.0, 80.0]}
    # The page begins with all of the axis, and its script looks closer.
    assert said["axes"][2]["low"] < 10


def test_how_much_a_page_carries_is_set(tmp_path):
    said = [one.text for one in AGES.export(tmp_path / "a.html").findings]
    assert not any("does not carry" in text for text in said)
    with ft.defaults(page_values=200):
        said = [one.text for one in AGES.export(tmp_path / "b.html").findings]
    assert any("more than 200 values, which a page does not carry" in text for text in said)
    assert "<script" not in (tmp_path / "b.html").read_text("utf-8")
    with pytest.raises(OptionError, match="page_values"):
        ft.set_defaults(page_values=0)


def test_a_page_says_which_axes_can_not_show_an_interval(tmp_path):
    fixed = AGES.map(y="ph").scale("x", format=lambda value: f"{value:.0f} d").respond("span", "limits")
    plate = ft.plate([[AGES.choose("span", along="x"), fixed]])
    said = [one.text for one in plate.export(tmp_path / "a.html", width="160 mm").findings]
    assert any("the x axis of figure 2 stays as it is where 'span' is brushed: its format is a function" in text for text in said)
    said = [one.text for one in plate.export(tmp_path / "a.pdf", width="160 mm").findings]
    assert not any("stays as it is" in text for text in said)
