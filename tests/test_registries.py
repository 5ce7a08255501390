"""A layer, a scale, a format, a theme and a palette from elsewhere: one place to register, everywhere to be found."""

import contextlib
import importlib.util
import json
import os
import subprocess
import sys
from dataclasses import dataclass
from pathlib import Path

import numpy as np
import pytest
from conftest import laid_out

import facetine as ft
from facetine.cli.looking import catalog
from facetine.core.color.registry import PALETTES, Palette
from facetine.core.scales.kinds import SCALES
from facetine.core.scales.kinds.base import Transform
from facetine.grammar.options import number, option
from facetine.grammar.theme import THEMES, Theme
from facetine.layers import LAYERS
from facetine.layers.base import DrawnLayer
from facetine.messages.errors import OptionError
from facetine.scene.marks import Markers, MarkerStyle
from facetine.scene.play import play
from facetine.writers.formats import FORMATS, Format, Written

REPO = Path(__file__).parents[1]
DATA = {"a": [1.0, 2.0, 4.0, 0.0], "b": [3.0, 5.0, 4.0, 2.0], "k": ["u", "v", "u", "v"]}


def docs():
    """The pages that the script makes from the code."""
    spec = importlib.util.spec_from_file_location("make_docs", REPO / "scripts" / "make_docs.py")
    module = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(module)
    return module.layers() + module.settings()


@dataclass(frozen=True, kw_only=True)
class Dots(DrawnLayer):
    """A dot of one size for each row, a toy."""

    verb = "dots"
    takes = ("x", "y", "color")
    required = ("x", "y")
    looks = ("color",)

    wide: float = option(3.0, number(1, 9), "How wide a dot of the toy is.")

    def draw(self, rows, panel):
        style = MarkerStyle("disc", self.wide / 2, panel.looks["color"].values[0])
        yield Markers(np.column_stack([rows["x"], rows["y"]]), (style,), rows=rows.numbers)

    def draw_key(self, box, looks):
        yield Markers(np.array([[box.x, box.y]]), (MarkerStyle("disc", 1, looks["color"].values[0]),))


def test_a_toy_layer_is_drawn_listed_documented_and_refused_like_ours(tmp_path, capsys):
    with LAYERS.holding("dots", Dots):
        figure = ft.figure(DATA).map(x="a", y="b").dots(wide=5)
        figure.export(tmp_path / "dots.svg")
        assert b'layer-1-dots"' in (tmp_path / "dots.svg").read_bytes()
        assert figure.to_dict()["layers"] == [{"dots": {"wide": 5.0}}]
        assert len(laid_out(ft.from_dict(figure.to_dict(), DATA)).runs[0].table) == 4
        with pytest.raises(ft.OptionError, match="Did you mean 'wide'"):
            figure.dots(wid=3)
        with pytest.raises(ft.MappingError, match="nothing is mapped to y"):
            laid_out(ft.figure(DATA).map(x="a").dots())
        catalog.callback("layers", None)
        assert "A dot of one size for each row, a toy." in capsys.readouterr().out
        assert "How wide a dot of the toy is." in docs()
    with pytest.raises(AttributeError, match="no verb 'dots'"):
        ft.figure(DATA).dots()


@dataclass(frozen=True)
class OneOver(Transform):
    """The reciprocal, a toy: −1/x."""

    says = "one over the value, a toy"
    has_zero = False

    def forward(self, values):
        return np.where(values > 0, -1 / np.where(values > 0, values, 1.0), np.nan)

    def inverse(self, places):
        return -1 / np.minimum(places, -1e-9)

    def admits(self, values):
        return np.isfinite(values) & (values > 0)

    def without_place(self):
        return "of zero or less"


def test_an_axis_of_categories_gives_a_layer_the_room_beyond_its_slots():
    @dataclass(frozen=True, kw_only=True)
    class Tall(Dots):
        """A toy that rises over its slot."""

        verb = "tall"

        def beyond_slots(self):
            return 0.25, 1.5

    with LAYERS.holding("tall", Tall):
        base = ft.figure(DATA).map(x="k", y="b")
        plain, tall = (laid_out(figure).scales for figure in (base.points(), base.points().tall()))
        assert (plain.first("x").extent.low, plain.first("x").extent.high) == (-0.5, 1.5)
        assert (tall.first("x").extent.low, tall.first("x").extent.high) == (-0.75, 3.0)
        assert tall.first("y").extent == plain.first("y").extent
        above = laid_out(base.tall().swap_axes()).scales.first("y").extent
        assert (above.low, above.high) == (-0.75, 3.0)


