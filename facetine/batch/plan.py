"""Plans: TOML files of data sources, codebook and figures, read and checked. A plan is data; nothing in it is run."""

from __future__ import annotations

from pathlib import Path
from typing import Any, TypeAlias

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from facetine.batch.likes import with_likes
from facetine.errors import PlanError, nearest, unknown

Plain: TypeAlias = dict[str, Any]
"""A table of a plan."""


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid", strict=True)


class Settings(_Part):
    """What holds for all figures of a plan."""

    out: str = "figures"
    formats: list[str] = ["pdf"]
    width: str | int | float | None = None
    height: str | int | float | None = None
    dpi: int | float | None = None
    theme: str | Plain | None = None
    codebook: str | None = None


class Source(_Part):
    """Where a table comes from: a file, several with the same columns, an address, or another source through a query."""

    file: str | list[str] | None = None
    glob: str | None = None
    url: str | None = None
    """An address of the web, from which a file is fetched."""
    limit: str | None = None
    timeout: int | float | None = None
    origin: str | None = Field(default=None, alias="from")
    sql: str | None = None
    delimiter: str | None = None
    decimal: str | None = None
    thousands: str | None = None
    encoding: str | None = None
    quote: str | None = None
    comment: str | None = None
    skip: int | None = None
    header: bool | None = None

    def text(self) -> Plain:
        """What is said of a text, for `facetine.read`."""
        return self.model_dump(exclude={"file", "glob", "url", "limit", "timeout", "origin", "sql"}, exclude_none=True)


BESIDE = ("data", "codebook", "width", "height", "formats", "file", "alone", "silence", "change", "without", "values")
"""The parts of a figure that are none of its sentence: its data, its size and its files."""


class FigurePlan(_Part):
    """One figure: its data, its sentence, and how it is written."""

    data: str | None = None
    steps: list[Plain] = []
    swap_axes: bool = False
    map: Plain = {}
    kinds: dict[str, str] = {}
    layers: list[object] = []
    facet: str | Plain | None = None
    matrix: Plain | None = None
    vary: Plain | None = None
    subset: int | Plain | None = None
    highlight: str | Plain | None = None
    insets: list[Plain] = []
    marginals: list[Plain] = []
    panel: Plain | None = None
    sheet: Plain | None = None
    scale: Plain = {}
    titles: str | Plain | None = None
    theme: str | Plain | None = None
    seed: int | None = None
    codebook: Plain = {}
    width: str | int | float | None = None
    height: str | int | float | None = None
    formats: list[str] | None = None
    file: str | None = None
    alone: bool = True
    """Whether it is written as a file of its own, and not only as a part of plates."""
    silence: dict[str, str] = {}
    """Codes of findings that the check is not to say, each with its reason."""
    values: bool = False
    """Whether the numbers behind it are written beside it."""
    change: dict[str, Plain] = {}
    """Options of layers of the figure that it is like, by the layer's verb or name."""
    without: list[str] = []
    """Layers of it that are left out."""

    def spec(self) -> Plain:
        """The sentence as `facetine.from_dict` takes it."""
        said = {name: getattr(self, name) for name in self.model_fields_set if name not in BESIDE}
        return {name: value for name, value in said.items() if value not in ("", [], {})}


class PlatePlan(_Part):
    """Figures of the plan, and pictures beside it, on one sheet."""

    rows: list[list[Any]]
    """Names of figures, tables of a picture, or lists of these for what stands below each other; "" for an empty place."""
    letters: str | list[str] | None = None
    letter_place: str = "corner"
    letter_size: float | None = None
    letter_weight: float = 700
    widths: list[float] | None = None
    heights: list[float] | None = None
    gap_x: str | int | float | None = None
    gap_y: str | int | float | None = None
    share_legend: bool = False
    same_scale: list[str] = []
    sheet: Plain | None = None
    scale: Plain = {}
    titles: str | Plain | None = None
    theme: str | Plain | None = None
    width: str | int | float | None = None
    height: str | int | float | None = None
    formats: list[str] | None = None
    file: str | None = None

    def options(self) -> Plain:
        """Those of `facetine.plate`."""
        names = ("letters", "letter_place", "letter_size", "letter_weight", "widths", "heights", "gap_x", "gap_y", "share_legend")
        return {name: getattr(self, name) for name in names}

    def looks(self) -> Plain:
        """What is said of all its figures."""
        return {name: value for name in ("same_scale", "sheet", "titles", "theme", "scale") if (value := getattr(self, name))}


