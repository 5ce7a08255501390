"""The figures of a plan, exported one after the other; one that fails does not stop the others."""

from __future__ import annotations

import warnings
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import facetine as ft
from facetine.batch.plan import FigurePlan, Plain, Plan, PlatePlan, Source, read_plan
from facetine.errors import FacetineError, PlanError, unknown
from facetine.findings import Finding


@dataclass(frozen=True, slots=True)
class Outcome:
    """What became of one figure."""

    name: str
    files: tuple[Any, ...] = ()
    """The files written, each with path, width_mm, height_mm, size and seconds."""
    notes: tuple[Finding, ...] = ()
    error: FacetineError | None = None
    values: Any = None
    """The table of the numbers behind it, with path, rows and size, where one was written."""


def export_plan(
    path: str | Path, *, only: str | None = None, out: str | Path | None = None, told: Callable[[Outcome], None] | None = None
) -> list[Outcome]:
    """Exports the figures of a plan.

    Args:
        path: The plan, a TOML file; its paths are relative to its folder.
        only: The name of one figure; all where it is not given.
        out: The folder to write to, anywhere; by default the plan's own, which lies below the plan's folder.
        told: Called with each outcome as soon as it is there.

    Returns:
        An outcome for each figure; failed ones hold their error.

    Raises:
        PlanError: The plan can't be read or is not sound; no figure is drawn then.

    Example:
        >>> import facetine as ft
        >>> outcomes = ft.export_plan("plan.toml")  # doctest: +SKIP
    """
    file = Path(path)
    plan = read_plan(file)
    every = {**plan.figure, **plan.plate}
    for name in plan.plate:
        if name in plan.figure:
            raise PlanError(f"{file.name}: plate.{name} and figure.{name} have one name", "give the plate another one")
    if only is not None and only not in every:
        raise unknown(PlanError, f"{file.name}: only", "no figure", only, every, "figures")
    targets = _targets(plan, file, out)
    chosen = [only] if only is not None else [name for name in every if getattr(every[name], "alone", True)]
    outcomes = []
    for outcome in _exported(plan, chosen, targets, _Sources(plan, file.parent)):
        if told is not None:
            told(outcome)
        outcomes.append(outcome)
    return outcomes


def figures_of_plan(path: Path, only: str | None = None) -> Iterator[tuple[str, Any, dict[str, str], Any, Any]]:
    """The figures and plates of a plan, to be checked: name, figure, silence, width and height; the error of one that fails.

    Raises:
        PlanError: The plan can't be read or is not sound.
    """
    plan = read_plan(path)
    every: dict[str, FigurePlan | PlatePlan] = {**plan.figure, **plan.plate}
    if only is not None and only not in every:
        raise unknown(PlanError, f"{path.name}: only", "no figure", only, every, "figures")
    figures = _Figures(plan, _Sources(plan, path.parent))
    for name in [only] if only is not None else every:
        said = every[name]
        silence = dict(getattr(said, "silence", {}))
        try:
            figure = figures.figure(name) if name in plan.figure else figures.plate(name)
        except FacetineError as error:
            yield name, error, silence, None, None
        else:
            usual = name in plan.figure and not said.sheet
            width = plan.plan.width if said.width is None and usual else said.width
            yield name, figure, silence, width, plan.plan.height if said.height is None and usual else said.height


class _Sources:
    """The tables of a plan, each read once."""

    def __init__(self, plan: Plan, folder: Path) -> None:
        self.plan = plan
        self.folder = folder
        self.tables: Plain = {}

    def table(self, name: str) -> Any:
        """The columns of a source."""
        if name not in self.tables:
            source = self.plan.data[name]
            origin = source.origin or name
            first = self.plan.data[origin]
            files = first.url if first.url is not None else self._files(first, f"data.{origin}")
            text = {**first.text(), "limit": first.limit, "timeout": first.timeout}
            self.tables[name] = ft.read_columns(files, sql=source.sql, name=origin, where=f"data.{name}", steady=True, **text)
        return self.tables[name]

    def _files(self, source: Source, where: str) -> list[Path]:
        """The files of a source; those of a pattern in the order of their names."""
        if source.glob is None:
            return [self.folder / name for name in ([source.file] if isinstance(source.file, str) else source.file or [])]
        try:
            found = sorted(path for path in self.folder.glob(source.glob) if path.is_file())
        except (ValueError, NotImplementedError, OSError) as problem:
            raise PlanError(f"{where}: glob {source.glob!r} is no pattern of files below the plan's folder") from problem
        if not found:
            raise PlanError(f"{where}: no file matches {source.glob!r}", "patterns begin at the plan's folder")
        return found


