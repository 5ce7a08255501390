"""A page holds its figure as it is in print, its words, exact values, and no way in for what stands in the data."""

import base64
import hashlib
import json
import re
import zlib
from html.parser import HTMLParser

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from lxml import etree

import facetine as ft
from facetine.batch.runner import export_plan
from facetine.messages.errors import OptionError, PlanError
from facetine.page.packed import Packer, decimals_of
from facetine.page.words import DAY, MINUTE, SECOND, number_text, time_text
from facetine.scene.fonts import face
from facetine.scene.subset import web_font
from facetine.scene.woff import woff

FLOATS = st.floats(allow_nan=True, allow_infinity=True)


def unpacked(text, said):
    """An array read back by code that shares nothing with the packer: by the sorts' names, byte by byte."""
    content = zlib.decompress(base64.b64decode(text))
    width = int(said["sort"][1])
    part = np.frombuffer(content[said["at"] : said["at"] + width * said["count"]], np.uint8)
    values = np.ascontiguousarray(part.reshape(width, said["count"]).T).view(f"<{said['sort']}").reshape(-1).astype(float)
    if said.get("places"):
        values = values / 10.0 ** said["places"]
    if "gone" in said:
        values[unpacked(text, said["gone"]).astype(int)] = np.nan
    return values


@settings(max_examples=200, deadline=None)
@given(st.lists(FLOATS | st.integers(-(10**9), 10**9).map(lambda n: n / 1000)))
def test_numbers_travel_to_the_bit(values):
    packer = Packer()
    described = [packer.numbers(np.array(values, float)), packer.whole(np.arange(len(values)))]
    back = unpacked(packer.text(), described[0])
    assert back.tobytes() == np.array(values, float).tobytes() or np.array_equal(back, values, equal_nan=True)
    there = ~np.isnan(back)
    # Zeros keep their sign, too.
    assert np.array_equal(np.signbit(back[there]), np.signbit(np.array(values, float)[there]))
    assert unpacked(packer.text(), described[1]).tolist() == list(range(len(values)))


def test_short_decimals_take_few_bytes():
    found = decimals_of(np.array([4.25, 3.0, -0.5]))
    assert (found.whole.tolist(), found.places) == ([425, 300, -50], 2)
    assert decimals_of(np.array([0.1 + 0.2])) is None
    assert decimals_of(np.array([1e300])) is None
    assert Packer().numbers(np.array([1.5, np.nan]))["sort"] == "i1"


@settings(max_examples=300, deadline=None)
@given(st.integers(-(10**15), 10**15), st.integers(0, 6))
def test_decimals_are_written_as_they_are(whole, places):
    text = number_text(whole / 10**places, places)
    assert float(text.replace(",", "").replace("−", "-")) == round(whole / 10**places, places)


@settings(max_examples=300, deadline=None)
@given(st.floats(allow_nan=False, allow_infinity=False))
def test_other_numbers_have_six_digits(value):
    read = float(number_text(value, None).replace(",", "").replace("−", "-"))
    assert read == pytest.approx(value, rel=5.1e-6)


