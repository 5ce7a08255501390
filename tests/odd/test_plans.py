"""A plan that was typed wrong, or by a stranger: an error that says so, and nothing outside its folder."""

import os
import random
import subprocess
import sys
import warnings
from importlib.resources import files

import pytest
from odd.soundness import assert_clear

import facetine as ft
from facetine.batch.runner import export_plan
from facetine.data.demo import write_demo_data
from facetine.messages.errors import FacetineError, PlanError

PLAN = (files("facetine.batch") / "demo_plan.toml").read_text("utf-8")
MANY = int(os.environ.get("FACETINE_ODD", "120"))
LITERALS = (
    "1", "-1", "0", "1e308", "nan", "inf", "true", "[]", "{}", "''", '"x"', '"../up"', '"/tmp/away"', '"a/../../b"', '"a\\u0000b"', '"\\uFFFE"', "2030-01-01", "12:30:00", "[[1]]", '["a", 1]', "{ a = 1 }",
    '{ x = "rind" }', "99999999999999999999", '"*"', '"{"', '"%"', '"wheels"', '"SELECT 1"', '"SELECT * FROM read_csv(\'/etc/passwd\')"', '"COPY wheels TO \'/tmp/away.csv\'"', '"DROP TABLE wheels"', '"random() > 0.5"', '"CON"',
    '"' + "x" * 300 + '"', '["pdf", "exe"]', '"مرحبا"', "0x1F", '"log"', '"points"', '[{ points = {} }]', '[{ nothing = {} }]', "9" * 5000, '"a\\nb"', "[" * 200 + "]" * 200,
)  # fmt: skip


def mistyped(chance):
    """The demo plan with one to three mistakes of a typist."""
    lines = PLAN.splitlines()
    for _ in range(chance.choice([1, 1, 2, 3])):
        place = chance.randrange(len(lines))
        key, equals, value = lines[place].partition("=")
        kind = chance.random()
        if kind < 0.5 and equals:
            lines[place] = f"{key}= {chance.choice(LITERALS)}"
        elif kind < 0.65 and equals:
            lines[place] = f"{key.rstrip()[:-1]}q ={value}"
        elif kind < 0.75:
            del lines[place]
        elif kind < 0.85:
            lines.insert(chance.randrange(len(lines)), lines[place])
        elif kind < 0.95:
            cut = chance.randrange(len(lines[place]) + 1)
            lines[place] = lines[place][:cut] + chance.choice(["", '"', "]", "}", "=", "[", "\x07"]) + lines[place][cut + 1 :]
        else:
            lines.insert(place, f"{chance.choice(['q', 'out', 'file', 'sql', 'map'])} = {chance.choice(LITERALS)}")
    return "\n".join(lines)


@pytest.fixture(scope="module")
def folder(tmp_path_factory):
    folder = tmp_path_factory.mktemp("plans") / "here"
    write_demo_data(folder / "data")
    return folder


@pytest.mark.parametrize("part", range(8))
def test_a_mistyped_plan_says_what_is_wrong_and_stays_in_its_folder(folder, part):
    first = int(os.environ.get("FACETINE_SEED", "0")) * MANY
    made = refused = 0
    for seed in range(first + part, first + MANY, 8):
        chance = random.Random(seed)
        plan = folder / f"plan{part}.toml"
        plan.write_text(mistyped(chance), "utf-8")
        names = [line[8:-1] for line in PLAN.splitlines() if line.startswith("[figure.") and "." not in line[8:-1]]
        try:
            with warnings.catch_warnings():
                warnings.simplefilter("error")
                outcomes = export_plan(plan, only=chance.choice(names))
        except FacetineError as refusal:
            assert_clear(refusal)
            refused += 1
            continue
        except BaseException as problem:
            raise AssertionError(f"plan {seed}: {type(problem).__name__}: {problem}") from problem
        for outcome in outcomes:
            made += outcome.error is None
            if outcome.error is not None:
                assert_clear(outcome.error)
            for file in outcome.files:
                assert file.path.resolve().is_relative_to(folder)
        assert sorted(path.name for path in folder.parent.iterdir()) == ["here"]
    assert made
    assert refused


@pytest.mark.parametrize("kind", ["figure", "data", "plate", "document", "codebook"])
@pytest.mark.parametrize("value", ["5", "true", '"x"', "[1]"])
def test_what_is_no_table_is_told(kind, value, tmp_path):
    (tmp_path / "plan.toml").write_text(f"{kind} = {value}\n")
    with pytest.raises(PlanError):
        ft.plan(tmp_path / "plan.toml")


def test_the_limits_of_queries_are_said_on_the_command_line(folder):
    plan = folder / "slow.toml"
    plan.write_text(
        '[data.wheels]\nfile = "data/wheels.csv"\n[data.slow]\nfrom = "wheels"\n'
        'sql = "SELECT sum(a.range * b.range) AS s FROM range(10000000) a, range(10000000) b"\n'
        '[figure.f]\ndata = "slow"\nmap = { x = "s" }\nlayers = [{ rug = {} }]\n'
    )
    command = [sys.executable, "-m", "facetine.cli.start", "export", str(plan), "--query-seconds", "0.5"]
    done = subprocess.run(command, capture_output=True, text=True, timeout=30)
    assert done.returncode == 1
    assert "longer than 0.5 seconds" in done.stderr
    wrong = subprocess.run([*command[:-1], "never"], capture_output=True, text=True, timeout=30)
    assert wrong.returncode == 2
    assert "Traceback" not in wrong.stderr
