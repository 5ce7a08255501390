"""The sentence: immutable, readable, and strict at the verb."""

import pickle

import numpy as np
import pytest
from conftest import laid_out

import facetine as ft
from facetine.grammar.lengths import in_points
from facetine.layers.suggest import suggest
from facetine.messages.errors import (
    DataError,
    ExportError,
    FacetineError,
    FacetineFinding,
    KindError,
    MappingError,
    OptionError,
    ScaleError,
)


@pytest.fixture
def fig(wheels):
    return ft.figure(wheels).map(x="moisture_pct", y="firmness_n", color="rind").points()


def test_every_verb_returns_a_new_figure_and_leaves_the_old_one(fig):
    before = repr(fig)
    for changed in (
        fig.map(size="mass_kg"),
        fig.kinds(age_days="category"),
        fig.scale("x", "log"),
        fig.facet("cellar"),
        fig.titles("New"),
        fig.theme(text_size=9),
        fig.lines(),
    ):
        assert repr(changed) != before
    assert repr(fig) == before


def test_the_repr_is_the_sentence(fig):
    said = repr(fig.scale("x", "log").titles("A title", note="A note").facet("cellar", per_row=2).theme("press", text_size=9))
    assert said.splitlines() == [
        "figure(240 rows × 13 columns)",
        "  .map(x='moisture_pct', y='firmness_n', color='rind')",
        "  .points()",
        "  .facet('cellar', per_row=2)",
        "  .scale('x', 'log')",
        "  .titles('A title', note='A note')",
        "  .theme('press', text_size=9)",
    ]


def test_a_spec_says_the_same_figure(fig, wheels):
    full = (
        fig.scale("x", "log", limits=(30, 70)).scale("color", order=["washed"], colors={"waxed": "#000000"})
        .facet("cellar", per_row=2, order=["North"]).titles("A", subtitle="B", note="C", x="X").theme(text_size=9)
        .bars(map={"y": None}, arrange="share").kinds(age_days="category")
    )  # fmt: skip
    again = ft.from_dict(full.to_dict(), wheels)
    assert repr(again) == repr(full)
    assert again.to_dict() == full.to_dict()


def test_a_spec_is_plain_data(fig):
    import json

    assert json.loads(json.dumps(fig.scale("x", ticks=[40, 50]).to_dict())) == fig.scale("x", ticks=[40, 50]).to_dict()


def test_a_callable_in_a_spec_is_an_error_that_names_it(fig):
    def half(frame):
        return frame["mass_kg"] / 2

    with pytest.raises(OptionError, match="half"):
        fig.map(y=half).to_dict()


def test_a_mapping_can_be_a_callable(wheels):
    made = laid_out(ft.figure(wheels).map(x="age_days", y=lambda frame: frame["mass_kg"] * 1000).points())
    assert made.tables[0]["y"].max() == pytest.approx(wheels.mass_kg.max() * 1000)


def test_a_layer_takes_an_inherited_mapping_away(fig):
    made = laid_out(fig.points(map={"color": None}))
    assert "color" in made.tables[0]
    assert "color" not in made.tables[1]


def test_a_layer_brings_its_own_data(fig):
    made = laid_out(fig.lines(data={"moisture_pct": [40.0, 60.0], "firmness_n": [70.0, 10.0], "rind": ["washed"] * 2}))
    assert len(made.tables[1]) == 2


def test_a_constant_wins_over_an_inherited_mapping(fig):
    assert "color" not in laid_out(fig.points(color="teal")).tables[1]


