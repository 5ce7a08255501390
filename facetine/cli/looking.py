"""Commands that tell: what a file holds, and what Facetine offers."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING, TypeVar

import click

from facetine.catalogs.catalog import TOPICS
from facetine.cli.commands import FILE, TABLE, as_written, read_table, say_json, say_text
from facetine.cli.completing import complete
from facetine.cli.lines import room_in_terminal, tell, to_output
from facetine.cli.values import pairs
from facetine.messages.errors import OptionError, unknown

if TYPE_CHECKING:
    from facetine.data.inspected import ColumnFacts
    from facetine.data.table import Table
    from facetine.layers.suggest import LayerSuggestion

T = TypeVar("T")


@click.command()
@click.argument("data", shell_complete=complete("files"), help=TABLE)
@click.option(
    "--map",
    "-m",
    "map_",
    multiple=True,
    metavar="AXIS=COLUMN",
    shell_complete=complete("mapping"),
    help="x=column and y=column: which layers suit them.",
)
@click.option(
    "--kind",
    multiple=True,
    metavar="COLUMN=KIND",
    shell_complete=complete("kinds"),
    help="What a column holds; repeatable.",
)
@say_text
@click.option("--codebook", type=FILE, metavar="FILE", help="Write a starter codebook here.")
@click.option("--report", type=FILE, metavar="FILE", help="Write a page here (.html) that draws every variable.")
@say_json
def inspect(
    data: str,
    map_: Sequence[str],
    kind: Sequence[str],
    read: Sequence[str],
    codebook: Path | None,
    report: Path | None,
    json: bool,
) -> int:
    """Tell what a file holds. Columns, kinds, how values spread, what is missing; figures to begin with, or layers that suit.

    \b
    facetine inspect wheels.csv
    facetine inspect wheels.csv -m x=rind -m y=mass_kg
    facetine inspect book.xlsx#Sheet --report look.html
    """
    from facetine.data.inspected import facts, starter_codebook
    from facetine.data.intake import taken_in
    from facetine.data.reread import of_kinds
    from facetine.export.files import write_whole
    from facetine.layers.suggest import suggest

    kinds = pairs(kind, "--kind")
    table = of_kinds(taken_in(read_table(data, "inspect", read, books=[as_written(kinds)]), "inspect").sound(), kinds, "inspect")
    found = facts(table)
    mapped = pairs(map_, "--map")
    wrong = [axis for axis in mapped if axis not in ("x", "y")]
    if wrong:
        raise OptionError("inspect", f"--map takes x and y, not {wrong[0]!r}")
    suggestions = suggest(table, **mapped) if mapped else []
    if json:
        _as_json(data, table, found, suggestions)
    else:
        _as_text(data, table, found, suggestions)
        if not mapped:
            _suggest(data, table)
    if codebook is not None:
        write_whole(codebook, starter_codebook(table).encode("utf-8"))
        _out(f"wrote {codebook}")
    if report is not None:
        from facetine.inspection.inspection import Inspection

        _out(f"wrote {Inspection(table).report(report, title=data, source=data)}")
    return 0


def _as_json(data: str, table: Table, found: list[ColumnFacts], suggestions: list[LayerSuggestion]) -> None:
    import json

    from facetine.layers.suggestions import suggestions_for

    figures = [
        {"sentence": one.sentence, "command": one.command(data, number), "reason": one.reason}
        for number, one in enumerate(suggestions_for(table), 1)
    ]
    said = {
        "rows": table.height,
        "columns": [fact._asdict() for fact in found],
        "layers": [suggestion._asdict() for suggestion in suggestions],
        "suggestions": figures,
    }
    _out(json.dumps(said, ensure_ascii=False))


def _as_text(data: str, table: Table, found: list[ColumnFacts], suggestions: list[LayerSuggestion]) -> None:
    _out(f"{data}  {table.height:,} rows, {len(found)} columns")
    from facetine.data.inspected import sparkline

    name = max((len(fact.name) for fact in found), default=0)
    for fact in found:
        missing = f"  {fact.missing:,} missing" if fact.missing else ""
        spread = sparkline(table.column(fact.name))
        line = f"  {fact.name:<{name}}  {fact.kind:<8}  {fact.distinct:>6,} values  {spread:<12}  "
        range_, room = fact.range, room_in_terminal()
        if room is not None and len(line) + len(range_) + len(missing) >= room:
            # A line a column: what has no space is cut, and never what is missing.
            range_ = range_[: max(room - len(line) - len(missing) - 2, 4)] + "…"
        _out(f"{line}{range_}{missing}".rstrip())
    for hint in (*table.hints, *(fact.hint for fact in found if fact.hint)):
        tell(f"hint: {hint}\n")
    for suggestion in suggestions:
        _out(f"  {suggestion.layer}: {suggestion.reason}")


def _suggest(data: str, table: Table) -> None:
    """Figures to begin with, each with the command that draws it."""
    from facetine.layers.suggestions import suggestions_for

    found = suggestions_for(table)
    if found:
        _out("figures to begin with:")
    for number, one in enumerate(found, 1):
        _out(f"  {one.reason}")
        _out(f"    {one.command(data, number)}")


@click.command()
@click.argument("topic", shell_complete=complete("topics"), help=f"One of {', '.join(TOPICS)}, schema.")
@click.option(
    "--figure", type=FILE, metavar="FILE", help="Draw layers, themes, palettes or fonts into this file: .pdf, .svg or .png."
)
def catalog(topic: str, figure: Path | None) -> int:
    """List what there is. Layers, scales, themes, palettes, fonts, formats, profiles or rules; or what a plan may say.

    \b
    facetine catalog layers
    facetine catalog themes --figure themes.pdf
    facetine catalog schema > plan.schema.json
    """
    if topic not in (*TOPICS, "schema"):
        raise unknown(OptionError, "catalog", "no topic", topic, (*TOPICS, "schema"), "topics")
    if topic == "schema":
        return _schema(figure)
    if figure is not None:
        if topic not in ("palettes", "fonts"):
            import facetine as ft

            written = ft.catalog(topic).figure().export(figure)
            _out("\n".join(f"wrote {file.path}" for file in written.files))
            return 0
        _draw_sheet(topic, figure)
        return 0
    import warnings

    from facetine.catalogs.catalog import catalog as listed

    with warnings.catch_warnings(record=True) as said:
        warnings.simplefilter("always")
        found = listed(topic)
    for note in said:
        tell(f"finding: {note.message}\n")
    wide = max(14, *(len(entry.name) for entry in found))
    for entry in found:
        _out(f"{entry.name:<{wide}}  {entry.says}" if entry.says else entry.name)
        if entry.suits:
            _out(f"{'':<{wide}}    for {entry.suits}; loses {entry.loses}")
    return 0


def _schema(figure: Path | None) -> int:
    """The JSON Schema of plans, for editors that complete and check."""
    from facetine.batch.schema import schema_text

    if figure is not None:
        raise OptionError("catalog", "no figure of schema", "layers, themes, palettes and fonts have one")
    to_output(schema_text())
    return 0


def _draw_sheet(topic: str, path: Path) -> None:
    from facetine.catalogs.swatches import font_sheet, palette_sheet
    from facetine.export.export import targets
    from facetine.export.files import write_whole
    from facetine.writers.formats import FORMATS, Options

    (target,) = targets(path, None)
    scene = palette_sheet() if topic == "palettes" else font_sheet()
    made = FORMATS[target.suffix.lower().lstrip(".")].write(scene, Options(dpi=200))
    write_whole(target, made.content)
    _out(f"wrote {target}")


def _out(line: str) -> None:
    to_output(f"{line}\n")