def _exported(plan: Plan, chosen: list[str], targets: dict[str, list[Path]], sources: _Sources) -> Iterator[Outcome]:
    figures = _Figures(plan, sources)
    for name in chosen:
        said = plan.figure.get(name) or plan.plate[name]
        try:
            drawn = figures.figure(name) if name in plan.figure else figures.plate(name)
            # What the figure says itself goes before what is said for all of them.
            usual = name in plan.figure and not said.sheet
            size: Plain = {
                "width": plan.plan.width if said.width is None and usual else said.width,
                "height": plan.plan.height if said.height is None and usual else said.height,
            }
            with warnings.catch_warnings():
                # The notes come back with the outcome; as warnings they would be said twice.
                warnings.simplefilter("ignore", ft.FacetineNote)
                done = drawn.export(targets[name], dpi=plan.plan.dpi, **size)
                table = None
                if getattr(said, "values", False):
                    from facetine.frames import written_values

                    table = written_values(drawn, targets[name][0].with_suffix(".csv"), **size)
        except FacetineError as error:
            yield Outcome(name, error=error)
        else:
            yield Outcome(name, done.files, done.notes, values=table)


class _Figures:
    """The figures of a plan; those of plates are made once, so that one in neighbouring places spans them."""

    def __init__(self, plan: Plan, sources: _Sources) -> None:
        self.plan, self.sources = plan, sources

    def figure(self, name: str) -> Any:
        """A figure by its name."""
        said, folder = self.plan.figure[name], self.sources.folder
        data = self.sources.table(said.data) if said.data is not None else None
        file = [folder / self.plan.plan.codebook] if self.plan.plan.codebook else []
        spec = said.spec() | self._theme(self.plan.plan.theme, said.theme)
        figure = ft.from_dict(spec, data, codebook=[*file, self.plan.codebook, said.codebook])
        for layer, options in said.change.items():
            figure = figure.change(layer, **options)
        return figure.without(*said.without) if said.without else figure

    def plate(self, name: str) -> Any:
        """A plate by its name.

        Raises:
            PlanError: It names a figure that is not there.
        """
        from facetine.plates import with_looks

        said, made = self.plan.plate[name], dict[str, Any]()
        rows = [[self._cell(cell, made, f"plate.{name}") for cell in row] for row in said.rows]
        return with_looks(ft.plate(rows, **said.options()), said.looks() | self._theme(said.theme))

    def _theme(self, *said: str | Plain | None) -> Plain:
        """Themes laid over each other, where there are any; a theme's file stands beside the plan."""
        laid: Plain = {}
        for theme in said:
            laid |= {"name": theme} if isinstance(theme, str) else theme or {}
        if str(laid.get("name", "")).endswith(".toml"):
            laid["name"] = str(self.sources.folder / laid["name"])
        return {"theme": laid} if laid else {}

    def _cell(self, said: Any, made: dict[str, Any], where: str) -> Any:
        if said == "":
            return None
        if isinstance(said, list):
            return [self._cell(inner, made, where) for inner in said]
        if isinstance(said, dict):
            options = {str(name): value for name, value in said.items()}
            path = options.pop("picture", None)
            if not isinstance(path, str):
                raise PlanError(f"{where}: a table in rows is a picture", 'such as { picture = "rind.png", scale_bar = "5 mm" }')
            key = repr(said)
            if key not in made:
                made[key] = ft.picture(self.sources.folder / path, **options)
            return made[key]
        if said not in self.plan.figure:
            raise unknown(PlanError, where, "no figure", said, self.plan.figure, "figures")
        if said not in made:
            made[said] = self.figure(said)
        return made[said]


def _targets(plan: Plan, file: Path, elsewhere: str | Path | None) -> dict[str, list[Path]]:
    """The files of every figure.

    Raises:
        PlanError: A name leaves the output folder, or two figures would write one file.
    """
    out = file.parent / plan.plan.out if elsewhere is None else Path(elsewhere)
    if elsewhere is None and not out.resolve().is_relative_to(file.parent.resolve()):
        raise PlanError(f"{file.name}: plan.out {plan.plan.out!r} leaves the plan's folder", "--out FOLDER writes anywhere")
    taken: dict[Path, str] = {}
    targets: dict[str, list[Path]] = {}
    every: dict[str, FigurePlan | PlatePlan] = {**plan.figure, **plan.plate}
    for name, figure in every.items():
        stem = figure.file or name
        where = f"{file.name}: {'figure' if name in plan.figure else 'plate'}.{name}"
        if Path(stem).is_absolute() or not (out / stem).resolve().is_relative_to(out.resolve()):
            raise PlanError(f"{where}: file {stem!r} leaves the output folder", f"out: {out}")
        targets[name] = [out / f"{stem}.{suffix.lstrip('.')}" for suffix in figure.formats or plan.plan.formats]
        tables = [out / f"{stem}.csv"] if getattr(figure, "values", False) else []
        for target in [*targets[name], *tables]:
            if target.resolve() in taken:
                raise PlanError(f"{where} and {taken[target.resolve()]} would both write {target.name!r}")
            taken[target.resolve()] = f"{'figure' if name in plan.figure else 'plate'}.{name}"
    return targets
