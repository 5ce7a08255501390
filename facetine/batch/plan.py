"""Plans, read and checked: all that is wrong is told at once, with its line."""

from __future__ import annotations

import os
import re
from collections.abc import Collection, Iterable, Iterator, Mapping
from dataclasses import dataclass, field
from pathlib import Path
from typing import TYPE_CHECKING, Any, TypeVar

from facetine.batch.codebooks import wrong_entries
from facetine.batch.including import with_included
from facetine.batch.likes import with_likes
from facetine.batch.located import Places
from facetine.data.allowed import Allowed
from facetine.messages.errors import PlanError, nearest, told, unknown

if TYPE_CHECKING:
    from pydantic import ValidationError

    from facetine.batch.models import DocumentPlan, FigurePlan, Part, PlatePlan, Settings, Source

Plain = dict[str, Any]
P = TypeVar("P", bound="Part")
_MOST_TABLES = 20_000
_MOST_MISTAKES = 100
"""Of one part of a plan; who made so many did not mean it."""
_TABLES = ("plan", "data", "codebook", "figure", "plate", "document")


@dataclass(frozen=True)
class Said:
    """A plan as it is written, with what it includes, before anything is checked."""

    path: Path
    tables: Plain
    places: Places
    files: tuple[Path, ...]
    """All plans that were read."""
    clashes: tuple[str, ...] = ()
    """What two of them say otherwise."""

    @property
    def name(self) -> str:
        """Of the file."""
        return self.path.name


@dataclass(frozen=True)
class Plan:
    """A plan that is sound, but for parts of figures, which fail alone."""

    said: Said
    settings: Settings
    data: Mapping[str, Source]
    codebook: Plain
    figure: Mapping[str, FigurePlan]
    plate: Mapping[str, PlatePlan]
    document: Mapping[str, DocumentPlan]
    wrong: Mapping[str, PlanError] = field(default_factory=dict)
    """What is wrong with figures, plates and documents, by their names."""
    allowed: Allowed = field(default_factory=Allowed)
    """What whoever runs it allows it besides."""

    @property
    def folder(self) -> Path:
        """That of the plan, in which its paths begin."""
        return self.said.path.parent

    @property
    def names(self) -> list[str]:
        """Of all figures and plates, in their order, sound or not."""
        return [*self.said.tables.get("figure", {}), *self.said.tables.get("plate", {})]


def read_said(path: Path) -> Said:
    """What a plan says, with the plans that it includes below it, and figures that are like others in full.

    Raises:
        PlanError: A file is missing, or is no TOML and no JSON; or plans include each other.
    """
    tables, places, files, clashes = with_included(path)
    tables["figure"] = with_likes(tables.get("figure", {}), path.name)
    return Said(path, tables, places, files, clashes)


def read_plan(path: Path, allowed: Allowed | None = None) -> Plan:
    """A plan from its file.

    Args:
        path: The file.
        allowed: What whoever runs it allows it besides.

    Raises:
        PlanError: The file is missing or no plan; or its settings, data or codebook are wrong. The error has all that is
            wrong with these.
    """
    return checked_plan(read_said(path), allowed)