WRONG = [
    (MappingError, lambda f: f.map(color="rnd"), "no column 'rnd' for color. Did you mean 'rind'"),
    (MappingError, lambda f: f.map(colour="rind"), "no aesthetic 'colour'. Did you mean 'color'"),
    (MappingError, lambda f: f.map(x=3), "no column name"),
    (MappingError, lambda f: f.points(map={"color": "rnd"}), "Did you mean 'rind'"),
    (MappingError, lambda f: f.bars(map={"shape": "rind"}), "no use for 'shape'"),
    (OptionError, lambda f: f.points(opacty=0.5), "no option 'opacty'. Did you mean 'opacity'"),
    (OptionError, lambda f: f.points(opacity=2), "from 0 to 1, not 2"),
    (OptionError, lambda f: f.points(opacity="half"), "not 'half'"),
    (OptionError, lambda f: f.points(color="tael"), "Did you mean 'teal'"),
    (OptionError, lambda f: f.points(shape="disk"), "Did you mean 'disc'"),
    (OptionError, lambda f: f.points(color="teal", map={"color": "rind"}), "both mapped and fixed"),
    (OptionError, lambda f: f.points(map="rind"), "map is a dict"),
    (OptionError, lambda f: f.lines(join_by="y"), "can't be 'y'"),
    (OptionError, lambda f: f.lines(steps="yes"), "True or False"),
    (OptionError, lambda f: f.bars(bar_width=0), "bar_width"),
    (OptionError, lambda f: f.bars(aggregate="avg"), "aggregate"),
    (ScaleError, lambda f: f.scale("x", "lgo"), "Did you mean 'log'"),
    (ScaleError, lambda f: f.scale("z"), "no scale for 'z'"),
    (ScaleError, lambda f: f.scale(3), "no aesthetic"),
    (OptionError, lambda f: f.scale("x", limts=(0, 1)), "Did you mean 'limits'"),
    (OptionError, lambda f: f.scale("x", limits=3), "limits"),
    (OptionError, lambda f: f.scale("x", palette="orchard"), "has no effect on x"),
    (OptionError, lambda f: f.scale("color", palette="orchad"), "Did you mean 'orchard'"),
    (OptionError, lambda f: f.scale("color", palette="celar"), "Did you mean 'cellar'"),
    (OptionError, lambda f: f.scale("color", missing="hide"), "missing"),
    (OptionError, lambda f: f.scale("shape", shapes=["disk"]), "Did you mean 'disc'"),
    (OptionError, lambda f: f.scale("x", format=3), "format"),
    (OptionError, lambda f: f.scale("x", reverse=1), "True or False"),
    (OptionError, lambda f: f.scale(), "aesthetic"),
    (MappingError, lambda f: f.facet("cellr"), "Did you mean 'cellar'"),
    (OptionError, lambda f: f.facet("cellar", per_row=0), "per_row"),
    (OptionError, lambda f: f.facet("cellar", perrow=2), "Did you mean 'per_row'"),
    (OptionError, lambda f: f.facet("cellar", heading="{valu}"), "Did you mean 'value'"),
    (OptionError, lambda f: f.facet("cellar", heading="{"), "no template"),
    (OptionError, lambda f: f.titles(3), "title is a text"),
    (OptionError, lambda f: f.titles(z="Z"), "no title for 'z'"),
    (OptionError, lambda f: f.theme("pres"), "Did you mean 'press'"),
    (OptionError, lambda f: f.theme(text_siz=9), "Did you mean 'text_size'"),
    (OptionError, lambda f: f.theme(text_size="big"), "text_size"),
    (OptionError, lambda f: f.theme(ground="whit"), "Did you mean 'white'"),
    (MappingError, lambda f: f.kinds(rnd="category"), "Did you mean 'rind'"),
    (ExportError, lambda f: f.export("a.pfd"), "Did you mean '.pdf'"),
    (ExportError, lambda f: f.export("a"), "no suffix"),
    (ExportError, lambda f: f.export("a.pdf", formats=["svg"]), "formats are given too"),
    (ExportError, lambda f: f.export("a", formats=["pfd"]), "Did you mean 'pdf'"),
    (ExportError, lambda f: f.export("a", formats=[]), "formats is empty"),
    (ExportError, lambda f: f.export(3), "no path"),
    (ExportError, lambda f: f.export([]), "no path"),
    (OptionError, lambda f: f.export("a.pdf", widht="85 mm"), "Did you mean 'width'"),
    (OptionError, lambda f: f.export("a.pdf", width="85 mn"), "no known unit"),
    (OptionError, lambda f: f.export("a.pdf", width="wide"), "no length"),
    (OptionError, lambda f: f.export("a.pdf", width=-3), "out of reach"),
    (OptionError, lambda f: f.export("a.pdf", width=float("nan")), "no length"),
    (OptionError, lambda f: f.export("a.png", dpi=0), "dpi"),
    (OptionError, lambda f: f.export("a.png", dpi=4800, width="5000 mm"), "million pixels"),
    (OptionError, lambda f: f.export("a.pdf", transparent=1), "transparent"),
    (OptionError, lambda f: f.export("a.pdf", alt=3), "alt"),
    (ExportError, lambda f: f.export("a.pdf", width="9 mm"), "too small"),
    (ExportError, lambda f: f.export("/proc/nothing/a.pdf"), "can't write"),
    (MappingError, lambda f: f.map(y=None).lines().export("a.pdf"), "nothing is mapped to y"),
    (MappingError, lambda f: f.map(y=lambda frame: frame["none"]).export("a.pdf"), "callable for y failed"),
    (MappingError, lambda f: f.map(y=lambda frame: [1, 2]).export("a.pdf"), "returned 2 values"),
    (KindError, lambda f: f.map(x="rind").scale("x", "log").export("a.pdf"), "log scale needs numbers"),
    (KindError, lambda f: f.map(shape="mass_kg").export("a.pdf"), "shape shows categories"),
    (KindError, lambda f: f.bars(map={"x": "rind", "y": "cellar"}).export("a.pdf"), "in one layer"),
    (KindError, lambda f: ft.figure({"a": range(5000)}).map(x="a").rug().facet("a").export("a.pdf"), "5,000 panels"),
    (ScaleError, lambda f: f.scale("x", limits=(60, 40)).export("a.pdf"), "make no range"),
    (ScaleError, lambda f: f.scale("x", "log", limits=(0, 40)).export("a.pdf"), "no place on a log"),
    (ScaleError, lambda f: f.scale("x", ticks=["a"]).export("a.pdf"), "no number"),
    (OptionError, lambda f: f.scale("x", format=",.1q").export("a.pdf"), "no format"),
    (OptionError, lambda f: f.scale("x", format=lambda v: 1 / 0).export("a.pdf"), "format failed"),
    (OptionError, lambda f: f.scale("x", format=lambda v: 3).export("a.pdf"), "no text"),
    (OptionError, lambda f: f.scale("color", order=["wshed"]).export("a.pdf"), "Did you mean 'washed'"),
    (OptionError, lambda f: f.scale("color", colors={"wshed": "red"}).export("a.pdf"), "Did you mean 'washed'"),
    (ScaleError, lambda f: f.bars(map={"y": None}).scale("y", "log").export("a.pdf"), "stand on zero"),
    (MappingError, lambda f: f.map(shape="age_class"), "no column 'age_class'"),
]  # fmt: skip


