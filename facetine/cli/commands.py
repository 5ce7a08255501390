"""The commands."""

from __future__ import annotations

import sys
import warnings
from collections.abc import Callable, Container, Mapping, Sequence
from pathlib import Path
from typing import Any, TypeVar

import click

from facetine.cli.allowing import parted_allowed, say_allowed
from facetine.cli.completing import complete
from facetine.cli.lines import to_output
from facetine.cli.report import Reporter
from facetine.cli.rows import Rows, say_rows
from facetine.cli.values import layer as read_layer
from facetine.cli.values import pairs, read_value
from facetine.cli.values import scale as read_scale
from facetine.grammar.given import Plain
from facetine.messages.errors import DataError, ExportError, FacetineFinding, OptionError
from facetine.messages.findings import as_notes

A = TypeVar("A", bound=Callable[..., Any])

FILE = click.Path(path_type=Path)
AESTHETIC = "AESTHETIC=COLUMN"
_ALL_ROWS = Rows()
_SIGNS = {"tab": "\t", "\\t": "\t", "blank": " ", "": " ", "comma": ",", "semicolon": ";", "bar": "|"}
"""Signs that are hard to write on a command line, and words for them."""


def say_json(command: A) -> A:
    """Adds --json to a command."""
    return click.option("--json", is_flag=True, help="One JSON object a line, for machines.")(command)


def be_quiet(command: A) -> A:
    """Adds --quiet to a command."""

    def told(context: click.Context, parameter: click.Parameter, quiet: bool) -> bool:
        del context, parameter
        if quiet:
            warnings.simplefilter("ignore", FacetineFinding)
        return quiet

    said = "Say nothing but errors."
    return click.option("--quiet", "-q", is_flag=True, is_eager=True, callback=told, help=said)(command)


def say_text(command: A) -> A:
    """Adds --read to a command."""
    said = (
        "Of a table: decimal=, or thousands=, absent=[n.b., -999], as_text=plot; of a text also delimiter=;, encoding, quote, "
        "comment, skip, header; repeatable."
    )
    return click.option("--read", multiple=True, metavar="NAME=VALUE", shell_complete=complete("reading"), help=said)(command)


TABLE = (
    "A text (.csv, .tsv, also .gz, .zst), .parquet, .json, .jsonl, .arrow, .feather, .xlsx#Sheet or .db#table; - reads standard "
    "input, pasted the clipboard."
)


@click.command()
@click.argument("folder", type=FILE, default=Path("facetine-demo"), help="Where to write; made if it is missing.")
@say_json
@be_quiet
def demo(folder: Path, json: bool, quiet: bool) -> int:
    """Write the demo data, plan and figures: the first thing to run."""
    import shutil
    from importlib.resources import as_file, files

    from facetine.batch.schema import NAME as SCHEMA
    from facetine.batch.schema import schema_text
    from facetine.data.demo import write_demo_data
    from facetine.export.files import write_whole

    try:
        write_demo_data(folder / "data")
        with as_file(files("facetine.batch") / "demo_plan.toml") as source:
            shutil.copyfile(source, folder / "plan.toml")
        write_whole(folder / SCHEMA, schema_text().encode("utf-8"))
    except OSError as problem:
        raise ExportError("demo", f"can't write in {str(folder)!r}: {problem.strerror or problem}") from problem
    from facetine.cli.batch import exported

    code = exported(folder / "plan.toml", json, quiet, {}, brief=True)
    if not (json or quiet):
        plan, wheels, page = folder / "plan.toml", folder / "data" / "wheels.csv", folder / "figures" / "index.html"
        shown = (
            f"All figures on one page:  {page}",
            f"Change the plan, and make again what has changed:  facetine export {plan}",
            f"A figure of your own:  facetine draw {wheels} -m x=moisture_pct -m y=firmness_n -o out.pdf",
        )
        to_output("\n".join(shown) + "\n")
    return code


@click.command()
@click.argument("plan", type=FILE, help="The plan, a TOML file.")
@click.option("--only", metavar="FIGURE", shell_complete=complete("figures"), help="Export this figure alone.")
@click.option("--out", type=FILE, metavar="FOLDER", help="The folder to write to; the plan's own by default.")
@click.option(
    "--jobs",
    "-j",
    type=int,
    metavar="N",
    help="How many processes draw; as many as there is work for by default.",
)
@click.option("--force", is_flag=True, help="Draw also what would come out the same.")
@click.option("--strict", is_flag=True, help="Take warnings, such as a figure without rows, for failures.")
@click.option("--prune", is_flag=True, help="Remove files of figures that the plan has no more; those alone that are ours.")
@click.option("--watch", is_flag=True, help="Draw again whenever the plan, its data or its other files change.")
@say_allowed
@say_json
@be_quiet
def export(
    plan: Path,
    only: str | None,
    out: Path | None,
    jobs: int | None,
    force: bool,
    strict: bool,
    prune: bool,
    watch: bool,
    allowed: Plain,
    json: bool,
    quiet: bool,
) -> int:
    """Export the figures of a plan. What would come out the same stays, and one that fails does not stop the others.

    \b
    facetine export paper.toml
    facetine export paper.toml --only firmness --force
    facetine export paper.toml --watch
    """
    from facetine.cli.batch import exported, watched

    limits, allows = parted_allowed(allowed)
    asked: Plain = {"only": only, "out": out, "jobs": jobs, "force": force, "strict": strict, "prune": prune, **allows}
    with limits:
        return watched(plan, json, quiet, asked) if watch else exported(plan, json, quiet, asked)


