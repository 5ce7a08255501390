"""Commands to start from: a plan of one's own, the sentence of a figure, completion in the shell."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import click

from facetine.cli.allowing import parted_allowed, say_allowed
from facetine.cli.commands import FILE
from facetine.cli.completing import complete
from facetine.cli.lines import to_output
from facetine.grammar.given import Plain
from facetine.messages.errors import ExportError, OptionError

_PLAN = """#:schema plan.schema.json
# A plan of figures. Make them with:  facetine export {plan}
# The first line lets editors complete and check it, by what  facetine catalog schema  prints.

[plan]
out = "figures"
formats = ["pdf", "svg"]
width = "85 mm"
codebook = "codebook.toml"

[data.wheels]
file = "wheels.csv"

[figure.first]
data = "wheels"
map = {{ x = "moisture_pct", y = "firmness_n", color = "rind" }}
layers = [{{ points = {{ opacity = 0.7 }} }}]
titles = {{ title = "Firmness falls as moisture rises" }}

[figure.cellars]
like = "first"
facet = "cellar"
titles = {{ title = "In every cellar" }}
"""
_BOOK = """# What is known of the columns, written once for all figures.

moisture_pct = { label = "Moisture", unit = "%" }
firmness_n = { label = "Firmness", unit = "N" }
rind = { label = "Rind", order = ["washed", "bloomy", "natural", "waxed"] }
cellar = { label = "Cellar" }
"""


@click.command()
@click.argument("folder", type=FILE, default=Path("."), help="Where to write; made if it is missing.")
def new(folder: Path) -> int:
    """Write a plan and a codebook to start from. Nothing that is there is touched.

    \b
    facetine new paper
    facetine export paper/plan.toml
    """
    from facetine.batch.schema import NAME as SCHEMA
    from facetine.batch.schema import schema_text
    from facetine.data.demo import demo_data
    from facetine.export.files import write_whole

    table: Any = demo_data("wheels")
    wheels = table.to_csv(index=False)
    plan = folder / "plan.toml"
    contents = {"plan.toml": _PLAN.format(plan=plan), "codebook.toml": _BOOK, "wheels.csv": wheels, SCHEMA: schema_text()}
    there = [name for name in contents if (folder / name).exists()]
    if there:
        raise ExportError(
            "new", f"{', '.join(there)} is there already in {str(folder)!r}", "another folder, or another name for it"
        )
    for name, content in contents.items():
        write_whole(folder / name, content.encode("utf-8"))
        to_output(f"wrote {folder / name}\n")
    to_output(f"Make its figures:  facetine export {plan}\n")
    return 0


@click.command()
@click.argument("plan", type=FILE, help="The plan.")
@click.option("--only", metavar="FIGURE", shell_complete=complete("figures"), help="This figure alone.")
@say_allowed
def code(plan: Path, only: str | None, allowed: Plain) -> int:
    """Print figures of a plan in Python. What is printed runs, and makes the same figures; one with each, of all rows.

    \b
    facetine code paper.toml --only firmness
    """
    from facetine.batch.coding import code_of
    from facetine.batch.plan import read_plan
    from facetine.data.allowed import allowed_of, apart_too
    from facetine.messages.errors import PlanError, unknown

    limits, allows = parted_allowed(allowed)
    found = read_plan(plan, allowed_of("code", **allows))
    if only is not None and only not in found.names:
        raise unknown(PlanError, f"{plan.name}: only", "no figure", only, found.names, "figures")
    with limits, apart_too():
        to_output(code_of(found, only))
    return 0


@click.command()
@click.argument("shell", shell_complete=complete("shells"), help="bash, zsh or fish.")
def completion(shell: str) -> int:
    """Print what lets a shell complete commands. Evaluate it where the shell starts.

    \b
    eval "$(facetine completion bash)"
    """
    from facetine.cli.completing import shell_class
    from facetine.cli.main import app

    kind = shell_class(shell)
    if kind is None:
        raise OptionError("completion", f"no shell {shell!r}", "bash, zsh, fish")
    to_output(kind(app, {}, "facetine", "_FACETINE_COMPLETE").source() + "\n")
    return 0