def test_a_toy_scale_has_right_places_and_ticks_and_refuses_zero(capsys):
    with SCALES.holding("one_over", OneOver):
        base = ft.figure(DATA).map(x="a", y="b").scale("x", "one_over")
        made = laid_out(base.points(), "120 mm")
        assert [str(note) for note in made.findings if note.code == "rows-off-scale"] == [
            "figure.points: 1 row with a of zero or less left out: a one_over scale has no place for them"
        ]
        (markers,) = [mark for mark in walked(made.scene.root) if isinstance(mark, Markers)]
        x = markers.at[np.argsort(markers.rows), 0]
        assert (x[1] - x[0]) / (x[2] - x[1]) == pytest.approx((1 - 1 / 2) / (1 / 2 - 1 / 4))
        axis, ticks = made.scales.first("x"), made.layout.x_labels.ticks
        assert len(ticks.at) > 1
        np.testing.assert_allclose(axis.transform.inverse(np.array(ticks.at)), [float(text) for text in ticks.labels])
        with pytest.raises(ft.ScaleError, match="stand on zero"):
            laid_out(ft.figure(DATA).map(y="k", x="a").bars(aggregate="mean").scale("x", "one_over"))
        with pytest.raises(ft.ScaleError, match="no place on a one_over scale"):
            laid_out(base.points().scale("x", limits=(0, 4)))
        with pytest.raises(ft.KindError, match="one_over scale needs numbers"):
            laid_out(ft.figure(DATA).map(x="k", y="b").points().scale("x", "one_over"))
        catalog.callback("scales", None)
        assert "one over the value, a toy" in capsys.readouterr().out
        assert "one over the value, a toy" in docs()
    with pytest.raises(ft.ScaleError, match="no kind of scale"):
        ft.figure(DATA).scale("x", "one_over")


def walked(group):
    for item in group.items:
        if hasattr(item, "items"):
            yield from walked(item)
        else:
            yield item


def test_a_toy_format_is_written_said_and_listed(tmp_path, capsys):
    def write(scene, options):
        return Written(f"{len(list(walked(scene.root)))} marks at {options.dpi:g}".encode(), ("a toy keeps no colors",))

    with FORMATS.holding("toy", Format("how many marks there are, a toy", write, pixels=True)):
        figure = ft.figure(DATA).map(x="a", y="b").points()
        with pytest.warns(ft.FacetineFinding, match="a toy keeps no colors"):
            done = figure.export(tmp_path / "a.toy", dpi=90)
        assert (tmp_path / "a.toy").read_text().endswith(" marks at 90")
        assert [note.code for note in done.findings] == ["format-note"]
        with pytest.warns(ft.FacetineFinding):
            assert figure.export(tmp_path / "b", formats=["toy", "svg"]).files[0].path.name == "b.toy"
        catalog.callback("formats", None)
        assert "how many marks there are, a toy" in capsys.readouterr().out
    with pytest.raises(ft.ExportError, match="no format for '.toy'"):
        figure.export(tmp_path / "c.toy")


def test_a_theme_and_a_palette_are_taken_by_name():
    with (
        THEMES.holding("evening", Theme(ground="#332244")),
        PALETTES.holding("lichen_bed", Palette("categories", ("#112233", "#445566"))),
    ):
        made = laid_out(
            ft.figure(DATA).map(x="a", y="b", color="k").points().theme("evening").scale("color", palette="lichen_bed")
        )
        assert made.scene.ground == "#332244"
        assert made.scales.looks["color"].values[:2] == ("#112233", "#445566")
        with pytest.raises(ft.OptionError, match="is for categories"):
            laid_out(ft.figure(DATA).map(x="a", y="b", color="b").points().scale("color", palette="lichen_bed"))
    with pytest.raises(ft.OptionError, match="no theme"):
        ft.figure(DATA).theme("evening")


@pytest.mark.parametrize(
    ("registry", "thing"), [(LAYERS, Transform), (SCALES, Dots), (FORMATS, len), (THEMES, {}), (PALETTES, ["red"])]
)
def test_what_is_nothing_of_the_sort_or_takes_a_name_is_refused(registry, thing):
    with pytest.raises(ft.OptionError, match="is no"), registry.holding("thing", thing):
        pass
    taken = next(iter(registry))
    with pytest.raises(ft.OptionError, match="is taken"), registry.holding(taken, registry[taken]):
        pass