class Plan(_Part):
    """A whole plan."""

    plan: Settings = Settings()
    data: dict[str, Source] = {}
    codebook: Plain = {}
    figure: dict[str, FigurePlan] = {}
    plate: dict[str, PlatePlan] = {}


def read_plan(path: Path) -> Plan:
    """A plan from its file.

    Raises:
        PlanError: The file is missing, is no TOML, or holds something that no plan has.
    """
    import tomllib

    try:
        given = tomllib.loads(path.read_text("utf-8-sig"))
    except FileNotFoundError as problem:
        beside = [file.name for file in path.parent.glob("*.toml")] if path.parent.is_dir() else []
        raise unknown(PlanError, "export", "no plan", str(path), sorted(beside), "plans beside") from problem
    except (OSError, UnicodeDecodeError) as problem:
        raise PlanError(f"{path.name}: can't be read: {problem}") from problem
    except RecursionError:
        raise PlanError(f"{path.name}: nested too deep") from None
    except ValueError as problem:
        # Mistakes of TOML, and numbers of more digits than Python reads.
        raise PlanError(f"{path.name}: no TOML: {str(problem)[:160]}") from problem
    given["figure"] = with_likes(given.get("figure", {}), path.name)
    try:
        plan = Plan.model_validate(given)
    except ValidationError as problem:
        raise _said(problem, path.name) from problem
    _check(plan, path.name)
    return plan


def _said(problem: ValidationError, name: str) -> PlanError:
    """The first thing that is wrong, in our words."""
    error = problem.errors()[0]
    place = [str(step) for step in error["loc"] if not str(step).startswith(("str", "dict[", "int", "float"))]
    where = f"{name}: {'.'.join(place[:-1])}" if len(place) > 1 else name
    if error["type"] == "extra_forbidden":
        known = _keys_at(place[:-1])
        close = nearest(place[-1], known)
        hint = f". Did you mean {close!r}?" if close else ""
        return PlanError(f"{where}: no key {place[-1]!r}{hint}", f"keys: {', '.join(known)}")
    return PlanError(f"{name}: {'.'.join(place)}: {error['msg'].lower()}, not {error['input']!r}")


def _keys_at(place: list[str]) -> list[str]:
    models: dict[str, type[BaseModel]] = {"plan": Settings, "data": Source, "figure": FigurePlan, "plate": PlatePlan}
    model = models.get(place[0], Plan) if place else Plan
    return [field.alias or name for name, field in model.model_fields.items()]


def _check(plan: Plan, name: str) -> None:
    """What belongs together must be there.

    Raises:
        PlanError: A source or a figure names data that are not there, or says too much or too little.
    """
    for key, source in plan.data.items():
        where = f"{name}: data.{key}"
        if sum(said is not None for said in (source.file, source.glob, source.url, source.origin)) != 1:
            said = 'file = "…", glob = "…", url = "https://…" or from = "…"'
            raise PlanError(f"{where}: a source has a file, a pattern of files, an address, or is made from another source", said)
        for file in [source.file] if isinstance(source.file, str) else source.file or []:
            if "://" in file:
                raise PlanError(f"{where}: file {file!r} is an address", f'url = "{file}" fetches it')
        if source.url is not None and not source.url.lower().startswith(("https://", "http://")):
            raise PlanError(f"{where}: url {source.url!r} is no address of the web", f'file = "{source.url}" is a file')
        if source.url is None and (source.limit is not None or source.timeout is not None):
            raise PlanError(f"{where}: limit and timeout are for what is fetched from an address", 'url = "https://…"')
        if source.origin is not None and source.text():
            said = f"{where}: {next(iter(source.text()))} says nothing of a source that is made from another one"
            raise PlanError(said, f"it belongs to [data.{source.origin}]")
        if source.origin is not None and source.sql is None:
            raise PlanError(f"{where}: from {source.origin!r}, but there is no sql that says how")
        if source.origin is not None and source.origin not in plan.data:
            raise unknown(PlanError, where, "no source", source.origin, plan.data, "sources")
        if source.origin is not None and plan.data[source.origin].origin is not None:
            raise PlanError(f"{where}: {source.origin!r} is made by a query itself", "begin from a source with a file")
    for key, figure in plan.figure.items():
        if figure.data is not None and figure.data not in plan.data:
            raise unknown(PlanError, f"{name}: figure.{key}", "no source", figure.data, plan.data, "sources")
    if not plan.figure:
        raise PlanError(f"{name}: no figure, so there is nothing to export", "a figure begins with [figure.NAME]")
