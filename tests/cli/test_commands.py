"""The command line, as a process."""

import json
import re
import subprocess
import sys
import tomllib
import xml.etree.ElementTree as ET
from pathlib import Path

import pikepdf
import pytest

import facetine as ft
from facetine.cli.values import layer, pairs, read_value, scale
from facetine.data.demo import write_demo_data
from facetine.data.readers import read_columns
from facetine.messages.errors import OptionError


def run(*args, stdin=None, cwd=None):
    """Exit code, stdout and stderr of a command."""
    command = [sys.executable, "-m", "facetine.cli.main", *map(str, args)]
    done = subprocess.run(command, input=stdin, capture_output=True, cwd=cwd, timeout=120)
    return done.returncode, done.stdout.decode(), done.stderr.decode()


@pytest.fixture(scope="module")
def data(tmp_path_factory):
    folder = tmp_path_factory.mktemp("data")
    write_demo_data(folder)
    return folder


CELLARS = {"North", "Quarry", "Tunnel", "Loft"}


def test_demo_writes_data_plan_and_figures(tmp_path):
    code, out, err = run("demo", tmp_path / "demo")
    assert code == 0, err
    assert len(out.splitlines()) == 3
    assert "facetine export" in out
    assert re.search(r"\d+ files of \d+ figures written in \d+\.\d s", err)
    kept = ("index.html", "manifest.json")
    written = sorted(path for path in (tmp_path / "demo" / "figures").rglob("*.*") if path.name not in kept)
    assert {path.suffix for path in written} == {".pdf", ".svg", ".png", ".eps", ".html"}
    assert all(path.stat().st_size > 500 for path in written)
    assert (tmp_path / "demo" / "plan.toml").exists()
    assert len(list((tmp_path / "demo" / "data").iterdir())) == 13
    plan = tomllib.loads((tmp_path / "demo" / "plan.toml").read_text("utf-8"))
    alone = {name for name, said in plan["figure"].items() if said.get("alone", True)}
    assert {path.stem for path in written} == (alone - {"one_cellar"}) | set(plan["plate"]) | CELLARS
    # Figures that respond to others of their plate are checked like all others.
    code, _, err = run("check", tmp_path / "demo" / "plan.toml", "-q")
    assert (code, err) == (0, "")
    assert len(plan["figure"]) >= 14
    used = {Path(source.get("file", "")).stem for source in plan["data"].values()}
    assert used >= {"wheels", "climate", "scans", "cultures", "cores", "sales"}
    # The plan beside them makes the same figures again.
    before = {path: path.read_bytes() for path in written}
    assert run("export", tmp_path / "demo" / "plan.toml", "--quiet")[:2] == (0, "")
    assert all(path.read_bytes() == content for path, content in before.items())


@pytest.mark.parametrize("suffix", ["csv", "parquet"])
def test_draw_from_a_file(data, tmp_path, suffix):
    code, out, err = run(
        "draw", data / f"wheels.{suffix}", "--map", "x=moisture_pct", "--map", "y=firmness_n", "--map", "color=rind",
        "--layer", "points:opacity=0.5,shape=diamond", "--facet", "cellar", "--per-row", "2", "--separate", "y", "--scale", "x=log",
        "--title", "A title", "--guide-title", "x=Water (%)", "--set", "text_size=7", "--width", "3.3 in", "-o", tmp_path / "a.pdf",
    )  # fmt: skip
    assert code == 0, err
    assert "84×" in out
    assert err == "finding: figure.points: 1 row without moisture_pct left out\n"
    with pikepdf.open(tmp_path / "a.pdf") as pdf:
        assert float(pdf.pages[0].MediaBox[2]) == pytest.approx(3.3 * 72, abs=0.01)
        assert str(pdf.docinfo["/Title"]) == "A title"


def test_draw_takes_codebooks_and_a_theme_from_files(data, tmp_path):
    (tmp_path / "paper.toml").write_text(
        '[mass_kg]\nlabel = "Gewicht"\nunit = "kg"\n'
        '[age_class]\nfrom = "age_days"\nclasses = { young = [0, 60], "*old*" = [60, 1000] }\n', "utf-8"
    )  # fmt: skip
    (tmp_path / "figure.toml").write_text('[mass_kg]\nunit = "Kilo"\n', "utf-8")
    (tmp_path / "house.toml").write_text('name = "field"\nfont = "Literata"\n', "utf-8")
    out = tmp_path / "a.svg"
    books = ("--codebook", tmp_path / "paper.toml", "-c", tmp_path / "figure.toml")
    base = ("draw", data / "wheels.csv", "-m", "x=age_class", "-m", "y=mass_kg", "-o", out)
    assert run(*base, *books, "--theme", tmp_path / "house.toml")[0] == 0
    drawn = out.read_text("utf-8")
    assert "Gewicht (Kilo)" in drawn
    (italic,) = [text for text in ET.fromstring(drawn).iter("{http://www.w3.org/2000/svg}text") if text.get("font-style")]
    assert italic.text == "old"
    assert "Literata" in drawn
    (tmp_path / "figure.toml").write_text('[mass_kg]\n\nunits = "kg"\n', "utf-8")
    assert "figure.toml, line 3" in wrong(*base, *books)
    (tmp_path / "house.toml").write_text('name = "field"\ntext_sise = 4\n', "utf-8")
    assert "house.toml, line 2" in wrong(*base, *books[:2], "--theme", tmp_path / "house.toml")