def checked_plan(said: Said, allowed: Allowed | None = None) -> Plan:
    """A plan whose parts are checked.

    Raises:
        PlanError: Its settings, data or codebook are wrong.
    """
    from facetine.batch import models

    fatal: list[PlanError] = []
    tables, places = said.tables, said.places
    odd = [name for name in tables if name not in _TABLES][:_MOST_MISTAKES]
    fatal += [_no_key("", name, _TABLES, places.where(name)) for name in odd]
    fatal.extend(
        PlanError(name, f"is a table, not {told(tables[name])}", of_option=True, at=places.where(name))
        for name in _TABLES[1:]
        if not isinstance(tables.get(name, {}), Mapping)
    )
    fatal.extend(
        PlanError(
            "", f"{len(tables[name]):,} tables of {name}", f"{_MOST_TABLES:,} are the most; several plans have more", at=said.name
        )
        for name in ("data", "figure", "plate", "document")
        if isinstance(tables.get(name), Mapping) and len(tables[name]) > _MOST_TABLES
    )
    if fatal:
        raise together(fatal)
    settings, problems = _part(models.Settings, tables.get("plan", {}), ("plan",), places)
    fatal.extend(problems)
    data: dict[str, Source] = {}
    for name, given in tables.get("data", {}).items():
        source, problems = _part(models.Source, given, ("data", name), places)
        fatal += problems
        if source is not None:
            data[name] = source
    fatal += [problem for name, source in data.items() for problem in _wrong_source(name, source, data, places)]
    fatal += _wrong_settings(settings, said.path.parent, places) if settings is not None else []
    # As it is written: the other settings may be wrong.
    said_books = tables["plan"].get("codebook") if isinstance(tables.get("plan"), Mapping) else None
    books = said_books if isinstance(said_books, list) else [said_books]
    there = [file for name in books if isinstance(name, str) and (file := said.path.parent / name).is_file()]
    fatal += wrong_entries(there, tables.get("codebook", {}), places)
    figure, wrong = _parts(models.FigurePlan, "figure", tables, places)
    plate, wrong_plates = _parts(models.PlatePlan, "plate", tables, places)
    document, wrong_documents = _parts(models.DocumentPlan, "document", tables, places)
    for key, one in list(figure.items()):
        if one.data is not None and one.data not in tables.get("data", {}):
            problem = unknown(PlanError, f"figure.{key}", "no source", one.data, data, "sources")
            wrong[key] = problem.but(at=places.where("figure", key, "data"))
            del figure[key]
    for key in plate:
        if key in tables.get("figure", {}):
            said_twice, at = f"plate.{key} and figure.{key} have one name", places.where("plate", key)
            fatal.append(PlanError("", said_twice, "give the plate another one", at=at))
    if not tables.get("figure"):
        fatal.append(PlanError("", "no figure", "such as [figure.firmness]", at=said.name))
    whole = {**wrong, **wrong_plates, **wrong_documents}
    if fatal:
        raise together([*fatal, *whole.values()])
    assert settings is not None
    return Plan(said, settings, data, dict(tables.get("codebook", {})), figure, plate, document, whole, allowed or Allowed())


def together(problems: list[PlanError]) -> PlanError:
    """Several errors as one, which tells the first and has the others."""
    return problems[0].but(others=tuple(problems[1:]))


def _parts(model: type[P], kind: str, tables: Plain, places: Places) -> tuple[dict[str, P], dict[str, PlanError]]:
    """The sound parts of a kind, and what is wrong with the others."""
    sound: dict[str, P] = {}
    wrong: dict[str, PlanError] = {}
    for name, given in tables.get(kind, {}).items():
        made, problems = _part(model, given, (kind, name), places)
        if made is None:
            wrong[name] = together(problems)
        else:
            sound[name] = made
    return sound, wrong


def _part(model: type[P], given: object, path: tuple[str, ...], places: Places) -> tuple[P | None, list[PlanError]]:
    """A part of a plan, or all that is wrong with it."""
    from pydantic import ValidationError

    if not isinstance(given, Mapping):
        return None, [PlanError(".".join(path), f"is a table, not {told(given)}", of_option=True, at=places.where(*path))]
    try:
        return model.model_validate(given), []
    except ValidationError as problem:
        return None, list(_told(problem, model, path, places))


def _told(problem: ValidationError, model: type[Part], path: tuple[str, ...], places: Places) -> Iterator[PlanError]:
    """Every mistake, once, in our words."""
    known = [entry.alias or name for name, entry in model.model_fields.items()]
    seen: set[tuple[str, ...]] = set()
    for error in problem.errors():
        steps = tuple(str(step) for step in error["loc"] if not str(step).startswith(("str", "dict[", "int", "float", "list[")))
        if steps in seen:
            continue
        if len(seen) >= _MOST_MISTAKES:
            return
        seen.add(steps)
        where, at = ".".join(path), places.where(*path, *steps)
        if error["type"] == "extra_forbidden":
            yield _no_key(where, steps[-1], known, at)
        elif error["type"] == "missing":
            yield PlanError(where, f"{steps[-1]} is not given", at=at)
        else:
            yield PlanError(".".join((*path, *steps)), f"{error['msg'].lower()}, not {told(error['input'])}", at=at)


def _no_key(where: str, given: str, known: Iterable[str], at: str) -> PlanError:
    """The error for a key that no table of a plan has."""
    keys = list(known)
    proposed = nearest(given, keys) or ""
    return PlanError(where, f"no key {given!r}", f"keys: {', '.join(keys)}", given=given, proposed=proposed, at=at)


