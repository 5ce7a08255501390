"""From a file alone to a figure, its sentence, a plan and a page about the table, through the command line."""

import json
import os
import re
import subprocess
import sys
import xml.etree.ElementTree as ET
from html.parser import HTMLParser

import jsonschema
import pytest

import facetine as ft
from facetine.data.demo import write_demo_data


@pytest.fixture(scope="module")
def data(tmp_path_factory):
    folder = tmp_path_factory.mktemp("data")
    write_demo_data(folder)
    return folder


def run(*args, cwd, stdin=None):
    """Exit code, stdout as bytes and stderr of a command."""
    command = [sys.executable, "-m", "facetine.cli.main", *map(str, args)]
    # Where the package is not installed, it is found beside these tests.
    env = os.environ | {"PYTHONPATH": os.pathsep.join(filter(None, sys.path))}
    done = subprocess.run(command, input=stdin, capture_output=True, cwd=cwd, timeout=120, env=env)
    return done.returncode, done.stdout, done.stderr.decode()


@pytest.mark.parametrize("name", ["wheels.csv", "climate.parquet", "cellar.db#sales"])
def test_a_file_alone_is_drawn_and_told_in_python_and_as_a_plan(data, tmp_path, name):
    code, out, err = run("draw", data / name, cwd=tmp_path)
    assert code == 0, err
    stem = "cellar" if "#" in name else name.partition(".")[0]
    first = (tmp_path / f"{stem}-figure.pdf").read_bytes()
    said = out.decode()
    assert said.startswith(f"wrote {stem}-figure.pdf")
    python, plan = re.findall(r"^(?:    .*\n|\n)+", said.partition("Python:\n")[2], re.M)
    names: dict[str, object] = {}
    exec(re.sub("^    ", "", python, flags=re.M), names)
    names["figure"].export(tmp_path / "again.pdf")
    assert (tmp_path / "again.pdf").read_bytes() == first
    (tmp_path / "plan.toml").write_text(re.sub("^    ", "", plan, flags=re.M))
    code, out, err = run("export", "plan.toml", cwd=tmp_path)
    assert code == 0, err
    assert (tmp_path / "figures" / f"{stem}.pdf").read_bytes() == first


def test_what_is_said_of_a_text_stands_in_the_sentence_too(tmp_path):
    (tmp_path / "odd.csv").write_text("a;b\n1,5;2\n2,5;3\n3,5;5\n")
    code, out, err = run("draw", "odd.csv", "--read", "decimal=,", "--read", "delimiter=;", cwd=tmp_path)
    assert code == 0, err
    assert "decimal=','" in out.decode()
    assert 'decimal = ","' in out.decode()


@pytest.mark.parametrize(
    ("content", "said"), [(b"x\n", "no value to draw"), (b"x,y\n,\n,\n", "no value to draw"), (b"", "nothing came")]
)
def test_a_table_that_shows_nothing_is_refused(tmp_path, content, said):
    code, out, err = run("draw", "-", cwd=tmp_path, stdin=content)
    assert (code, out) == (2, b"")
    assert said in err
    assert err.count("\n") == 1
    assert not list(tmp_path.iterdir())


def test_standard_output_gets_the_figure_alone(data, tmp_path):
    mapped = ["-m", "x=moisture_pct", "-m", "y=firmness_n"]
    code, out, err = run("draw", data / "wheels.csv", *mapped, "-o", "-", cwd=tmp_path)
    assert code == 0
    assert ET.fromstring(out).tag.endswith("svg")
    assert "1 row without moisture_pct" in err
    code, out, _ = run("draw", data / "wheels.csv", "-o", "-", "-o", "a.svg", "--format", "pdf", "--json", cwd=tmp_path)
    assert code == 0
    assert out.startswith(b"%PDF")
    assert out.rstrip().endswith(b"%%EOF")
    assert [path.name for path in tmp_path.iterdir()] == ["a.svg"]
    for wrong, said in ((["--format", "pdf"], "-o -"), (["-o", "-", "--format", "pfd"], "Did you mean '.pdf'")):
        code, out, err = run("draw", data / "wheels.csv", *wrong, cwd=tmp_path)
        assert (code, out) == (2, b"")
        assert said in err


@pytest.mark.slow
def test_inspect_suggests_figures_whose_commands_run(data, tmp_path):
    code, out, err = run("inspect", data / "wheels.csv", cwd=tmp_path)
    assert code == 0, err
    lines = [line.split() for line in out.decode().splitlines() if line.strip().startswith("facetine draw")]
    assert len(lines) == 3
    for line in lines:
        assert run(*line[1:], cwd=tmp_path)[0] == 0
        assert (tmp_path / line[-1]).stat().st_size > 500
    told = json.loads(run("inspect", data / "wheels.csv", "--json", cwd=tmp_path)[1])
    assert [one["command"].split() for one in told["suggestions"]] == lines


