"""The command that checks figures before print."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any, NamedTuple

import click

from facetine.cli.allowing import parted_allowed, say_allowed
from facetine.cli.commands import AESTHETIC, FILE, be_quiet, figure_of, say_json, say_text
from facetine.cli.completing import complete
from facetine.cli.lines import tell, to_output
from facetine.cli.rows import Rows, say_rows
from facetine.cli.values import pairs
from facetine.cli.values import scale as read_scale
from facetine.cli.wording import worded
from facetine.grammar.given import Plain
from facetine.messages.errors import FacetineError, OptionError

if TYPE_CHECKING:
    from facetine.batch.running import Checkable
    from facetine.checks.checked import CheckResult


@click.command()
@click.argument(
    "what", metavar="PLAN|DATA", shell_complete=complete("files"), help="A plan, or a file of data with --map and --layer."
)
@click.option("--only", metavar="FIGURE", shell_complete=complete("figures"), help="Of a plan: check this figure alone.")
@click.option(
    "--map",
    "-m",
    "map_",
    multiple=True,
    metavar=AESTHETIC,
    shell_complete=complete("mapping"),
    help="Of data: what a column shows itself as; repeatable.",
)
@click.option(
    "--layer",
    "-l",
    multiple=True,
    metavar="LAYER",
    shell_complete=complete("layers"),
    help="Of data: a layer, as for draw; repeatable.",
)
@say_text
@click.option("--codebook", "-c", type=FILE, multiple=True, metavar="FILE", help="Of data: a codebook in TOML.")
@click.option(
    "--kind",
    multiple=True,
    metavar="COLUMN=KIND",
    shell_complete=complete("kinds"),
    help="Of data: what a column holds; repeatable.",
)
@click.option(
    "--scale",
    "-s",
    multiple=True,
    metavar="SCALE",
    shell_complete=complete("scales"),
    help="Of data: x=log, or x=log,reverse=true; repeatable.",
)
@say_rows
@click.option("--title", "-t", help="Of data: the title.")
@click.option(
    "--guide-title",
    multiple=True,
    metavar="GUIDE=TEXT",
    shell_complete=complete("guides"),
    help='Of data: x="Moisture (%)", a guide\'s title; repeatable.',
)
@click.option(
    "--profile",
    "-p",
    shell_complete=complete("profiles"),
    help="print, wide, thesis, slide, poster or web; by the width where it is not given.",
)
@click.option("--silence", multiple=True, metavar="CODE=REASON", help="A code not to be reported, with its reason; repeatable.")
@click.option("--figure", type=FILE, metavar="FILE", help="Draw the sheet with its findings numbered on it.")
@say_allowed
@say_json
@be_quiet
def check(
    what: str,
    only: str | None,
    map_: Sequence[str],
    layer: Sequence[str],
    read: Sequence[str],
    codebook: Sequence[Path],
    kind: Sequence[str],
    scale: Sequence[str],
    rows: Rows,
    title: str | None,
    guide_title: Sequence[str],
    profile: str | None,
    silence: Sequence[str],
    figure: Path | None,
    allowed: Plain,
    json: bool,
    quiet: bool,
) -> int:
    """Find what may mislead or gets lost in print. Exits with 1 where a warning is found."""
    limits, allows = parted_allowed(allowed)
    with limits:
        said = OfData(map_, layer, codebook, kind, read, scale, rows, title, guide_title)
        every = _figures(what, only, said, allows)
        return _checked(every, pairs(silence, "--silence"), profile, figure, json, quiet)


def _checked(
    every: Iterable[Checkable],
    quieted: dict[str, str],
    profile: str | None,
    figure: Path | None,
    json: bool,
    quiet: bool,
) -> int:
    """Checks figures, one after the other; the exit code."""
    from facetine.figures.check import checked

    serious, count, drawn = 0, 0, 0
    for name, fig, own, width, height, placed in every:
        count += 1
        try:
            if isinstance(fig, FacetineError):
                raise fig
            found = checked(fig._sentence, profile, width, height, {**own, **quieted})
        except FacetineError as error:
            # An impossible figure is one finding more, and keeps nobody from looking at the others.
            _failed(name, placed(error), json)
            serious += 1
            continue
        serious += len(found.serious)
        _tell(name, found, json, quiet)
        if figure is not None:
            drawn += 1
            target = figure if drawn == 1 else figure.with_name(f"{figure.stem}-{name}{figure.suffix}")
            _draw(fig, found, width, height, target, json)
    if not count:
        raise OptionError("check", "there is no figure to check")
    return 1 if serious else 0


class OfData(NamedTuple):
    """What is said of a figure from a file of data, and of none of a plan."""

    map: Sequence[str] = ()
    layer: Sequence[str] = ()
    codebook: Sequence[Path] = ()
    kind: Sequence[str] = ()
    read: Sequence[str] = ()
    scale: Sequence[str] = ()
    rows: Rows = Rows()
    title: str | None = None
    guide_title: Sequence[str] = ()

    def figure(self, data: str) -> Any:
        """The figure."""
        made = figure_of(
            data, "check", self.map, self.layer, self.codebook, self.kind, self.read, others=self.scale, rows=self.rows
        )
        for text in self.scale:
            aesthetic, options = read_scale(text)
            made = made.scale(aesthetic, **options)
        titles = {**({"title": self.title} if self.title is not None else {}), **pairs(self.guide_title, "--guide-title")}
        return made.titles(**titles) if titles else made


def _figures(what: str, only: str | None, of_data: OfData, allows: Plain) -> Iterator[Checkable]:
    """Each figure, or the error of one that can't be said."""
    from facetine.batch.running import Checkable

    if not what.lower().endswith(".toml"):
        if only is not None:
            raise OptionError("check", "--only is for plans")
        if any(allows.values()):
            raise OptionError("check", "what is allowed besides is allowed to plans", "leave --allow-… and --password-env out")
        yield Checkable(Path(what).stem, of_data.figure(what), {}, None, None, _raised)
        return
    if of_data != OfData():
        names = [f"--{name.replace('_', '-')}" for name in OfData._fields if name != "rows"]
        said = f"leave {', '.join(names)} and options of rows out"
        raise OptionError("check", "a plan says its own data, mapping, layers and codebook", said)
    from facetine.batch.runner import figures_of_plan

    yield from figures_of_plan(Path(what), only, **allows)