@pytest.fixture(scope="module")
def installed(tmp_path_factory):
    """The example package, and a broken one, in a folder of their own."""
    target = tmp_path_factory.mktemp("installed")
    command = [sys.executable, "-m", "pip", "install", "-q", "--no-deps", "--target", target, REPO / "examples" / "extension"]
    subprocess.run(command, check=True, capture_output=True)
    broken = target / "broken-1.0.dist-info"
    broken.mkdir()
    (broken / "METADATA").write_text("Metadata-Version: 2.1\nName: broken\nVersion: 1.0\n")
    (broken / "entry_points.txt").write_text(
        "[facetine.layers]\nmissing = nowhere.at_all:Thing\npoints = nowhere.at_all:Thing\n[facetine.themes]\nodd = math:pi\n"
    )
    return target


def run(installed, *command, cwd):
    environment = {**os.environ, "PYTHONPATH": f"{installed}{os.pathsep}{REPO}"}
    return subprocess.run([sys.executable, *command], env=environment, cwd=cwd, capture_output=True, text=True, timeout=60)


@pytest.mark.slow
def test_an_installed_package_adds_its_things(installed, tmp_path):
    done = run(installed, "-W", "ignore", str(REPO / "examples" / "extension" / "draw.py"), "out", cwd=tmp_path)
    assert done.returncode == 0, done.stderr
    assert sorted(path.name for path in (tmp_path / "out").iterdir()) == [
        "absolute.pdf",
        "reciprocal.pdf",
        "reciprocal.places",
        "stalks.pdf",
    ]
    assert " marker " in (tmp_path / "out" / "reciprocal.places").read_text()
    for topic, name in (
        ("layers", "stalks"),
        ("scales", "reciprocal"),
        ("formats", "places"),
        ("themes", "vault"),
        ("palettes", "herbs"),
    ):
        listed = run(installed, "-m", "facetine.cli.start", "catalog", topic, cwd=tmp_path)
        assert listed.returncode == 0
        assert any(line.startswith(name) for line in listed.stdout.splitlines()), listed.stdout


def test_a_broken_package_is_named_and_stops_nothing(installed, tmp_path):
    listed = run(installed, "-m", "facetine.cli.start", "catalog", "layers", cwd=tmp_path)
    assert listed.returncode == 0
    assert "'missing' of the package broken can't be loaded" in listed.stderr
    assert "Traceback" not in listed.stderr
    assert not any(line.startswith("missing") for line in listed.stdout.splitlines())
    code = (
        "import facetine as ft, json\n"
        "base = ft.figure({'a': [1.0, 2.0], 'b': [1.0, 2.0]}).map(x='a', y='b')\n"
        "base.points().export('a.svg')\n"
        "said = []\n"
        "for call in (lambda: base.missing(), lambda: base.theme('odd'), lambda: base.theme('od')):\n"
        "    try: call()\n"
        "    except ft.FacetineError as problem: said.append(str(problem))\n"
        "print(json.dumps(said))\n"
    )
    done = run(installed, "-c", code, cwd=tmp_path)
    assert done.returncode == 0, done.stderr
    missing, odd, unknown = json.loads(done.stdout)
    assert "can't be loaded" in missing
    assert "is none" in odd
    assert "no theme 'od'" in unknown


@dataclass(frozen=True, kw_only=True)
class Keyless(DrawnLayer):
    """A layer that no legend can show."""

    verb = "keyless"

    def draw(self, rows, panel):  # noqa: ARG002
        yield from ()


class Half:
    """Takes every kind of mark but two."""

    def markers(self, mark):
        """Nothing comes of it."""

    rects = paths = text = markers

    def group(self, group):  # noqa: ARG002
        """Everything inside is taken."""
        return contextlib.nullcontext()


def half(scene, options):
    play(scene, Half())
    return Written(b"")


def test_what_lacks_a_part_is_refused_where_it_is_registered():
    with pytest.raises(ft.FacetineError, match="it lacks draw_key"), LAYERS.holding("keyless", Keyless):
        pass
    with (
        pytest.raises(ft.FacetineError, match=r"it lacks gradient \(AttributeError.*bitmap \(AttributeError"),
        FORMATS.holding("half", Format("", half)),
    ):
        pass


def test_the_example_writes_legends_color_bars_and_pictures(installed, tmp_path):
    code = (
        "import facetine as ft\nfrom PIL import Image\nImage.new('RGB', (8, 6), 'red').save('p.png')\n"
        "base = ft.figure({'a': [1.0, 2.0], 'b': [1.0, 2.0], 'k': ['u', 'v']}).map(x='a', y='b')\n"
        "ft.plate([[base.map(color='k').stalks(), ft.picture('p.png')], [base.map(color='b').points(), base.points(shape='cross')]])"
        ".export('plate.places')\n"
    )
    done = run(installed, "-W", "ignore", "-c", code, cwd=tmp_path)
    assert done.returncode == 0, done.stderr
    written = (tmp_path / "plate.places").read_text()
    assert {line.split()[1] for line in written.splitlines()} >= {"marker", "path", "gradient", "picture", "text"}
    assert {"u", "v"} <= {line.split()[-1] for line in written.splitlines()}