@click.command()
@click.argument("data", shell_complete=complete("files"), help=TABLE)
@click.option(
    "--output",
    "-o",
    type=FILE,
    multiple=True,
    metavar="FILE",
    help="Where to write: .pdf, .svg, .eps, .emf, .png, .tiff and so on; repeatable. - is standard output.",
)
@click.option(
    "--format", "format_", metavar="FORMAT", shell_complete=complete("formats"), help="What standard output gets; svg by default."
)
@say_text
@click.option(
    "--map",
    "-m",
    "map_",
    multiple=True,
    metavar=AESTHETIC,
    shell_complete=complete("mapping"),
    help="What a column, or x=sql:EXPRESSION, shows itself as; repeatable.",
)
@click.option(
    "--layer",
    "-l",
    multiple=True,
    metavar="LAYER",
    shell_complete=complete("layers"),
    help="Such as points:opacity=0.5; by default the one that suits; repeatable.",
)
@click.option(
    "--codebook",
    "-c",
    type=FILE,
    multiple=True,
    metavar="FILE",
    help="A codebook in TOML; of several, later ones add to earlier.",
)
@click.option(
    "--kind", multiple=True, metavar="COLUMN=KIND", shell_complete=complete("kinds"), help="What a column holds; repeatable."
)
@say_rows
@click.option(
    "--facet", "-f", metavar="COLUMN", shell_complete=complete("columns"), help="A panel for each value of this column."
)
@click.option(
    "--facet-rows", metavar="COLUMN", shell_complete=complete("columns"), help="A row of panels for each value of this column."
)
@click.option("--facet-columns", metavar="COLUMN", shell_complete=complete("columns"), help="A column of panels for each value.")
@click.option("--per-row", type=int, help="Panels side by side.")
@click.option(
    "--separate", metavar="AXES", shell_complete=complete("separate"), help="x, y or xy: axes that each panel has of its own."
)
@click.option(
    "--scale",
    "-s",
    multiple=True,
    metavar="SCALE",
    shell_complete=complete("scales"),
    help="x=log, or x=log,reverse=true; repeatable.",
)
@click.option("--title", "-t", help="The title.")
@click.option("--subtitle", help="A line below the title.")
@click.option("--note", help="A remark below the axes.")
@click.option(
    "--guide-title",
    multiple=True,
    metavar="GUIDE=TEXT",
    shell_complete=complete("guides"),
    help='x="Moisture (%)": a guide\'s title; repeatable.',
)
@click.option("--theme", shell_complete=complete("themes"), help="A theme, or a TOML file of settings.")
@click.option(
    "--set",
    "setting",
    multiple=True,
    metavar="SETTING=VALUE",
    shell_complete=complete("settings"),
    help="text_size=9: a setting of the theme; repeatable.",
)
@click.option("--width", metavar="LENGTH", help='Such as "85 mm"; a bare number is millimetres.')
@click.option("--height", metavar="LENGTH", help="Likewise; one that suits by default.")
@click.option("--dpi", type=float, help="Pixels an inch, for PNG and the like; 300 by default.")
@click.option("--numbers", type=FILE, metavar="FILE", help="Write the numbers behind the figure here too: a .csv.")
@click.option("--spreadsheet", is_flag=True, help="Quote texts in it that a spreadsheet would take for formulas.")
@say_json
@be_quiet
def draw(
    data: str,
    output: Sequence[Path],
    format_: str | None,
    read: Sequence[str],
    map_: Sequence[str],
    layer: Sequence[str],
    codebook: Sequence[Path],
    kind: Sequence[str],
    rows: Rows,
    facet: str | None,
    facet_rows: str | None,
    facet_columns: str | None,
    per_row: int | None,
    separate: str | None,
    scale: Sequence[str],
    title: str | None,
    subtitle: str | None,
    note: str | None,
    guide_title: Sequence[str],
    theme: str | None,
    setting: Sequence[str],
    width: str | None,
    height: str | None,
    dpi: float | None,
    numbers: Path | None,
    spreadsheet: bool,
    json: bool,
    quiet: bool,
) -> int:
    """Draw one figure from a file. Where nothing is mapped, the one that suits its columns, with its sentence to go on from.

    \b
    facetine draw wheels.csv
    facetine draw wheels.csv -m x=age_days -m y=mass_kg -l points:opacity=0.5
    facetine draw cellar.db#climate -m x=time -m y=temp_c -f cellar -o air.svg
    """
    import facetine as ft

    if spreadsheet and numbers is None:
        raise OptionError("draw", "--spreadsheet is for the table that --numbers writes", "--numbers out.csv --spreadsheet")
    proposed = not map_ and not layer
    others = (facet, facet_rows, facet_columns, *scale, title, subtitle, note, *guide_title)
    figure = figure_of(data, "draw", map_, layer, codebook, kind, read, proposed, others, rows)
    if facet is not None or facet_rows is not None or facet_columns is not None:
        figure = figure.facet(facet, rows=facet_rows, columns=facet_columns, per_row=per_row, separate=separate)
    elif per_row is not None or separate is not None:
        raise OptionError("", f"--{'per-row' if per_row is not None else 'separate'} has no effect without --facet")
    for text in scale:
        aesthetic, said = read_scale(text)
        figure = figure.scale(aesthetic, **said)
    figure = figure.titles(title, subtitle=subtitle, note=note, **pairs(guide_title, "--guide-title"))
    settings = {name: read_value(value) for name, value in pairs(setting, "--set").items()}
    if theme is not None or settings:
        figure = figure.theme(theme, **settings)
    sizes: Plain = {"width": _length(width), "height": _length(height), "dpi": dpi}
    asked, piped = _targets(output, format_, data)
    with warnings.catch_warnings():
        warnings.simplefilter("ignore", ft.FacetineFinding)
        done = _exported(figure, asked, piped, sizes)
    # What is told must not get into a figure on standard output.
    reporter = Reporter(json and not piped, quiet or piped is not None)
    for number, file in enumerate(done.files):
        if str(file.path) != str(piped):
            reporter.wrote(file, as_notes(done.findings) if number == 0 else ())
    if numbers is not None:
        from facetine.export.tables import written_numbers

        size = {"width": _length(width), "height": _length(height)}
        reporter.wrote_table(written_numbers(figure, numbers, spreadsheet=spreadsheet, **size))
    Reporter(json and not piped, quiet).notes(as_notes(done.findings))
    if proposed and not (json or quiet or piped):
        _go_on(figure, data, codebook, read)
    return 0


