"""What a message proposes is in the words of the place where it is read, and does what it says there."""

import os
import re
import shlex
import subprocess
import sys

import pytest

from facetine.cli.lines import wrapped
from facetine.cli.wording import worded

OPTION = re.compile(r"--[a-z-]+ (?:'[^']*'|\"[^\"]*\"|[^\s;]+)")
KEY = re.compile(r"(?:scale\.\w+|change\.\w+|codebook\.\w+|[a-z_]+) = (?:\{[^{}]*(?:\{[^{}]*\}[^{}]*)*\}|\[[^\]]*\]|\"[^\"]*\")")
ROWS = "".join(
    f"{row:03d};{['North', 'Loft'][row % 2]};{row % 4 + 2028};{row},5;{'n.b.' if row == 7 else f'{row * row},25'};0{row % 9 + 1}/0{row % 7 + 1}/2031\n"
    for row in range(40)
)
TABLE = "plot;cellar;year;mass;salt;day\n" + ROWS


@pytest.fixture
def folder(tmp_path):
    (tmp_path / "t.csv").write_text(TABLE, encoding="utf-8")
    return tmp_path


def run(folder, *words):
    command = [sys.executable, "-m", "facetine.cli.main", *words]
    done = subprocess.run(command, cwd=folder, capture_output=True, text=True, check=False, env={**os.environ, "COLUMNS": "200"})
    return done.returncode, done.stdout + done.stderr


def line_with(told, part):
    """The line that has a part, with what is proposed below it."""
    lines = told.splitlines()
    place = next(number for number, one in enumerate(lines) if part in one)
    below = lines[place + 1] if place + 1 < len(lines) and lines[place + 1].startswith("        ") else ""
    return f"{lines[place]} {below}"


# A call, a part of the message, and whether it is gone once one of its proposals is followed.
LINES = [
    ("draw t.csv -m x=mass -l histogram -o a.svg", "is read with semicolons", True),
    ("draw t.csv -m x=salt -l histogram -o a.svg", "are no numbers, and missing", True),
    ("draw t.csv -m x=mass -m y=salt -m color=year -l points -o a.svg", "different whole numbers", True),
    ("inspect t.csv", "digits such as '000'", True),
    ("draw t.csv -m x=day -m y=mass -l points -o a.svg", "fit two orders", True),
    ("check t.csv -m x=mass -m y=salt -l points -s y=log", "no word says", True),
    ("check t.csv -m x=mass -m y=salt -l points", "nothing says the unit", None),
    ("check t.csv -m x=mass -m y=salt -l points -s y=reverse=true", "runs backwards", True),
    ("inspect t.csv", "different whole numbers", True),
    ("draw t.csv -m x=cellar -m y=mass -l bars -o a.svg", "aggregate", None),
    ("draw t.csv -m x=mass -m y=salt -l pionts -o a.svg", "Did you mean 'points'", None),
]


@pytest.mark.parametrize(("line", "part", "mends"), LINES)
def test_options_that_are_proposed_are_taken_and_mend_what_they_are_proposed_for(folder, line, part, mends):
    _, told = run(folder, *shlex.split(line))
    message = line_with(told, part)
    # Neither a verb of Python nor a keyword stands in it.
    assert not re.search(r"(?<![\w)])(?:figure)?\.(?:kinds|scale|titles|keep|points|theme)\(", message), message
    assert "codebook={" not in message
    proposals = [shlex.split(one.rstrip(",")) for one in OPTION.findall(message) if "FILE" not in one and "as_text" not in one]
    assert proposals or mends is None, message
    for words in proposals:
        code, again = run(folder, *shlex.split(line), *words)
        assert code != 2, (words, again)
        if mends:
            several = len(proposals) > 1
            assert several or part not in again, (words, again)
    if mends and len(proposals) > 1 and "says so" in message and "keeps" not in message:
        assert part not in run(folder, *shlex.split(line), *[word for words in proposals for word in words])[1]


