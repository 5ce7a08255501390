"""A plan run again when something has changed: what is drawn anew, what stays, what is told, and what goes."""

import contextlib
import json
import sqlite3
import warnings
import zipfile

import pandas as pd
import pytest

import facetine as ft
from facetine.batch.runner import export_plan
from facetine.messages.errors import FacetineFinding, PlanError

WHEELS = ft.demo_data("wheels")


@pytest.fixture
def folder(tmp_path):
    WHEELS.to_csv(tmp_path / "wheels.csv", index=False)
    return tmp_path


def run(folder, plan, *, name="plan.toml", **options):
    """States by figure, the outcomes, and what was told."""
    (folder / name).write_text(plan, encoding="utf-8")
    with warnings.catch_warnings(record=True) as caught:
        warnings.simplefilter("always", FacetineFinding)
        outcomes = export_plan(folder / name, **options)
    told = [str(one.message) for one in caught if issubclass(one.category, FacetineFinding)]
    return {outcome.name: outcome.state for outcome in outcomes}, outcomes, told


TWO = """
[plan]
formats = ["svg"]
[data.wheels]
file = "wheels.csv"
[codebook.mass_kg]
label = "{label}"
[codebook.ph]
label = "pH"
[figure.mass]
data = "wheels"
map = {{ x = "mass_kg" }}
layers = ["histogram"]
[figure.ph]
data = "wheels"
map = {{ x = "ph" }}
layers = ["histogram"]
"""


def test_a_change_of_the_codebook_redraws_the_figures_that_use_the_column(folder):
    assert run(folder, TWO.format(label="Mass"))[0] == {"mass": "written", "ph": "written"}
    assert run(folder, TWO.format(label="Weight"))[0] == {"mass": "written", "ph": "unchanged"}
    assert "Weight" in (folder / "figures/mass.svg").read_text()


def test_a_codebook_in_a_file_does_likewise_and_so_does_a_column_that_is_made(folder):
    plan = TWO.format(label="Mass").replace('formats = ["svg"]', 'formats = ["svg"]\ncodebook = "book.toml"')
    plan += '[figure.ages]\ndata = "wheels"\nmap = { x = "age" }\nlayers = ["bars"]\n'
    (folder / "book.toml").write_text('age = { from = "age_days", classes = { young = [0, 90], old = [90, 1000] } }\n')
    assert set(run(folder, plan)[0].values()) == {"written"}
    (folder / "book.toml").write_text('age = { from = "age_days", classes = { young = [0, 60], old = [60, 1000] } }\n')
    assert run(folder, plan)[0] == {"mass": "unchanged", "ph": "unchanged", "ages": "written"}


def test_files_of_figures_that_are_gone_are_told_and_removed_on_demand(folder):
    run(folder, TWO.format(label="Mass"))
    (folder / "figures/mine.svg").write_text("drawn by hand")
    one = TWO.format(label="Mass").partition("[figure.ph]")[0]
    states, _, told = run(folder, one)
    assert states == {"mass": "unchanged"}
    assert any("1 figure of earlier runs is not in the plan any more: ph.svg" in text for text in told)
    states, _, _ = run(folder, one, prune=True)
    assert states == {"mass": "unchanged", "ph": "removed"}
    assert sorted(path.name for path in (folder / "figures").glob("*.svg")) == ["mass.svg", "mine.svg"]
    assert not any("earlier runs" in text for text in run(folder, one, force=True)[2])


def test_a_file_that_somebody_has_changed_since_is_not_removed(folder):
    run(folder, TWO.format(label="Mass"))
    (folder / "figures/ph.svg").write_text("changed by hand")
    run(folder, TWO.format(label="Mass").partition("[figure.ph]")[0], prune=True)
    assert (folder / "figures/ph.svg").read_text() == "changed by hand"


def test_a_folder_of_values_that_are_gone_goes_too(folder):
    plan = TWO.format(label="Mass") + 'each = "cellar"\n'
    run(folder, plan)
    assert (folder / "figures/ph").is_dir()
    WHEELS[WHEELS["cellar"] != "Loft"].to_csv(folder / "wheels.csv", index=False)
    states, _, _ = run(folder, plan, prune=True)
    assert states["ph[Loft]"] == "removed"
    assert not (folder / "figures/ph/Loft.svg").exists()
    assert (folder / "figures/ph/North.svg").exists()


