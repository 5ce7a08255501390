"""The commands."""

from __future__ import annotations

import sys
import warnings
from pathlib import Path
from typing import Annotated, Any

import typer

from facetine.cli.report import Reporter
from facetine.cli.values import layer as read_layer
from facetine.cli.values import pairs, read_value
from facetine.cli.values import scale as read_scale
from facetine.errors import DataError, ExportError, OptionError
from facetine.grammar.given import Plain

Json = Annotated[bool, typer.Option("--json", help="One JSON object a line, for machines.")]
Quiet = Annotated[bool, typer.Option("--quiet", "-q", help="Say nothing but errors.")]


def demo(
    folder: Annotated[Path, typer.Argument(help="Where to write; made if it is missing.")] = Path("facetine-demo"),
    json: Json = False,
    quiet: Quiet = False,
) -> int:
    """Write the demo data, plan and figures: the first thing to run."""
    import shutil
    from importlib.resources import as_file, files

    from facetine.data.demo import write_demo_data

    try:
        write_demo_data(folder / "data")
        with as_file(files("facetine.batch") / "demo_plan.toml") as source:
            shutil.copyfile(source, folder / "plan.toml")
    except OSError as problem:
        raise ExportError(f"demo: can't write in {str(folder)!r}: {problem.strerror or problem}") from problem
    return export(folder / "plan.toml", json=json, quiet=quiet)


def export(
    plan: Annotated[Path, typer.Argument(help="The plan, a TOML file.")],
    only: Annotated[str | None, typer.Option(help="Export this figure alone.")] = None,
    out: Annotated[Path | None, typer.Option(help="The folder to write to; the plan's own by default.")] = None,
    query_seconds: Annotated[float | None, typer.Option(help="A query may take this long; 60 by default.")] = None,
    query_memory: Annotated[str | None, typer.Option(help='And as much memory; "4 GB" by default.')] = None,
    json: Json = False,
    quiet: Quiet = False,
) -> int:
    """Export the figures of a plan, one after the other; one that fails does not stop the others."""
    from facetine.batch.runner import Outcome, export_plan
    from facetine.session import defaults

    reporter = Reporter(json, quiet)

    def tell(outcome: Outcome) -> None:
        for number, file in enumerate(outcome.files):
            reporter.wrote(file, tuple(map(str, outcome.notes)) if number == 0 else (), outcome.name)
        reporter.notes(tuple(map(str, outcome.notes)), outcome.name)
        if outcome.error is not None:
            reporter.failed(outcome.name, outcome.error.line)

    with defaults(query_seconds=query_seconds, query_memory=query_memory):
        outcomes = export_plan(plan, only=only, out=out, told=tell)
    return 1 if any(outcome.error is not None for outcome in outcomes) else 0