PLAN = """
[plan]
formats = ["svg"]
[data.t]
file = "t.csv"
delimiter = ";"
decimal = ","
absent = ["n.b."]
[figure.f]
data = "t"
{figure}
"""
FIGURES = [
    ('map = { x = "mass", y = "salt", color = "year" }\nlayers = ["points"]', "export", "different whole numbers"),
    ('map = { x = "day", y = "mass" }\nlayers = ["points"]', "export", "fit two orders"),
    ('map = { x = "mass", y = "salt" }\nlayers = ["points"]\nscale.y = { kind = "log" }', "check", "no word says"),
    ('map = { x = "mass", y = "salt" }\nlayers = ["points"]', "check", "nothing says the unit of 'mass'"),
]


@pytest.mark.parametrize(("figure", "command", "part"), FIGURES)
def test_keys_that_are_proposed_for_a_plan_mend_it(folder, figure, command, part):
    (folder / "plan.toml").write_text(PLAN.format(figure=figure))
    _, told = run(folder, command, "plan.toml")
    message = line_with(told, part)
    (key,) = KEY.findall(message)[-1:]
    (folder / "plan.toml").write_text(PLAN.format(figure=f"{figure}\n{key.replace('…', 'x')}"))
    code, again = run(folder, command, "plan.toml", *(["--force"] if command == "export" else []))
    assert code != 2, again
    assert part not in again, (key, again)


@pytest.mark.parametrize(
    ("text", "line", "plan"),
    [
        ('.scale("x", "log", reverse=True)', "--scale x=log,reverse=true", 'scale.x = { kind = "log", reverse = true }'),
        ('figure.titles(x="Mass (kg)")', "--guide-title 'x=Mass (kg)'", 'titles = { x = "Mass (kg)" }'),
        ('.facet("cellar", per_row=2)', "--facet cellar --per-row 2", 'facet = { by = "cellar", per_row = 2 }'),
        ('figure.theme("ledger", text_size=9)', "--theme ledger --set text_size=9", 'theme = { name = "ledger", text_size = 9 }'),
        ('.keep("a > 1")', "--keep 'a > 1'", 'steps = [{ keep = "a > 1" }]'),
        ('.change("points", opacity=0.3)', "--layer points:opacity=0.3", "change.points = { opacity = 0.3 }"),
        ('.sheet("85 mm")', "--width '85 mm'", 'sheet = { width = "85 mm" }'),
        (
            'figure.lines: several rows; aggregate="mean" draws their mean',
            "figure.lines: several rows; --layer lines:aggregate=mean draws their mean",
            'figure.lines: several rows; lines = { aggregate = "mean" } draws their mean',
        ),
        ("set_defaults(query_seconds=…) gives it more", "--query-seconds gives it more", "--query-seconds gives it more"),
        # What is no call, or has no other word, stays.
        ("see wheels.csv (240 rows)", "see wheels.csv (240 rows)", "see wheels.csv (240 rows)"),
        (".data(rows) takes others", ".data(rows) takes others", ".data(rows) takes others"),
        ("an open bracket .kinds(a=", "an open bracket .kinds(a=", "an open bracket .kinds(a="),
    ],
)
def test_calls_become_options_or_keys(text, line, plan):
    assert worded(text, "line") == line
    assert worded(text, "plan") == plan


@pytest.mark.parametrize("width", [40, 60, 80])
def test_lines_of_a_terminal_are_broken_between_words_and_what_is_typed_stays_whole(width):
    text = "finding: t.csv: 15 of 720 values are no numbers; --read 'as_text=[Nitrat mg/l, a]' keeps them, and so on and on\n"
    lines = wrapped(text, width).splitlines()
    assert all(len(line) < width or "--read" in line for line in lines)
    assert "--read 'as_text=[Nitrat mg/l, a]'" in wrapped(text, width)
    assert " ".join(" ".join(lines).split()) == " ".join(text.split())