class Page(HTMLParser):
    """What a page holds: its tags, its texts, and what it would fetch."""

    def __init__(self, text):
        super().__init__()
        self.tags, self.texts, self.fetched = [], [], []
        self.feed(text)

    def handle_starttag(self, tag, attrs):
        self.tags.append(tag)
        for name, value in attrs:
            if name in ("src", "srcset", "href") and not value.startswith(("data:", "#")):
                self.fetched.append(value)
        if tag == "img":
            assert dict(attrs)["alt"]

    def handle_data(self, data):
        self.texts.append(data)


def test_the_report_draws_every_variable_and_fetches_nothing(data, tmp_path):
    code, out, err = run("inspect", data / "wheels.csv", "--report", "look.html", cwd=tmp_path)
    assert code == 0, err
    assert out.decode().endswith("wrote look.html\n")
    page = Page((tmp_path / "look.html").read_text("utf-8"))
    assert not page.fetched
    # Every variable but the name of each wheel, six relations, three figures to begin with; dark beside each.
    assert page.tags.count("img") == page.tags.count("source") == 12 + 6 + 3
    said = " ".join(page.texts)
    for word in ("moisture_pct and firmness_n", "Missing together", "26", "10.8%", "240 values, each in one row"):
        assert word in said
    assert run("inspect", data / "wheels.csv", "--report", "look.pdf", cwd=tmp_path)[0] == 2


def test_a_report_of_a_hostile_table_shows_its_words_as_they_are(tmp_path):
    seen = ft.inspect({"<script>a</script>": ["<b>", "x", "x"] * 9, "$y": [1.0, float("nan"), 2.0] * 9, "none": [None] * 27})
    page = Page(seen.report(tmp_path / "a.html", title="<i>&$x").read_text("utf-8"))
    assert "script" not in page.tags
    assert "i" not in page.tags
    assert "no value" in " ".join(page.texts)


def test_a_new_plan_makes_figures_and_touches_nothing(tmp_path):
    assert run("new", "paper", cwd=tmp_path)[0] == 0
    assert run("export", "paper/plan.toml", cwd=tmp_path)[0] == 0
    assert {path.name for path in (tmp_path / "paper/figures").glob("*.pdf")} == {"first.pdf", "cellars.pdf"}
    code, _, err = run("new", "paper", cwd=tmp_path)
    assert code == 2
    assert "is there already" in err


def test_the_schema_takes_plans_and_refuses_what_the_reader_refuses(tmp_path):
    import tomllib
    from pathlib import Path

    schema = json.loads(run("catalog", "schema", cwd=tmp_path)[1])
    jsonschema.Draft202012Validator.check_schema(schema)
    checker = jsonschema.Draft202012Validator(schema)
    demo = tomllib.loads((Path(ft.__file__).parent / "batch/demo_plan.toml").read_text("utf-8"))
    assert not list(checker.iter_errors(demo))
    for place, wrong in (("plan", {"widht": 1}), ("figure", {"a": {"layrs": []}}), ("data", {"a": {"file": 3}}), ("figur", {})):
        assert list(checker.iter_errors({**demo, place: wrong})), place
    assert run("catalog", "schema", "--figure", "a.pdf", cwd=tmp_path)[0] == 2


@pytest.mark.parametrize("shell", ["bash", "zsh", "fish"])
def test_shells_complete_commands(shell, tmp_path):
    code, out, _ = run("completion", shell, cwd=tmp_path)
    assert code == 0
    assert b"_FACETINE_COMPLETE" in out
    assert run("completion", "nosuch", cwd=tmp_path)[0] == 2


def test_progress_on_a_terminal_leaves_standard_output_as_it_is(data, tmp_path):
    run("new", "paper", cwd=tmp_path)
    terminal, inner = os.openpty()
    command = [sys.executable, "-m", "facetine.cli.main", "export", "paper/plan.toml"]
    env = os.environ | {"PYTHONPATH": os.pathsep.join(filter(None, sys.path)), "TERM": "xterm"}
    with subprocess.Popen(command, stdout=subprocess.PIPE, stderr=inner, cwd=tmp_path, env=env) as running:
        os.close(inner)
        out, _ = running.communicate(timeout=60)
    told = b""
    try:
        while part := os.read(terminal, 65536):
            told += part
    except OSError:
        # A terminal whose other end is closed has nothing more to say.
        pass
    os.close(terminal)
    lines = out.decode().splitlines()
    assert sorted(line.split()[1] for line in lines) == [
        f"paper/figures/{name}.{suffix}" for name in ("cellars", "first") for suffix in ("pdf", "svg")
    ]
    assert b"drawing" in told
    assert b"4 files of 2 figures written" in told