@pytest.mark.parametrize(("error", "call", "said"), WRONG, ids=[str(n) for n in range(len(WRONG))])
def test_a_wrong_call_gives_its_one_clear_error(fig, tmp_path, error, call, said):
    with pytest.raises(FacetineError) as caught:
        call(fig)
    if said:
        assert isinstance(caught.value, error), caught.value
        assert said in str(caught.value)
    assert "\n" not in caught.value.line
    assert not list(tmp_path.iterdir())


def test_an_error_says_where_what_and_what_is_possible(fig):
    with pytest.raises(MappingError) as caught:
        fig.points(map={"color": "rnd"})
    first, second = str(caught.value).splitlines()
    assert first == "figure.points: no column 'rnd' for color. Did you mean 'rind'?"
    assert second == "  columns: " + ", ".join(list(ft.demo_data("wheels"))[:12]) + ", … (13)"


def test_a_figure_without_a_layer_says_so(wheels):
    with pytest.raises(MappingError, match="no layer"):
        ft.figure(wheels).map(color="rind").export("a.pdf")
    with pytest.warns(FacetineFinding, match="there is no layer yet; the axes show what is mapped"):
        ft.figure(wheels).map(x="ph").export("a.pdf")


def test_a_figure_without_data_says_so():
    with pytest.raises(DataError, match="no data"):
        ft.figure(None).map(x="a", y="b").points().export("a.pdf")