def test_draw_reads_a_pipe_and_takes_the_layer_that_suits(data, tmp_path):
    content = (data / "sales.csv").read_bytes()
    code, _, err = run("draw", "-", "-m", "x=month", "-m", "y=retail", "-o", tmp_path / "a.svg", stdin=content)
    assert code == 0, err
    assert "layer-1-lines" in (tmp_path / "a.svg").read_text("utf-8")


def test_draw_speaks_json(data, tmp_path):
    code, out, err = run("draw", data / "wheels.csv", "-m", "x=moisture_pct", "-m", "y=ph", "-o", tmp_path / "a.svg", "--json")
    assert (code, err) == (0, "")
    said = json.loads(out)
    assert said["path"] == str(tmp_path / "a.svg")
    assert said["bytes"] == (tmp_path / "a.svg").stat().st_size
    assert said["findings"] == ["figure.points: 1 row without moisture_pct left out"]


def wrong(*args, stdin=None):
    """The one line on stderr of a wrong call."""
    code, out, err = run(*args, stdin=stdin)
    assert code == 2, (out, err)
    assert out == ""
    assert len(err.splitlines()) == 1, err
    assert err.startswith("facetine: ")
    assert "Traceback" not in err
    return err


@pytest.mark.slow
def test_every_wrong_call_gives_one_line(data, tmp_path):
    wheels, out = data / "wheels.csv", tmp_path / "a.pdf"
    base = ("draw", wheels, "-m", "x=ph", "-m", "y=mass_kg")
    (tmp_path / "not.csv").write_bytes(b"\x00\x01\x02")
    for args, said in (
        ((*base, "-m", "color=rnd", "-o", out), "Did you mean 'rind'"),
        ((*base, "-m", "colour=rind", "-o", out), "Did you mean 'color'"),
        ((*base, "-m", "x=ph", "-o", out), "given twice"),
        ((*base, "-m", "color", "-o", out), "name=value"),
        ((*base, "-l", "pionts", "-o", out), "Did you mean 'points'"),
        ((*base, "-l", "points:opacty=0.5", "-o", out), "Did you mean 'opacity'"),
        ((*base, "-l", "points:color=tael", "-o", out), "Did you mean 'teal'"),
        ((*base, "-s", "x=lgo", "-o", out), "Did you mean 'log'"),
        ((*base, "-s", "x", "-o", out), "--scale x=log"),
        ((*base, "-f", "cellr", "-o", out), "Did you mean 'cellar'"),
        ((*base, "--per-row", "2", "-o", out), "--facet"),
        ((*base, "--separate", "y", "-o", out), "--facet"),
        ((*base, "--theme", "pres", "-o", out), "Did you mean 'press'"),
        ((*base, "--set", "text_siz=3", "-o", out), "Did you mean 'text_size'"),
        ((*base, "--width", "85 mn", "-o", out), "no known unit"),
        ((*base, "-o", tmp_path / "a.pfd"), "Did you mean '.pdf'"),
        ((*base, "-o", "/proc/nothing/a.pdf"), "can't write"),
        (("draw", data / "wheel.csv", "-m", "x=ph", "-o", out), "Did you mean 'wheels.csv'"),
        (("draw", tmp_path / "not.csv", "-m", "x=ph", "-o", out), "no text"),
        (("draw", wheels, "-l", "points", "-o", out), "nothing is mapped to x"),
        (("draw", wheels, "-l", "lines", "-m", "y=ph", "-o", out), "nothing is mapped to x"),
        ((*base, "--widht", "3", "-o", out), "--width"),
        (("export", tmp_path / "plan.toml"), "no plan"),
        (("drwa", wheels), "draw"),
        (("demo", "/proc/nothing"), "can't write"),
    ):
        assert said in wrong(*args), args
    assert "standard input" in wrong("draw", "-", "-m", "x=a", "-o", out, stdin=b"")
    assert not out.exists()