EMPTY = """
[plan]
formats = ["svg"]
[data.wheels]
file = "wheels.csv"
[figure.none]
data = "wheels"
steps = [{ keep = "mass_kg > 1e9" }]
map = { x = "mass_kg" }
layers = ["histogram"]
[figure.each]
data = "wheels"
steps = [{ keep = "mass_kg > 1e9" }]
map = { x = "mass_kg" }
layers = ["histogram"]
each = "cellar"
[figure.sound]
data = "wheels"
map = { x = "mass_kg" }
layers = ["histogram"]
"""


def test_nothing_to_draw_is_a_warning_in_the_page_the_manifest_and_the_outcome(folder):
    _, outcomes, _ = run(folder, EMPTY)
    called = {outcome.name: outcome.called for outcome in outcomes}
    assert called == {"none": "empty", "each": "empty", "sound": "written"}
    entries = json.loads((folder / "figures/manifest.json").read_text())["figures"]
    assert entries["each"]["findings"][0]["code"] == "each-empty"
    assert entries["none"]["findings"][-1]["code"] == "figure-empty"
    page = (folder / "figures/index.html").read_text()
    assert page.count('<span class="state">empty</span>') == 2
    assert "1 drawn, 2 empty, 0 failed" in page
    # It stays so until it is mended.
    assert {outcome.name: outcome.called for outcome in run(folder, EMPTY)[1]} == {**called, "sound": "unchanged"}


def test_strict_runs_take_warnings_for_failures(folder):
    for _ in range(2):
        states, outcomes, _ = run(folder, EMPTY, strict=True)
        assert states == {"none": "failed", "each": "failed", "sound": states["sound"]}
        assert "there are no rows to draw" in str(outcomes[0].error)
    assert states["sound"] == "unchanged"


def test_what_a_whole_plan_lies_under_is_taken_over_key_by_key(folder):
    (folder / "shared").mkdir()
    (folder / "shared/base.toml").write_text(
        '[plan]\nwidth = "100 mm"\nformats = ["svg"]\ntheme = { text_size = 8 }\ncodebook = "book.toml"\n'
        '[codebook.mass_kg]\nlabel = "Mass"\nunit = "kg"\n[data.wheels]\nfile = "../wheels.csv"\n'
    )
    (folder / "shared/book.toml").write_text('rind = { label = "Rind below", order = ["waxed", "washed"] }\nph = "Acidity"\n')
    (folder / "book.toml").write_text('rind = { label = "Rind above" }\n')
    plan = (
        '[plan]\ninclude = ["shared/base.toml"]\nwidth = "80 mm"\ntheme = "ledger"\ncodebook = "book.toml"\n'
        '[codebook.mass_kg]\nlabel = "Weight"\n[figure.f]\ndata = "wheels"\nmap = { x = "rind", y = "mass_kg" }\n'
        'layers = [{ bars = { aggregate = "mean" } }]\n[figure.g]\ndata = "wheels"\nmap = { x = "ph" }\nlayers = ["histogram"]\n'
    )
    states, _, told = run(folder, plan)
    assert states == {"f": "written", "g": "written"}
    found = ft.plan(folder / "plan.toml").figure("f")
    assert found._sentence.theme.text_size == 8
    svg = (folder / "figures/f.svg").read_text()
    assert 'width="80mm"' in svg
    assert "Rind above" in svg
    assert "(kg)" in svg
    assert "Acidity" in (folder / "figures/g.svg").read_text()
    (clash,) = [text for text in told if "says otherwise" in text]
    assert "plan.width" in clash
    assert "codebook.mass_kg.label" in clash
    assert "ph" not in clash