def _targets(output: Sequence[Path], format_: str | None, data: str) -> tuple[list[Path], Path | None]:
    """The files that are written, and the one among them that goes to standard output.

    Raises:
        OptionError: A format is said of files, whose names say it.
    """
    import tempfile

    files = [path for path in output if str(path) != "-"]
    if len(files) == len(output):
        if format_ is not None:
            raise OptionError("draw", "--format is of standard output", f"-o - --format {format_}, or -o out.{format_}")
        return files or [_unsaid(data)], None
    piped = Path(tempfile.mkdtemp(prefix="facetine-")) / f"figure.{format_ or 'svg'}"
    return [*files, piped], piped


def _unsaid(data: str) -> Path:
    """A file beside no other: what is drawn where no name is said."""
    stem = "figure" if data in ("-", "pasted") else Path(data.partition("#")[0]).name.partition(".")[0] or "figure"
    return Path(f"{stem}-figure.pdf")


def _exported(figure: Any, files: list[Path], piped: Path | None, options: Plain) -> Any:
    """Exports a figure, and puts what standard output gets there."""
    import shutil

    try:
        done = figure.export(files, **options)
        if piped is not None:
            sys.stdout.buffer.write(piped.read_bytes())
            sys.stdout.buffer.flush()
    finally:
        if piped is not None:
            shutil.rmtree(piped.parent, ignore_errors=True)
    return done


def _go_on(figure: Any, data: str, codebook: Sequence[Path], read: Sequence[str]) -> None:
    """The sentence of a proposed figure, in Python and as a plan."""
    from facetine.grammar.plantext import plan_text

    source = "data.csv" if data in ("-", "pasted") else data
    text, books = _text_said(read), [str(one) for one in codebook]
    options = "".join(f", {name}={value!r}" for name, value in text.items())
    book = f", codebook={books!r}" if books else ""
    verbs = [f"    {line.strip()}" for line in repr(figure).splitlines()[1:]]
    python = ["import facetine as ft", "", f"data = ft.read({source!r}{options})", "figure = (", f"    ft.figure(data{book})"]
    name = _unsaid(data).stem.removesuffix("-figure")
    plan = plan_text(name, figure.to_dict(), {"file": source, **text}, books).splitlines()
    to_output(f"\nThe same in Python:\n\n{_indented([*python, *verbs, ')'])}\n")
    to_output(f"As a plan, for  facetine export plan.toml:\n\n{_indented(plan)}")