def test_inspect_tells_columns_and_suggests_layers(data, tmp_path):
    code, out, err = run("inspect", data / "wheels.csv", "-m", "x=rind", "-m", "y=mass_kg", "--codebook", tmp_path / "book.toml")
    assert code == 0
    assert "240 rows, 13 columns" in out
    row = next(line for line in out.splitlines() if "moisture_pct" in line)
    assert "number" in row
    assert "1 missing" in row
    assert "boxes: " in out
    assert err == ""
    fig = ft.figure(read_columns(data / "wheels.csv"), codebook=tmp_path / "book.toml")
    assert fig._sentence.codebook.title("mass_kg") == "Mass (kg)"
    assert fig._sentence.codebook.entry("rind").order == ("bloomy", "natural", "washed", "waxed")
    code, out, _ = run("inspect", "-", "--json", stdin=b"a,b\n1,x\n2,\n")
    said = json.loads(out)
    assert said["rows"] == 2
    assert [(column["kind"], column["missing"]) for column in said["columns"]] == [("number", 0), ("category", 1)]
    assert "Did you mean 'wheels.csv'" in wrong("inspect", data / "wheel.csv")
    assert "x and y" in wrong("inspect", data / "wheels.csv", "-m", "color=rind")


@pytest.mark.parametrize(
    ("topic", "word"),
    [
        ("layers", "violins"),
        ("scales", "signed_log"),
        ("themes", "basalt"),
        ("palettes", "orchard"),
        ("fonts", "Source Sans Pro"),
        ("formats", "pdf"),
    ],
)
def test_catalog_lists_what_there_is(topic, word):
    code, out, err = run("catalog", topic)
    assert (code, err) == (0, "")
    assert word in out


def test_catalog_draws_the_palettes(tmp_path):
    assert run("catalog", "palettes", "--figure", tmp_path / "p.svg")[:2] == (0, f"wrote {tmp_path / 'p.svg'}\n")
    text = (tmp_path / "p.svg").read_text("utf-8")
    assert all(word in text for word in ("orchard", "deutan", "orbit", "gray"))
    code, out, _ = run("catalog", "fonts", "--figure", tmp_path / "fonts.svg")
    assert (code, out) == (0, f"wrote {tmp_path / 'fonts.svg'}\n")
    drawn = (tmp_path / "fonts.svg").read_text("utf-8")
    assert "Literata" in drawn
    assert "font-family=\"'Literata', sans-serif\"" in drawn
    assert "Did you mean 'palettes'" in wrong("catalog", "palletes")
    assert "no figure of scales" in wrong("catalog", "scales", "--figure", tmp_path / "a.svg")


def test_help_and_version():
    code, out, _ = run("--help")
    assert code == 0
    said = [line.split()[0] for line in out.partition("Commands:")[2].splitlines() if line.strip()]
    assert said == ["demo", "draw", "export", "check", "inspect", "catalog", "new", "code", "completion"]
    assert "..." not in out.partition("Commands:")[2]
    assert run() == (0, out, "")
    for command in said:
        code, told, _ = run(command, "--help")
        assert code == 0
        assert told.startswith(f"Usage: facetine {command}")
    assert run("--version")[1].startswith("facetine 0.")


def test_values_from_the_command_line():
    assert layer("points:size=4,color=#12ab9f") == ("points", {"size": 4, "color": "#12ab9f"})
    assert scale("x=log,limits=[1, 10],title='a, b'") == ("x", {"kind": "log", "limits": [1, 10], "title": "a, b"})
    assert scale("color=palette=pantry") == ("color", {"palette": "pantry"})
    assert read_value("[a, b]") == ["a", "b"]
    assert read_value("-1.5e3") == -1500
    assert pairs(["a=b=c"], "--map") == {"a": "b=c"}
    with pytest.raises(OptionError):
        layer("points:size")


def test_a_text_is_read_as_it_is_said_or_as_it_is_found_and_told(tmp_path):
    (tmp_path / "cellar.csv").write_text("a;b\n1,5;2\n2,5;3\n")
    points = ("--map", "x=a", "--map", "y=b", "--layer", "points", "-o", tmp_path / "a.svg")
    found = "finding: cellar.csv is read with semicolons between cells, a comma before decimals; --read 'delimiter=;', --read 'decimal=,' says so\n"
    assert run("draw", tmp_path / "cellar.csv", *points)[2] == found
    assert run("draw", tmp_path / "cellar.csv", *points, "--quiet")[1:] == ("", "")
    said = ("--read", "delimiter=semicolon", "--read", "decimal=,")
    assert run("draw", tmp_path / "cellar.csv", *points, *said)[2] == ""
    code, out, err = run("inspect", "-", *said, stdin=b"a;b\n1,5;2\n2,5;3\n")
    assert (code, err) == (0, "")
    assert "a  number         2 values  █          █  1.5 … 2.5" in out
    assert "no option 'decimals'. Did you mean 'decimal'" in run("check", tmp_path / "cellar.csv", "--read", "decimals=,")[2]


@pytest.mark.parametrize(
    ("wrong", "right"),
    [
        ("--label", "--guide-title"),
        ("--values", "--numbers"),
        ("--ouput", "--output"),
        ("--resolution", "--dpi"),
        ("--layers", "--layer"),
    ],
)
def test_an_option_of_elsewhere_is_answered_by_its_meaning(data, wrong, right):
    code, _, err = run("draw", data / "wheels.csv", wrong, "x=a")
    assert code == 2
    assert f"Did you mean {right}?" in err