def test_a_figure_may_have_its_data_in_the_layers_alone():
    made = laid_out(ft.figure(None).points(data={"a": [1, 2], "b": [3, 4]}, map={"x": "a", "y": "b"}))
    assert len(made.tables[0]) == 2


def test_a_layer_without_x_names_the_columns(wheels):
    with pytest.raises(MappingError, match="nothing is mapped to x") as caught:
        ft.figure(wheels).points().export("a.pdf")
    assert "wheel, cellar" in str(caught.value)


@pytest.mark.parametrize(
    ("length", "points"), [("25.4 mm", 72), ("2.54cm", 72), ("1 in", 72), ("72 pt", 72), (25.4, 72), ("25.4", 72)]
)
def test_lengths(length, points):
    assert in_points(length, "width") == pytest.approx(points)


def test_numpy_structured_arrays_draw():
    array = np.array([(1.0, 2.0), (2.0, 3.0)], dtype=[("a", float), ("b", float)])
    assert len(laid_out(ft.figure(array).map(x="a", y="b").points()).tables[0]) == 2


def test_errors_can_be_pickled():
    error = pickle.loads(pickle.dumps(OptionError("", "a", "b")))
    assert str(error) == "a\n  b"


def test_unknown_public_names_are_told():
    with pytest.raises(AttributeError, match="figure"):
        ft.figur  # noqa: B018


@pytest.mark.parametrize(
    "spec",
    [
        {"layer": []}, {"layers": {"points": {}}}, {"layers": [{"points": {}, "lines": {}}]}, {"layers": [{"pints": {}}]},
        {"map": ["x"]}, {"scale": {"x": 3}}, {"layers": [{"points": 3}]}, "points", {"titles": 3},
    ],
)  # fmt: skip
def test_a_spec_of_the_wrong_shape_is_refused(wheels, spec):
    with pytest.raises(OptionError):
        ft.from_dict(spec, wheels)


def test_suggestions_follow_the_kinds(wheels):
    climate = ft.demo_data("climate")
    assert suggest(wheels, x="age_days", y="mass_kg")[0].layer == "points"
    assert suggest(climate, x="time", y="temp_c")[0].layer == "lines"
    assert suggest(wheels, x="rind")[0].layer == "bars"
    assert suggest({"a": ["u", "v"], "b": [1.0, 2.0]}, x="a", y="b")[0].layer == "bars"
    assert "rind" in suggest(wheels, x="rind", y="mass_kg")[0].reason
    with pytest.raises(MappingError, match="Did you mean 'rind'"):
        suggest(wheels, x="rnd")
    with pytest.raises(MappingError, match="neither"):
        suggest(wheels)


def test_an_error_carries_its_parts_and_is_worded_once():
    with pytest.raises(ft.FacetineError) as caught:
        ft.figure({"rind": ["a"], "ph": [1.0]}).map(x="rnd")
    error = caught.value
    assert (error.where, error.given, error.proposed, error.choices, error.called) == (
        "figure.map",
        "rnd",
        "rind",
        ("rind", "ph"),
        "columns",
    )
    placed = error.but(at="plan.toml, line 3", proposed="")
    assert str(placed) == "plan.toml, line 3: figure.map: no column 'rnd' for x\n  columns: rind, ph"
    assert type(placed) is type(error)
    again = pickle.loads(pickle.dumps(placed))
    assert (str(again), again.at, again.choices) == (str(placed), placed.at, placed.choices)
    other = placed.but(DataError)
    assert isinstance(other, DataError)
    assert str(other) == str(placed)
    assert str(error).startswith("figure.map: no column 'rnd' for x. Did you mean 'rind'?")