def test_all_mistakes_are_told_once_each_with_its_file_and_line(folder):
    (folder / "book.toml").write_text('mass_kg = { lable = "Mass" }\n\n[ph]\nlabel = 3\nunti = "x"\nkind = "numbr"\n')
    (folder / "base.toml").write_text('[data.other]\nfiel = "x.csv"\n')
    plan = (
        '[plan]\ninclude = ["base.toml"]\ncodebook = "book.toml"\nfromats = ["pdf"]\n[data.wheels]\nfile = "wheels.csv"\n'
        '[codebook.rind]\ncolros = 3\n[figure.f]\ndata = "wheels"\nmpa = { x = "ph" }\n[figure.g]\ndata = "wheel"\n'
    )
    with pytest.raises(PlanError) as caught:
        run(folder, plan)
    lines = caught.value.lines
    for said in (
        "plan.toml, line 4: plan: no key 'fromats'",
        "base.toml, line 2: data.other: no key 'fiel'",
        "book.toml, line 1: codebook.mass_kg: no key 'lable'",
        "book.toml, line 4: codebook.ph: label is text",
        "book.toml, line 5: codebook.ph: no key 'unti'",
        "book.toml, line 6: codebook.ph: no kind 'numbr'",
        "plan.toml, line 8: codebook.rind: no key 'colros'",
        "plan.toml, line 11: figure.f: no key 'mpa'",
        "plan.toml, line 13: figure.g: no source 'wheel'",
    ):
        assert sum(said in line for line in lines) == 1, (said, lines)


def test_an_entry_of_a_column_that_no_source_has_is_told(folder):
    told = run(folder, TWO.format(label="Mass") + '[codebook.mas_kg]\nlabel = "x"\n[codebook.twice]\nfrom = "2 * ph"\n')[2]
    assert [text for text in told if "no source" in text] == [
        "codebook.mas_kg: no source has such a column. Did you mean 'mass_kg'?"
    ]


def rows_into(path, rows):
    with contextlib.closing(sqlite3.connect(path)) as opened:
        rows.to_sql("wheels", opened, index=False, if_exists="replace")


STORED = """
[plan]
formats = ["svg", "pdf"]
[data.wheels]
database = "sqlite:///c.db"
{asked}
[figure.points]
data = "wheels"
map = {{ x = "mass_kg", y = "ph", color = "rind" }}
layers = ["points", "trend"]
[figure.bars]
data = "wheels"
map = {{ x = "cellar", y = "mass_kg" }}
layers = [{{ bars = {{ aggregate = "mean" }} }}]
"""


@pytest.mark.parametrize("asked", ['table = "wheels"', 'sql = "SELECT * FROM wheels WHERE ph > 5"'])
def test_a_database_that_gives_its_rows_in_another_order_changes_nothing(folder, asked):
    plan = STORED.format(asked=asked)
    rows_into(folder / "c.db", WHEELS)
    run(folder, plan)
    before = {path.name: path.read_bytes() for path in (folder / "figures").iterdir() if path.suffix in (".svg", ".pdf")}
    rows_into(folder / "c.db", WHEELS.sample(frac=1, random_state=3))
    assert set(run(folder, plan)[0].values()) == {"unchanged"}
    assert set(run(folder, plan, force=True)[0].values()) == {"written"}
    assert {name: (folder / "figures" / name).read_bytes() for name in before} == before
    changed = WHEELS.copy()
    changed.loc[3, "ph"] += 0.5
    rows_into(folder / "c.db", changed)
    assert set(run(folder, plan)[0].values()) == {"written"}


def test_rows_of_a_database_are_joined_as_they_come_only_in_an_order(folder):
    rows_into(folder / "c.db", WHEELS.sample(frac=1, random_state=3))
    lines = '\n[figure.path]\ndata = "wheels"\nmap = { x = "mass_kg", y = "ph" }\nlayers = [{ lines = { join_by = "rows" } }]\n'
    for asked in ('table = "wheels"', 'sql = "SELECT * FROM wheels"'):
        states, outcomes, _ = run(folder, STORED.format(asked=asked) + lines)
        assert states["path"] == "failed"
        assert "row_order" in str(outcomes[-1].error) + outcomes[-1].error.detail
        states, _, _ = run(folder, STORED.format(asked=f'{asked}\nrow_order = ["age_days", "wheel"]') + lines)
        assert states["path"] == "written"
        drawn = ft.plan(folder / "plan.toml").figure("path").numbers()
        expected = WHEELS.sort_values(["age_days", "wheel"])
        assert drawn["x"].tolist() == expected["mass_kg"].tolist()
    ordered = 'sql = "SELECT * FROM wheels ORDER BY age_days, wheel"'
    assert run(folder, STORED.format(asked=ordered) + lines)[0]["path"] == "written"
    wrong = run(folder, STORED.format(asked='table = "wheels"\nrow_order = "weel"'))[1]
    assert "no column 'weel' for row_order. Did you mean 'wheel'" in str(wrong[0].error)