def _indented(lines: Sequence[str]) -> str:
    return "".join(f"    {line}".rstrip() + "\n" for line in lines)


def figure_of(
    data: str,
    where: str,
    map_: Sequence[str],
    layer: Sequence[str],
    codebook: Sequence[Path] = (),
    kind: Sequence[str] = (),
    read: Sequence[str] = (),
    proposed: bool = False,
    others: Sequence[str | None] = (),
    rows: Rows = _ALL_ROWS,
) -> Any:
    """The figure of a file with a mapping and layers; the layer that suits where none is said.

    Args:
        data: The file.
        where: Who asks, for the error.
        map_: Aesthetics and columns.
        layer: Layers.
        codebook: Files.
        kind: Columns and kinds.
        read: What is said of a text.
        proposed: Whether the figure that suits the table is drawn, with nothing mapped.
        others: What else is said that may name columns.
        rows: Which rows are drawn, and what stands at the edges.

    Raises:
        FacetineError: One of them is wrong, or the table suits no figure.
    """
    import facetine as ft

    mapped: Plain = {
        name: ft.sql(value.removeprefix("sql:")) if value.startswith("sql:") else value
        for name, value in pairs(map_, "--map").items()
    }
    from facetine.data.mentions import Everything, Mentioned

    said = [*map_, *layer, *kind, *rows.said, *(text for text in others if text is not None)]
    kept = as_written(pairs(kind, "--kind"))
    expected = Everything() if proposed else Mentioned(said, codebook)
    columns = read_table(data, where, read, expected, books=[*codebook, kept])
    # The kind of a column that is derived can be said when it is there.
    figure = rows.taken(ft.figure(columns, codebook=list(codebook) or None)).kinds(**pairs(kind, "--kind")).map(**mapped)
    if proposed:
        from facetine.layers.suggestions import suggestions_for

        # Of the rows that are kept, with the columns that are derived.
        found = suggestions_for(figure._sentence.table)
        if not found:
            raise DataError(where, f"{data} holds no value to draw")
        return rows.finished(found[0].added(figure))
    for name, options in _layers(layer, figure._sentence.table, mapped, where):
        figure = figure._add_layer(name, options)
    return rows.finished(figure)


def as_written(kinds: Mapping[str, str]) -> Plain:
    """A codebook by which columns are taken as they are written: categories, and times by a pattern."""
    written = ("category", "ordered", "time:")
    return {column: {"kind": "category"} for column, kind in kinds.items() if kind.startswith(written)}


def read_table(
    data: str,
    where: str,
    read: Sequence[str] = (),
    expected: Container[str] | None = None,
    books: Sequence[Any] = (),
) -> Any:
    """The columns of a file, or of standard input for "-".

    Args:
        data: The file.
        where: Who asks, for the error.
        read: What is said of a text.
        expected: Columns that are likely to be asked for; all where it is None.
        books: Codebooks, whose categories stay as they are written.
    """
    from facetine.data.mentions import Everything
    from facetine.data.queries import TableSource, columns_of
    from facetine.data.wishes import known_beside

    said = known_beside(_text_said(read), list(books) or None)
    source = TableSource(files=data, said=said, expected=Everything() if expected is None else expected)
    if data == "pasted" and not Path(data).exists():
        source = source._replace(pasted=True)
    elif data == "-":
        source = source._replace(content=sys.stdin.buffer.read())
        if not (source.content or b"").strip():
            raise DataError(where, "nothing came through standard input")
    return columns_of(source, where)


def _text_said(read: Sequence[str]) -> Plain:
    """What --read says of a text."""
    said: Plain = dict(pairs(read, "--read"))
    said |= {name: read_value(said[name]) for name in ("skip", "header") if name in said}
    for name in ("absent", "as_text"):
        if name in said:
            value = read_value(said[name])
            said[name] = [str(one) for one in value] if isinstance(value, list) else [said[name]]
    if "delimiter" in said:
        said["delimiter"] = _SIGNS.get(said["delimiter"], said["delimiter"])
    return said


def _layers(given: Sequence[str], columns: Any, mapped: Plain, where: str) -> list[tuple[str, Plain]]:
    """The layers that were asked for, else the one that suits what is mapped."""
    if given:
        return [read_layer(text) for text in given]
    from facetine.layers.suggest import suggest

    places = {axis: mapped[axis] for axis in ("x", "y") if axis in mapped}
    if not places:
        raise OptionError(where, "nothing is mapped to x or y", "write --map x=COLUMN --map y=COLUMN")
    return [(suggest(columns, **places)[0].layer, {})]


def _length(text: str | None) -> Any:
    return None if text is None else read_value(text)