def _wrong_settings(settings: Settings, folder: Path, places: Places) -> Iterator[PlanError]:
    for name in [settings.codebook] if isinstance(settings.codebook, str) else settings.codebook or []:
        if not (folder / name).is_file():
            yield PlanError("plan.codebook", f"no file {name!r}", at=places.where("plan", "codebook"))
    theme = settings.theme if isinstance(settings.theme, str) else None
    if theme is not None and theme.endswith(".toml") and not (folder / theme).is_file():
        yield PlanError("plan.theme", f"no file {theme!r}", at=places.where("plan", "theme"))


def _wrong_source(key: str, source: Source, data: Mapping[str, Source], places: Places) -> Iterator[PlanError]:
    """What belongs together must be there, and nothing else."""
    where, at = f"data.{key}", places.where("data", key)
    if source.origins != 1:
        said = 'file = "…", glob = "…", url = "https://…", database = "…" or from = "…"'
        yield PlanError(
            where, "a source has a file, a pattern of files, an address, a database, or is made from another", said, at=at
        )
        return
    for file in [source.file] if isinstance(source.file, str) else source.file or []:
        if "://" in file:
            said = f'url = "{file}" fetches it' if file.lower().startswith("http") else f'database = "{file}" asks it'
            yield PlanError(where, f"file {file!r} is an address", said, at=at)
    if source.url is not None and not source.url.lower().startswith(("https://", "http://")):
        yield PlanError(where, f"url {source.url!r} is no address of the web", f'file = "{source.url}" is a file', at=at)
    if source.url is None and (source.limit is not None or source.timeout is not None):
        yield PlanError(where, "limit and timeout are for what is fetched from an address", 'url = "https://…"', at=at)
    if source.names is not None and source.glob is None and not isinstance(source.file, list):
        yield PlanError(where, "names is for several files", 'glob = "runs/*.csv"', at=at)
    unheard = list(source.text()) if source.origin is not None else source.of_texts if source.database is not None else []
    if unheard:
        what = "made from another one" if source.origin is not None else "a database"
        other = f"it belongs to [data.{source.origin}]" if source.origin is not None else ""
        yield PlanError(where, f"{unheard[0]} has no effect on a source that is {what}", other, at=at)
    if source.database is not None and (source.sql is None) == (source.table is None):
        yield PlanError(where, "a database is asked by sql, or for a table", 'sql = "SELECT …" or table = "wheels"', at=at)
    if source.database is None and source.table is not None:
        yield PlanError(where, "table is for a database", 'of a file "cellar.db#wheels" says it', at=at)
    if source.origin is not None:
        if source.sql is None:
            yield PlanError(where, f"from {source.origin!r}, but there is no sql that says how", at=at)
        if source.origin not in data:
            yield unknown(PlanError, where, "no source", source.origin, data, "sources").but(at=at)
        elif data[source.origin].origin is not None:
            yield PlanError(where, f"{source.origin!r} is made by a query itself", "begin from a source with a file", at=at)


_VARIABLE = re.compile(r"\$\{(\w+)\}")
_SERVER = "user:${PASSWORD}@host"


def with_password(address: str, where: str, allowed: Collection[str]) -> str:
    """A database's address with the variable of the environment that it has in the place of its password.

    Args:
        address: As the plan says it.
        where: Who asks, for the error.
        allowed: The names of variables that whoever runs the plan has given.

    Raises:
        PlanError: There is no such variable, it was not given, or one stands elsewhere.
    """
    if _VARIABLE.search(address) and not address.partition("://")[1]:
        raise PlanError(where, "a variable of the environment stands for the password of a server alone", _SERVER)
    before, sign, after = address.rpartition("@")
    user, colon, password = before.rpartition(":")
    if not sign or not colon or _VARIABLE.search(user) or _VARIABLE.search(after):
        if _VARIABLE.search(address):
            raise PlanError(where, "a variable of the environment stands for the password alone", _SERVER)
        return address

    def value(found: re.Match[str]) -> str:
        from urllib.parse import quote

        if found[1] not in allowed:
            said = f"the plan asks for the variable {found[1]!r} of the environment as a password"
            raise PlanError(where, said, f"--password-env {found[1]} gives it, or password_env=[{found[1]!r}]")
        if found[1] not in os.environ:
            raise PlanError(where, f"the environment has no variable {found[1]!r}", "it holds the database's password")
        return quote(os.environ[found[1]], safe="")

    return f"{user}:{_VARIABLE.sub(value, password)}@{after}"
