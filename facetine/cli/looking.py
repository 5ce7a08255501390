"""Commands that tell: what a file holds, and what Facetine offers."""

from __future__ import annotations

import sys
from collections.abc import Callable, Mapping
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, TypeVar

import typer

from facetine.cli.commands import Json, read_table
from facetine.cli.values import pairs
from facetine.errors import OptionError, unknown

if TYPE_CHECKING:
    from facetine.data.inspected import ColumnFacts
    from facetine.data.table import Table
    from facetine.layers.suggest import Suggestion
    from facetine.registry import Registry

T = TypeVar("T")
TOPICS = ("layers", "scales", "themes", "palettes", "fonts", "formats")


def inspect(
    data: Annotated[str, typer.Argument(help="A CSV, TSV, Parquet or JSON lines file; - reads standard input.")],
    map_: Annotated[list[str] | None, typer.Option("--map", "-m", help="x=column and y=column: which layers suit them.")] = None,
    codebook: Annotated[Path | None, typer.Option("--codebook", help="Write a starter codebook here.")] = None,
    json: Json = False,
) -> int:
    """Tell columns, kinds, ranges and missing values; which layers suit; and write a codebook to begin with."""
    import facetine as ft
    from facetine.data.inspected import facts, starter_codebook
    from facetine.data.intake import taken_in
    from facetine.files import write_whole

    table = taken_in(read_table(data, "inspect"), "inspect")
    found = facts(table)
    mapped = pairs(map_ or [], "--map")
    wrong = [axis for axis in mapped if axis not in ("x", "y")]
    if wrong:
        raise OptionError(f"inspect: --map takes x and y, not {wrong[0]!r}")
    suggestions = ft.suggest(table, **mapped) if mapped else []
    if json:
        _as_json(table, found, suggestions)
    else:
        _as_text(data, table, found, suggestions)
    if codebook is not None:
        write_whole(codebook, starter_codebook(table).encode("utf-8"))
        _out(f"wrote {codebook}")
    return 0


def _as_json(table: Table, found: list[ColumnFacts], suggestions: list[Suggestion]) -> None:
    import json

    said = {
        "rows": table.height,
        "columns": [fact._asdict() for fact in found],
        "suggestions": [suggestion._asdict() for suggestion in suggestions],
    }
    _out(json.dumps(said, ensure_ascii=False))


def _as_text(data: str, table: Table, found: list[ColumnFacts], suggestions: list[Suggestion]) -> None:
    _out(f"{data}  {table.height:,} rows, {len(found)} columns")
    name = max((len(fact.name) for fact in found), default=0)
    for fact in found:
        missing = f"  {fact.missing:,} missing" if fact.missing else ""
        count = f"{fact.distinct:,} values" if fact.kind != "number" else ""
        _out(f"  {fact.name:<{name}}  {fact.kind:<8}  {count:<13} {fact.range}{missing}".rstrip())
    for fact in found:
        if fact.hint:
            sys.stderr.write(f"note: {fact.hint}\n")
    for suggestion in suggestions:
        _out(f"  {suggestion.layer}: {suggestion.reason}")


def catalog(
    topic: Annotated[str, typer.Argument(help=f"One of {', '.join(TOPICS)}.")],
    figure: Annotated[
        Path | None, typer.Option("--figure", help="Draw palettes or fonts into this file: .pdf, .svg or .png.")
    ] = None,
) -> int:
    """List what there is: layers, scales, themes, palettes, fonts or formats."""
    if topic not in TOPICS:
        raise unknown(OptionError, "catalog", "no topic", topic, TOPICS, "topics")
    if figure is not None:
        if topic not in ("palettes", "fonts"):
            raise OptionError(f"catalog: no figure of {topic}", "palettes and fonts have one")
        _draw_sheet(topic, figure)
        return 0
    entries = _entries(topic)
    wide = max(14, *(len(name) for name, _ in entries))
    for name, says in entries:
        _out(f"{name:<{wide}}  {says}" if says else name)
    return 0


def _entries(topic: str) -> list[tuple[str, str]]:
    if topic == "layers":
        from facetine.layers import LAYERS

        return _said(LAYERS, lambda kind: (kind.__doc__ or "").split("\n")[0])
    if topic == "scales":
        from facetine.core.scales.kinds import SCALES
        from facetine.grammar.scale import OTHER_KINDS

        return [*_said(SCALES, lambda kind: kind.says), *OTHER_KINDS.items()]
    if topic == "themes":
        from facetine.grammar.theme import THEME_WORDS, THEMES

        return _said(THEMES, lambda _: "", THEME_WORDS)
    if topic == "palettes":
        from facetine.core.color.registry import PALETTES

        return _said(PALETTES, lambda palette: f"{palette.sort:<15} {' '.join(palette.colors)}")
    if topic == "fonts":
        from facetine.scene.catalog import catalog

        return [(name, found.described) for name, found in catalog().items()]
    from facetine.writers.formats import FORMATS

    return _said(FORMATS, lambda entry: entry.says)


def _said(registry: Registry[T], says: Callable[[T], str], words: Mapping[str, str] | None = None) -> list[tuple[str, str]]:
    """What a registry has, in words; what other packages add but can't be loaded is named on stderr."""
    broken = registry.broken()
    for line in broken.values():
        sys.stderr.write(f"note: {line}\n")
    known = words or {}
    return [(name, known.get(name) or says(registry[name])) for name in registry.all_names() if name not in broken]


def _draw_sheet(topic: str, path: Path) -> None:
    from facetine.files import write_whole
    from facetine.output import targets
    from facetine.pipeline.swatches import font_sheet, palette_sheet
    from facetine.writers.formats import FORMATS, Options

    (target,) = targets(path, None)
    scene = palette_sheet() if topic == "palettes" else font_sheet()
    made = FORMATS[target.suffix.lower().lstrip(".")].write(scene, Options(dpi=200))
    write_whole(target, made.content)
    _out(f"wrote {target}")


def _out(line: str) -> None:
    sys.stdout.write(f"{line}\n")
