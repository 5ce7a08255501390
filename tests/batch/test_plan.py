"""Plans: read, checked, and run figure by figure."""

import subprocess
import sys
from pathlib import Path

import pytest

from facetine.batch.runner import export_plan
from facetine.messages.errors import DataError, OptionError, PlanError

ROWS = "x,y,k\n1,2,a\n2,3,b\n3,5,a\n"


def plan(text, rows=ROWS):
    """A plan file beside its data."""
    Path("rows.csv").write_text(rows)
    Path("plan.toml").write_text(text, "utf-8")
    return "plan.toml"


SOUND = """
[plan]
out = "out"
formats = ["pdf", "svg"]
width = "60 mm"
theme = { text_size = 7 }

[data.rows]
file = "rows.csv"

[data.few]
from = "rows"
sql = "SELECT * FROM rows WHERE k = 'a'"

[codebook.x]
label = "Across"
unit = "mm"

[figure.one]
data = "rows"
map = { x = "x", y = "y", color = "k" }
titles = { title = "One" }
scale.x = { kind = "log" }

[[figure.one.layers]]
points = { opacity = 0.5 }

[figure.two]
data = "few"
file = "sub/two"
formats = ["svg"]
width = "90 mm"
map = { x = "k" }
layers = ["bars"]
theme = { text_size = 9 }
"""


def test_a_plan_exports_its_figures():
    outcomes = export_plan(plan(SOUND))
    assert [outcome.name for outcome in outcomes] == ["one", "two"]
    assert all(outcome.error is None for outcome in outcomes)
    written = sorted(str(path) for path in Path("out").rglob("*") if path.is_file())
    assert written == ["out/index.html", "out/manifest.json", "out/one.pdf", "out/one.svg", "out/sub/two.svg"]
    text = Path("out/one.svg").read_text("utf-8")
    assert "Across (mm)" in text
    assert 'font-size="7"' in text
    assert 'width="60mm"' in text
    assert 'width="90mm"' in Path("out/sub/two.svg").read_text("utf-8")
    assert ">b<" not in Path("out/sub/two.svg").read_text("utf-8")


def test_one_figure_can_be_chosen():
    outcomes = export_plan(plan(SOUND), only="two")
    assert [outcome.name for outcome in outcomes] == ["two"]
    assert not Path("out/one.pdf").exists()


def test_only_the_caller_may_say_a_folder_elsewhere(tmp_path):
    Path("inner").mkdir()
    Path("inner/rows.csv").write_text(ROWS)
    Path("inner/plan.toml").write_text(SOUND.replace('out = "out"', 'out = "../away"'), "utf-8")
    with pytest.raises(PlanError, match=r"leaves the plan's folder"):
        export_plan("inner/plan.toml")
    outcomes = export_plan("inner/plan.toml", out=tmp_path / "there")
    written = [Path(file.path) for outcome in outcomes for file in outcome.files]
    assert written
    assert all(path.is_relative_to(tmp_path / "there") and path.exists() for path in written)
    run = subprocess.run(
        [sys.executable, "-m", "facetine.cli.start", "export", "inner/plan.toml", "--out", "other"],
        capture_output=True,
        text=True,
    )
    assert run.returncode in (0, 1), run.stderr
    assert list(Path("other").iterdir())
    Path("inner/plan.toml").write_text(SOUND.replace("[figure.one]", '[figure.one]\nfile = "../../up"'), "utf-8")
    assert "leaves the output folder" in str(export_plan("inner/plan.toml", out="other")[0].error)


def test_a_figure_that_fails_does_not_stop_the_others():
    text = SOUND.replace('y = "y"', 'y = "z"')
    outcomes = export_plan(plan(text))
    assert "no column 'z'" in str(outcomes[0].error)
    assert outcomes[1].files
    done = subprocess.run([sys.executable, "-m", "facetine.cli.main", "export", "plan.toml"], capture_output=True, text=True)
    assert done.returncode == 1
    assert done.stderr.startswith("facetine: one: plan.toml, line 21: figure.map: no column 'z' for y")
    assert "1 unchanged, 1 failed" in done.stderr
    assert (done.stdout, Path("out/sub/two.svg").exists()) == ("", True)