def _raised(error: FacetineError) -> FacetineError:
    """A figure of the command line's own that is impossible is a wrong call."""
    raise error


def _tell(name: str, found: CheckResult, as_json: bool, quiet: bool) -> None:
    if as_json:
        import json

        for one in found:
            said = {"figure": name, "code": one.code, "severity": one.severity, "where": one.where, "text": worded(one.text)}
            to_output(json.dumps({**said, "fix": worded(one.fix), "group": one.group, "at": one.at}, ensure_ascii=False) + "\n")
        for one, reason in found.silenced:
            to_output(json.dumps({"figure": name, "code": one.code, "silenced": reason}, ensure_ascii=False) + "\n")
        return
    if not quiet or found.serious:
        to_output(f"{name}\n")
        to_output("".join(f"  {worded(line)}\n" for line in repr(found).splitlines()))


def _failed(name: str, error: FacetineError, as_json: bool) -> None:
    if as_json:
        import json

        to_output(json.dumps({"figure": name, "error": worded(error.line)}, ensure_ascii=False) + "\n")
    tell(f"facetine: {name}: {error.line}\n")


def _draw(fig: Any, found: CheckResult, width: Any, height: Any, target: Path, as_json: bool) -> None:
    from facetine.checks.sheet import numbered_sheet
    from facetine.export.export import built, targets
    from facetine.export.files import write_whole
    from facetine.writers.formats import FORMATS, Options

    (path,) = targets(target, None)
    said = fig._sentence
    if width is None and height is None and said.sheet.width is None:
        width = f"{found.profile.width_mm:g} mm"
    scene = numbered_sheet(built(said, width, height, "check").scene, found)
    write_whole(path, FORMATS[path.suffix.lower().lstrip(".")].write(scene, Options(dpi=200)).content)
    if not as_json:
        to_output(f"wrote {path}\n")