def draw(
    data: Annotated[str, typer.Argument(help="A CSV, TSV, Parquet or JSON lines file; - reads standard input.")],
    output: Annotated[
        list[Path],
        typer.Option("--output", "-o", help="Where to write: .pdf, .svg, .eps, .emf, .png, .tiff and so on; repeatable."),
    ],
    map_: Annotated[list[str] | None, typer.Option("--map", "-m", help="aesthetic=column; repeatable.")] = None,
    layer: Annotated[
        list[str] | None,
        typer.Option("--layer", "-l", help="A layer, such as points:opacity=0.5; the one that suits by default."),
    ] = None,
    codebook: Annotated[
        list[Path] | None, typer.Option("--codebook", "-c", help="A codebook in TOML; of several, later ones add to earlier.")
    ] = None,
    kind: Annotated[list[str] | None, typer.Option("--kind", help="column=kind; repeatable.")] = None,
    facet: Annotated[str | None, typer.Option("--facet", "-f", help="A panel for each value of this column.")] = None,
    facet_rows: Annotated[str | None, typer.Option("--facet-rows", help="A row of panels for each value of this column.")] = None,
    facet_columns: Annotated[str | None, typer.Option("--facet-columns", help="A column of panels for each value.")] = None,
    per_row: Annotated[int | None, typer.Option("--per-row", help="Panels side by side.")] = None,
    separate: Annotated[str | None, typer.Option("--separate", help="x, y or xy: axes that each panel has of its own.")] = None,
    scale: Annotated[list[str] | None, typer.Option("--scale", "-s", help="x=log, or x=log,reverse=true; repeatable.")] = None,
    title: Annotated[str | None, typer.Option("--title", "-t", help="The title.")] = None,
    subtitle: Annotated[str | None, typer.Option("--subtitle", help="A line below the title.")] = None,
    note: Annotated[str | None, typer.Option("--note", help="A remark below the axes.")] = None,
    label: Annotated[list[str] | None, typer.Option("--label", help='x="Moisture (%)": a guide\'s title; repeatable.')] = None,
    theme: Annotated[str | None, typer.Option("--theme", help="A theme, or a TOML file of settings.")] = None,
    setting: Annotated[list[str] | None, typer.Option("--set", help="text_size=9: a setting of the theme; repeatable.")] = None,
    width: Annotated[str | None, typer.Option("--width", help='Such as "85 mm"; a bare number is millimetres.')] = None,
    height: Annotated[str | None, typer.Option("--height", help="Likewise; one that suits by default.")] = None,
    dpi: Annotated[float | None, typer.Option("--dpi", help="Pixels an inch, for PNG and the like; 300 by default.")] = None,
    json: Json = False,
    quiet: Quiet = False,
) -> int:
    """Draw one figure from a file."""
    import facetine as ft

    figure = figure_of(data, "draw", map_, layer, codebook, kind)
    if facet is not None or facet_rows is not None or facet_columns is not None:
        figure = figure.facet(facet, rows=facet_rows, columns=facet_columns, per_row=per_row, separate=separate)
    elif per_row is not None or separate is not None:
        raise OptionError(f"--{'per-row' if per_row is not None else 'separate'} says nothing without --facet")
    for text in scale or []:
        aesthetic, said = read_scale(text)
        figure = figure.scale(aesthetic, **said)
    figure = figure.titles(title, subtitle=subtitle, note=note, **pairs(label or [], "--label"))
    settings = {name: read_value(value) for name, value in pairs(setting or [], "--set").items()}
    if theme is not None or settings:
        figure = figure.theme(theme, **settings)
    with warnings.catch_warnings():
        warnings.simplefilter("ignore", ft.FacetineNote)
        done = figure.export(output, width=_length(width), height=_length(height), dpi=dpi)
    reporter = Reporter(json, quiet)
    for number, file in enumerate(done.files):
        reporter.wrote(file, tuple(map(str, done.notes)) if number == 0 else ())
    reporter.notes(tuple(map(str, done.notes)))
    return 0


def figure_of(
    data: str,
    where: str,
    map_: list[str] | None,
    layer: list[str] | None,
    codebook: list[Path] | None = None,
    kind: list[str] | None = None,
) -> Any:
    """The figure of a file with a mapping and layers; the layer that suits where none is said."""
    import facetine as ft

    mapped: Plain = dict(pairs(map_ or [], "--map"))
    columns = read_table(data, where)
    figure = ft.figure(columns, codebook=codebook).kinds(**pairs(kind or [], "--kind")).map(**mapped)
    for name, options in _layers(layer, figure._sentence.table, mapped, where):
        figure = figure._add_layer(name, options)
    return figure


def read_table(data: str, where: str) -> Any:
    """The columns of a file, or of standard input for "-"."""
    import facetine as ft

    if data != "-":
        return ft.read_columns(data, where=where)
    content = sys.stdin.buffer.read()
    if not content.strip():
        raise DataError(f"{where}: nothing came through standard input")
    return ft.read_bytes(content, where=where)


def _layers(given: list[str] | None, columns: Any, mapped: Plain, where: str) -> list[tuple[str, Plain]]:
    """The layers that were asked for, else the one that suits what is mapped."""
    if given:
        return [read_layer(text) for text in given]
    import facetine as ft

    places = {axis: mapped[axis] for axis in ("x", "y") if axis in mapped}
    if not places:
        raise OptionError(f"{where}: nothing is mapped to x or y", "write --map x=COLUMN --map y=COLUMN")
    return [(ft.suggest(columns, **places)[0].layer, {})]


def _length(text: str | None) -> Any:
    return None if text is None else read_value(text)