@settings(max_examples=300, deadline=None)
@given(st.datetimes(), st.sampled_from([DAY, MINUTE, SECOND, 1]))
def test_times_are_those_of_the_calendar(moment, unit):
    micro = int(np.datetime64(moment, "us").astype(np.int64)) // unit * unit
    shown = np.datetime64(micro, "us")
    expected = str(shown.astype({DAY: "M8[D]", MINUTE: "M8[m]", SECOND: "M8[s]", 1: "M8[us]"}[unit])).replace("T", " ")
    assert time_text(micro // unit, unit) == expected


class Seen(HTMLParser):
    """Elements with their attributes, and what stands in scripts and styles."""

    def __init__(self, text):
        super().__init__()
        self.elements, self.texts, self.open = [], [], []
        self.feed(text)

    def handle_starttag(self, tag, attrs):
        self.elements.append((tag, dict(attrs)))
        self.open.append(tag)

    def handle_endtag(self, tag):
        if tag in self.open:
            while self.open.pop() != tag:
                pass

    def handle_data(self, data):
        self.texts.append((self.open[-1] if self.open else "", data))

    def of(self, tag):
        return [attributes for name, attributes in self.elements if name == tag]


def page_of(figure, tmp_path, **options):
    figure.export(tmp_path / "page.html", **options)
    return (tmp_path / "page.html").read_text("utf-8")


def model_in(text):
    (carried,) = re.findall(r'<script type="application/json" id="figure-data">(.*?)</script>', text)
    return json.loads(carried)


def figures():
    wheels = ft.demo_data("wheels")
    base = ft.figure(wheels).map(x="age_days", y="mass_kg", color="rind")
    yield base.points().facet("cellar")
    yield base.swap_axes().points().trend().scale("x", "log")
    yield ft.figure(wheels).map(x="rind", y="mass_kg").boxes()
    yield ft.figure(ft.demo_data("climate")).map(x="time", y="temp_c", color="cellar").lines()
    yield ft.plate([[base.points(), base.map(x="ph").points()]], letters="A")


@pytest.mark.parametrize("figure", list(figures()), ids=range(5))
def test_what_a_page_says_of_marks_is_what_stands_in_the_numbers(figure, tmp_path):
    carried = model_in(page_of(figure, tmp_path, width="120 mm"))
    said, arrays = carried["said"], carried["arrays"]
    parts = [figure] if isinstance(figure, ft.Figure) else [ft.Figure(one) for one in figure._sentence.contents()]
    assert said["layers"]
    for layer in said["layers"]:
        frame = parts[layer["member"]].numbers(layer["number"], width="120 mm")
        rows = unpacked(arrays, layer["rows"]).astype(int)
        of_panel = np.concatenate([np.full(part["count"], part["panel"]) for part in layer["parts"]])
        names = {panel["number"]: panel["name"] for panel in said["panels"] if panel["member"] == layer["member"]}
        for column in layer["columns"]:
            values = unpacked(arrays, column["values"])
            if column["sort"] == "words":
                values = np.array([column["words"][int(code)] if code >= 0 else None for code in values], object)
            elif column["sort"] == "time":
                values = (values * column["unit"]).astype("M8[us]")
            told = frame[column["name"]].to_numpy()
            if "row" in frame:
                by_row = dict(zip(frame["row"].tolist(), told, strict=True))
                expected = np.array([by_row[row] for row in rows.tolist()])
            elif "panel" in frame:
                # Results are counted over all panels.
                expected = told[rows]
                assert [names[panel] for panel in of_panel] == frame["panel"].to_numpy()[rows].tolist()
            else:
                expected = told[rows]
            if column["sort"] == "number":
                np.testing.assert_array_equal(values, np.asarray(expected, float))
            else:
                assert [str(one)[:19] for one in values] == [str(one)[:19] for one in expected]


def middles(carried, layer):
    """Where the marks of a layer on even axes, or on those of orders of magnitude, have their middles, in points."""
    sides = [unpacked(carried["arrays"], side) for side in layer["boxes"]]
    if len(sides) == 4:
        left, top, width, height = sides
        return left + width / 2, top + height / 2
    found = []
    for name, (first, last) in (("x", (0, 2)), ("y", (3, 1))):
        (column,) = [one for one in layer["columns"] if one["name"] == name]
        values, start, at = unpacked(carried["arrays"], column["values"]), 0, []
        for part in layer["parts"]:
            (panel,) = [
                one for one in carried["said"]["panels"] if (one["member"], one["number"]) == (layer["member"], part["panel"])
            ]
            axis = carried["said"]["axes"][panel["axes"][name]]
            places = values[start : start + part["count"]]
            places = {"log": np.log10, "linear": np.asarray}[axis["kind"]](places)
            share = (places - axis["low"]) / (axis["high"] - axis["low"])
            at.append(panel["box"][first] + share * (panel["box"][last] - panel["box"][first]))
            start += part["count"]
        found.append(np.concatenate(at))
    return tuple(found)


@pytest.mark.parametrize("figure", list(figures()), ids=range(5))
def test_marks_stand_where_the_figure_says(figure, tmp_path):
    carried = model_in(page_of(figure, tmp_path, width="120 mm"))
    for layer in carried["said"]["layers"]:
        if layer["verb"] != "points" or isinstance(figure, ft.Plate):
            continue
        rows = unpacked(carried["arrays"], layer["rows"]).astype(int)
        across, down = middles(carried, layer)
        stands = figure.at("points", rows=rows.tolist(), width="120 mm").set_index("row")
        for row, x, y in zip(rows.tolist(), across, down, strict=True):
            assert stands.loc[row, "x_mm"] / 25.4 * 72 == pytest.approx(x, abs=0.02)
            assert stands.loc[row, "y_mm"] / 25.4 * 72 == pytest.approx(y, abs=0.02)


def test_figures_of_one_frame_share_their_rows_and_others_do_not(tmp_path):
    wheels, other = ft.demo_data("wheels"), ft.demo_data("wheels").head(100)
    one = ft.figure(wheels).map(x="age_days", y="mass_kg").points()
    two = ft.figure(wheels).keep("age_days > 50").derive(g="mass_kg * 1000").map(x="ph", y="g").points()
    three = ft.figure(other).map(x="ph", y="mass_kg").points()
    bars = ft.figure(wheels).map(x="rind").bars()
    layers = model_in(page_of(ft.plate([[one, two], [three, bars]]), tmp_path, width="180 mm"))["said"]["layers"]
    assert [layer["frame"] for layer in layers] == [0, 0, 1, None]


def test_the_page_at_rest_is_the_drawing(tmp_path):
    figure = next(figures())
    text = page_of(figure, tmp_path, width="120 mm")
    figure.export(tmp_path / "page.svg", width="120 mm", fonts="embed")
    own = etree.fromstring((tmp_path / "page.svg").read_bytes())
    (inner,) = re.findall(r"<svg .*?</svg>", text, re.DOTALL)
    there = etree.fromstring(inner.encode())
    assert there.get("width") == own.get("width")

    def shapes(root):
        drawn = list(root.iter("{*}circle", "{*}path", "{*}rect", "{*}text", "{*}use"))
        return [({k: v for k, v in one.attrib.items() if "href" not in k and k != "id"}, one.text) for one in drawn]

    assert shapes(there) == shapes(own)


@pytest.mark.parametrize("interactive", [True, False])
def test_a_page_reaches_nothing_and_runs_its_own_script_alone(interactive, tmp_path):
    text = page_of(next(figures()), tmp_path, interactive=interactive)
    seen = Seen(text)
    policy = next(one["content"] for one in seen.of("meta") if one.get("http-equiv") == "Content-Security-Policy")
    rules = dict(rule.strip().split(" ", 1) for rule in policy.split(";"))
    assert rules["default-src"] == "'none'"
    assert not re.search(r"https?:(?!//www\.w3\.org/)", text)
    assert not any(name.startswith("on") or name == "style" for _, attributes in seen.elements for name in attributes)
    code = "".join(data for tag, data in seen.texts if tag == "script" and "addEventListener" in data)
    assert bool(code) == interactive
    digest = base64.b64encode(hashlib.sha256(code.encode()).digest()).decode()
    assert rules["script-src"] == (f"'sha256-{digest}'" if interactive else "'none'")
    for found in re.findall(r"<style[^>]*>(.*?)</style>", text, re.DOTALL):
        assert f"'sha256-{base64.b64encode(hashlib.sha256(found.encode()).digest()).decode()}'" in rules["style-src"]
    assert "innerHTML" not in code
    assert len(code.encode()) <= 140_000
    assert "Loft" in next(data for tag, data in seen.texts if tag == "figcaption") or "panel" in text


@pytest.mark.parametrize(
    "odd", ["</script><script>alert(1)</script>", "<img src=x onerror=alert(1)>", "a & b", "]]>", "\u2028", '"x"', "日本"]
)
def test_data_put_no_element_into_a_page(odd, tmp_path):
    figure = ft.figure({"a": [1.0, 2.0], "b": [1.0, 2.0], "c": [odd, "x"]}).map(x="a", y="b", color="c").points().titles(odd)
    text = page_of(figure, tmp_path)
    seen = Seen(text)
    assert len(seen.of("script")) == 2
    assert not seen.of("img")
    words = model_in(text)["said"]["layers"][0]["groups"]["names"]
    assert any(odd.strip().replace("\u2028", " ") in word.replace("\u2028", " ") for word in words)


def test_a_page_without_values_has_none(tmp_path):
    figure = ft.figure({"a": [1.5, 2.5], "b": [4.25, 7.75], "c": ["one", "two"]}).map(x="a", y="b", color="c").points()
    text = page_of(figure, tmp_path, data="positions")
    assert all(not layer["columns"] for layer in model_in(text)["said"]["layers"])
    assert "carries the places of its marks" in text
    assert "carries the values of its marks" in page_of(figure, tmp_path)


@pytest.mark.parametrize(
    ("options", "said"),
    [
        ({"data": "positions"}, "data='positions' has no effect on .svg"),
        ({"interactive": False}, "interactive=False has no effect on .svg"),
        ({"interactive": "no"}, "interactive is True or False"),
        ({"data": "rows"}, "can't be 'rows'"),
    ],
)
def test_options_of_pages_are_refused_where_they_say_nothing(options, said, tmp_path):
    figure = next(figures())
    with pytest.raises(OptionError, match=re.escape(said)):
        figure.export(tmp_path / "a.svg", **options)
    with pytest.raises(OptionError, match="has no effect on"):
        figure.export(tmp_path / "a.html", data="embed")


def test_layers_of_very_many_marks_are_images_whose_marks_are_known(tmp_path):
    rng = np.random.default_rng(1)
    figure = ft.figure({"a": rng.normal(size=6000), "b": rng.normal(size=6000)}).map(x="a", y="b").points()
    text = page_of(figure, tmp_path)
    (layer,) = model_in(text)["said"]["layers"]
    assert layer["parts"][0]["count"] == 6000
    looks = layer["inks"]["looks"]
    # A fill, a border with its width, the opacity, and an outline of two half circles.
    assert [(fill[0], line, width, opacity, path.count("a")) for fill, line, width, opacity, path in looks] == [
        ("#", None, 0, 1, 2)
    ]
    assert len(re.findall(r"<image ", text)) == 1
    assert len(re.findall(r"<circle ", text)) < 10


def test_pages_are_a_format_of_plans_too(tmp_path):
    (tmp_path / "a.csv").write_text("x,y\n1,2\n3,4\n")
    (tmp_path / "plan.toml").write_text(
        '[plan]\nformats = ["html", "svg"]\n[data.a]\nfile = "a.csv"\n[figure.f]\ndata = "a"\nmap = { x = "x", y = "y" }\nlayers = ["points"]\n'
    )
    (outcome,) = export_plan(tmp_path / "plan.toml")
    assert [file.path.name for file in outcome.files] == ["f.html", "f.svg"]
    index = Seen((tmp_path / "figures" / "index.html").read_text("utf-8"))
    assert {"f.html", "f.svg"} <= {one.get("href") for one in index.of("a")}
    # The same figure makes the same page.
    before = (tmp_path / "figures" / "f.html").read_bytes()
    export_plan(tmp_path / "plan.toml", force=True)
    assert (tmp_path / "figures" / "f.html").read_bytes() == before


def test_no_figure_takes_the_place_of_the_runs_page(tmp_path):
    (tmp_path / "a.csv").write_text("x,y\n1,2\n")
    (tmp_path / "plan.toml").write_text(
        '[plan]\nformats = ["html"]\n[data.a]\nfile = "a.csv"\n[figure.index]\ndata = "a"\nmap = { x = "x", y = "y" }\nlayers = ["points"]\n'
    )
    with pytest.raises(PlanError, match=r"figure.index and the page of the run would both write 'index.html'"):
        export_plan(tmp_path / "plan.toml")


def test_a_font_for_pages_holds_the_same_tables():
    from io import BytesIO

    from fontTools.ttLib import TTFont

    plain = web_font(str(face("Source Sans Pro").key), "Facet 123")
    packed = woff(plain)
    one, two = TTFont(BytesIO(plain)), TTFont(BytesIO(packed))
    assert two.flavor == "woff"
    assert one.reader.keys() == two.reader.keys()
    for tag in list(one.reader.keys()):
        assert one.reader[tag] == two.reader[tag]
    assert len(packed) < len(plain)


def test_a_notebook_shows_the_page_in_a_frame(tmp_path, monkeypatch):
    import sys
    from types import SimpleNamespace

    shown = []
    shell = SimpleNamespace(get_ipython=lambda: True, display=SimpleNamespace(display=lambda bundle, **_: shown.append(bundle)))
    monkeypatch.setitem(sys.modules, "IPython", shell)
    figure = next(figures())
    figure.show(width="120 mm", interactive=True)
    (frame,) = Seen(shown[0]["text/html"]).of("iframe")
    # What it holds reaches nothing of the notebook, and is the file.
    assert frame["sandbox"] == "allow-scripts allow-downloads"
    assert frame["srcdoc"] == page_of(figure, tmp_path, width="120 mm", dpi=220)
    with ft.defaults(notebook="interactive"):
        bundle, _ = figure._repr_mimebundle_()
        assert "srcdoc" in bundle["text/html"]
        figure.show()
        figure.show(interactive=False)
    assert ["text/html" in one and "srcdoc" in one["text/html"] for one in shown[1:]] == [True, False]
    with pytest.raises(OptionError, match="notebook: can't be 'live'"):
        ft.set_defaults(notebook="live")
    with pytest.raises(OptionError, match="interactive is True or False"):
        figure.show(interactive="yes")


def test_places_are_told_under_the_axes_on_which_they_stand():
    """Swapped figures tell further ends of marks on the other axis, and those alone."""
    sales = ft.demo_data("sales").head(3)
    segments = ft.figure(sales).map(x="month", y="wholesale", x_to="month", y_to="retail").segments()
    plain, swapped = segments.numbers("segments"), segments.swap_axes().numbers("segments")
    for one, other in (("x", "y"), ("y", "x"), ("x_to", "y_to"), ("y_to", "x_to")):
        assert plain[one].tolist() == swapped[other].tolist()
    assert swapped["x_to"].tolist() == sales["retail"].tolist()
    region = ft.figure(ft.demo_data("wheels")).map(x="age_days", y="mass_kg").points().region(x=(30, 60))
    (told,) = region.swap_axes().numbers("region").dropna(axis=1).to_dict("records")
    assert told == {"y_low": 30, "y_high": 60}