def test_ours_are_found_without_asking_other_packages(tmp_path):
    code = (
        "import facetine as ft, sys\n"
        "ft.figure({'a': [1.0, 2.0], 'b': [1.0, 2.0]}).map(x='a', y='b').points().scale('x', 'log').theme('ledger').export('a.svg');"
        "ft.figure({'a': [1, 2], 'b': [1.0, 2.0]}).map(x='a', y='b').points().scale('x', 'category').export('b.svg')\n"
        "print('importlib.metadata' in sys.modules)"
    )
    done = subprocess.run([sys.executable, "-c", code], cwd=tmp_path, capture_output=True, text=True, check=True)
    assert done.stdout.strip() == "False"


@dataclass(frozen=True)
class FromStart(OneOver):
    """The reciprocal of what is above a start, a toy: −1/(x − start)."""

    says = "one over what is above a start, a toy; start="

    start: float = 0.0

    def __post_init__(self):
        if not isinstance(self.start, int | float):
            raise ValueError(f"start is a number, not {self.start!r}")

    def forward(self, values):
        return super().forward(values - self.start)

    def inverse(self, places):
        return self.start + super().inverse(places)

    def admits(self, values):
        return super().admits(values - self.start)


def placed(figure):
    made = laid_out(figure, "120 mm")
    (markers,) = [mark for mark in walked(made.scene.root) if isinstance(mark, Markers)]
    return markers.at[np.argsort(markers.rows), 0]


def test_a_kind_of_scale_has_options_of_its_own(tmp_path):
    base = ft.figure({"a": [-1.0, 0.0, 2.0], "b": [1, 2, 3]}).map(x="a", y="b").points()
    with SCALES.holding("from_start", FromStart):
        for figure in (
            base.scale("x", "from_start", start=-2.0),
            base.scale("x", "from_start").scale("x", start=-2.0),
            base.scale("x", start=-2.0, kind="from_start"),
            ft.from_dict(base.scale("x", "from_start", start=-2.0).to_dict(), {"a": [-1.0, 0.0, 2.0], "b": [1, 2, 3]}),
        ):
            x = placed(figure)
            assert (x[1] - x[0]) / (x[2] - x[1]) == pytest.approx((1 - 1 / 2) / (1 / 2 - 1 / 4))
            assert "start=-2.0" in repr(figure)
        several = {"a": [1.0, 2.0, 4.0], "b": [1, 2, 3]}
        plain = ft.figure(several).map(x="a", y="b").points().scale("x", "from_start")
        np.testing.assert_allclose(placed(plain.scale("x", start=-9.0).scale("x", start=None)), placed(plain))
        with pytest.raises(OptionError, match="start is a number, not 'low'"):
            plain.scale("x", start="low")
        with pytest.raises(OptionError, match="no option 'strat'. Did you mean 'start'"):
            plain.scale("x", strat=3)
        with pytest.raises(OptionError, match="start has no effect on a log scale"):
            plain.scale("x", start=-1.0).scale("x", "log")
        plate = ft.plate([[plain, plain]]).scale("x", "from_start", start=-3.0)
        assert plate.to_dict()["plate"]["scale"]["x"]["start"] == -3.0
    with pytest.raises(OptionError, match="no option 'start'"):
        base.scale("x", "log", start=1.0)


@pytest.mark.parametrize(
    ("one", "other"),
    [
        ({"kind": "power", "exponent": 2}, {"kind": "power", "exponent": 0.5}),
        ({"kind": "log", "base": 2}, {"kind": "log"}),
        ({"kind": "from_start", "start": -1.0}, {"kind": "from_start", "start": -5.0}),
    ],
)
@pytest.mark.parametrize("swapped", [False, True])
def test_figures_that_share_an_axis_have_the_options_of_its_scale_in_common(one, other, swapped):
    base = ft.figure({"a": [1.0, 2.0, 4.0], "b": [1, 2, 3]}).map(x="a", y="b").points()
    with SCALES.holding("from_start", FromStart):
        figures = [base.scale("x", **said) for said in (one, other)]
        figures = [figure.swap_axes() for figure in figures] if swapped else figures
        axis = "y" if swapped else "x"
        with pytest.raises(ft.ScaleError, match="is to be shared, but its scale is .* here and .* there"):
            ft.plate([figures]).same_scale(axis).export("never.svg")