def test_a_table_that_cannot_be_read_fails_its_figures_only():
    text = SOUND.replace("WHERE k = 'a'", "WHERE kk = 'a'")
    outcomes = export_plan(plan(text))
    assert outcomes[0].error is None
    assert isinstance(outcomes[1].error, DataError)


OF_A_FIGURE = {
    "[figure.one]\nmpa = { x = 'x' }": "plan.toml, line 2: figure.one: no key 'mpa'. Did you mean 'map'",
    "[figure.one]\ndata = 'rows'": "line 2: figure.one: no source 'rows'",
    "[figure.one]\nmap = 3": "line 2: figure.one.map",
    "[figure.one]\nfile = '../one'": "line 2: figure.one: file '../one' leaves the output folder",
    "[figure.one]\nfile = '/tmp/one'": "leaves the output folder",
    "[figure.one]\nlayers = ['pionts']": "line 2: figure: no layer 'pionts'. Did you mean 'points'",
}


@pytest.mark.parametrize("text", OF_A_FIGURE)
def test_a_mistake_in_a_figure_stops_that_figure_alone(text):
    sound = "\n[data.r]\nfile = 'rows.csv'\n[figure.sound]\ndata = 'r'\nmap = { x = 'x', y = 'y' }\nlayers = ['points']\n"
    one, other = export_plan(plan(text + sound))
    assert OF_A_FIGURE[text] in str(one.error)
    assert (other.error, other.state) == (None, "written")


WRONG = {
    "[plan]\nformat = ['pdf']\n[figure.one]": "Did you mean 'formats'",
    "[plna]\n[figure.one]": "Did you mean 'plan'",
    "[data.rows]\n[figure.one]": "a source has a file",
    "[data.rows]\nfile = 'a.csv'\nfrom = 'b'\n[figure.one]": "a source has a file",
    "[data.few]\nfrom = 'rows'\nsql = 'SELECT 1'\n[figure.one]": "no source 'rows'",
    "[data.rows]\nfile = 'a.csv'\n[data.few]\nfrom = 'rows'\n[figure.one]": "no sql",
    "[figure.one]\n[figure.two]\nfile = 'one'": "would both write",
    "[plan]\nout = 'a'": "no figure",
    "[figure.one": "no TOML",
}


@pytest.mark.parametrize("text", WRONG)
def test_a_plan_that_is_not_sound_is_refused_before_anything_is_drawn(text):
    with pytest.raises(PlanError) as caught:
        export_plan(plan(text))
    assert WRONG[text] in str(caught.value)
    assert not Path("figures").exists()


def test_a_missing_plan_is_answered_with_the_ones_beside():
    plan(SOUND)
    with pytest.raises(PlanError, match="Did you mean 'plan.toml'"):
        export_plan("pln.toml")
    with pytest.raises(PlanError, match="no figure 'on'"):
        export_plan("plan.toml", only="on")


def test_wrong_parts_of_a_sentence_are_errors_of_their_figure():
    text = SOUND.replace('{ kind = "log" }', '{ kind = "lgo" }')
    assert "Did you mean 'log'" in str(export_plan(plan(text))[0].error)
    text = SOUND.replace("opacity = 0.5", "opacity = 5")
    assert isinstance(export_plan(plan(text))[0].error, OptionError)


def test_a_plan_takes_its_codebook_and_theme_from_files_and_figures_add_to_them():
    Path("book.toml").write_text('[x]\nlabel = "Depth"\nunit = "mm"\n[y]\nlabel = "Salt"\n', "utf-8")
    Path("house.toml").write_text('name = "ledger"\ntext_size = 7\n', "utf-8")
    text = """
[plan]
codebook = "book.toml"
theme = "house.toml"
formats = ["svg"]
[data.rows]
file = "rows.csv"
[codebook.x]
unit = "cm"
[figure.one]
data = "rows"
map = { x = "x", y = "y" }
layers = [{ points = {} }]
[figure.two]
data = "rows"
map = { x = "x", y = "y" }
layers = [{ points = {} }]
codebook = { y = { label = "Brine" } }
"""
    outcomes = export_plan(plan(text))
    assert [outcome.error for outcome in outcomes] == [None, None]
    one, two = (Path(f"figures/{name}.svg").read_text("utf-8") for name in ("one", "two"))
    assert "Depth (cm)" in one
    assert "Salt" in one
    assert "Brine" in two
    assert "Salt" not in two
    assert "<title>Hairlines</title>" in one