def test_a_figure_whose_data_take_too_long_to_be_asked_for_stays(folder):
    rows_into(folder / "c.db", WHEELS)
    slow = (
        "SELECT w.* FROM wheels w WHERE (SELECT count(*) FROM n) > 0 OR (WITH RECURSIVE r(a) AS "
        "(SELECT 1 UNION ALL SELECT a + 1 FROM r WHERE a < 400000000) SELECT max(a) FROM r) > 1"
    )
    plan = STORED.format(asked=f'sql = "{slow}"')
    with contextlib.closing(sqlite3.connect(folder / "c.db")) as opened:
        opened.execute("CREATE TABLE n (a)")
        opened.execute("INSERT INTO n VALUES (1)")
        opened.commit()
    assert set(run(folder, plan)[0].values()) == {"written"}
    before = (folder / "figures/points.svg").read_bytes()
    with contextlib.closing(sqlite3.connect(folder / "c.db")) as opened:
        opened.execute("DELETE FROM n")
        opened.commit()
    with ft.defaults(query_seconds=0.5):
        states, outcomes, _ = run(folder, plan)
    assert set(states.values()) == {"not checked"}
    assert "took longer than 0.5 seconds" in outcomes[0].findings[0].text
    assert (folder / "figures/points.svg").read_bytes() == before
    assert 'class="state">not checked' in (folder / "figures/index.html").read_text()
    # Said otherwise, it would be another figure: it fails.
    with ft.defaults(query_seconds=0.5):
        states, _, _ = run(folder, plan.replace('y = "ph"', 'y = "moisture_pct"'))
    assert states == {"points": "failed", "bars": "not checked"}
    with contextlib.closing(sqlite3.connect(folder / "c.db")) as opened:
        opened.execute("INSERT INTO n VALUES (1)")
        opened.commit()
    assert run(folder, plan)[0] == {"points": "written", "bars": "unchanged"}


def test_a_document_is_written_again_only_when_a_picture_in_it_has_changed(folder):
    pytest.importorskip("docx")
    plan = TWO + '[document.report]\nfile = "report.docx"\nfigures = {{ "Figure 1" = "mass" }}\n'
    assert run(folder, plan.format(label="Mass"))[0]["report"] == "written"
    before = (folder / "report.docx").stat().st_mtime_ns, (folder / "report.docx").read_bytes()
    assert run(folder, plan.format(label="Mass"))[0]["report"] == "unchanged"
    # Another figure has changed, and none of the document's.
    assert run(folder, plan.format(label="Mass").replace('label = "pH"', 'label = "Acid"'))[0] == {
        "mass": "unchanged", "ph": "written", "report": "unchanged",
    }  # fmt: skip
    assert ((folder / "report.docx").stat().st_mtime_ns, (folder / "report.docx").read_bytes()) == before
    assert run(folder, plan.format(label="Weight"))[0]["report"] == "written"
    assert run(folder, plan.format(label="Mass"))[0]["report"] == "written"
    assert (folder / "report.docx").read_bytes() == before[1]
    with zipfile.ZipFile(folder / "report.docx") as parts:
        assert {part.date_time for part in parts.infolist()} == {(1980, 1, 1, 0, 0, 0)}
        assert parts.testzip() is None


def test_two_frames_of_one_content_in_any_order_have_one_digest():
    from facetine.data.roworder import digest_of_rows

    columns = {name: WHEELS[name].to_numpy() for name in WHEELS.columns}
    mixed = WHEELS.sample(frac=1, random_state=8)
    assert digest_of_rows(columns) == digest_of_rows({name: mixed[name].to_numpy() for name in reversed(WHEELS.columns)})
    for name in ("mass_kg", "rind", "grade"):
        other = pd.DataFrame(WHEELS).copy()
        other[name] = other[name].to_numpy()[::-1]
        assert digest_of_rows(columns) != digest_of_rows({one: other[one].to_numpy() for one in other.columns})
