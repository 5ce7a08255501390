"""Plans that include others: what those say lies under what the plan says itself, key by key."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from pathlib import Path
from typing import Any, NamedTuple

from facetine.batch.located import Places
from facetine.data.plain import plain_text
from facetine.data.toml import parsed_toml
from facetine.messages.errors import PlanError, listed, told, unknown

Plain = dict[str, Any]
_MOST_INCLUDED = 50
_WHOLE = ("data", "figure", "plate", "document")
"""Tables whose parts are one thing each, and are not mixed of two."""


class Included(NamedTuple):
    """What a plan says, with the plans that it includes below it."""

    tables: Plain
    places: Places
    files: tuple[Path, ...]
    """All plans that were read."""
    clashes: tuple[str, ...]
    """What two of them say otherwise, and which of these holds, a remark a pair of plans."""


def with_included(path: Path) -> Included:
    """A plan from its file, with those that it includes.

    Raises:
        PlanError: A file is missing, or is no TOML and no JSON; or plans include each other.
    """
    files: list[Path] = []
    clashes: list[str] = []
    tables, places = _read(path, (), files, clashes)
    return Included(tables, places, tuple(files), tuple(clashes))


def _read(path: Path, behind: tuple[Path, ...], files: list[Path], clashes: list[str]) -> tuple[Plain, Places]:
    if path.resolve() in behind:
        raise PlanError(path.name, f"includes itself, by way of {behind[-1].name}", of_option=True)
    text, own = _parsed(path)
    files.append(path)
    if len(files) > _MOST_INCLUDED:
        raise PlanError("", f"more than {_MOST_INCLUDED} plans are included", at=path.name)
    places = Places.of(path.name, text)
    settings = own.get("plan", {})
    included = settings.get("include", []) if isinstance(settings, Mapping) else []
    made: Plain = {}
    last = ""
    for name in included if isinstance(included, list) else []:
        if not isinstance(name, str):
            raise PlanError("", f"plan.include is a list of files, not of {told(name)}", at=path.name)
        below, its = _read(path.parent / name, (*behind, path.resolve()), files, clashes)
        places = places.beside(its)
        made = _over(made, _moved(below, Path(name).parent), last, name, clashes)
        last = name
    return _over(made, own, last, path.name, clashes), places


def _over(base: Plain, over: Plain, below: str, above: str, clashes: list[str]) -> Plain:
    """The tables of one plan with those of another laid over them; what both say otherwise is remarked."""
    differing = list(_differing(base, over, ()))
    if differing:
        said = listed(differing, 6)
        clashes.append(f"{above} says otherwise than {Path(below).name}, and holds: {said}")
    return laid(base, over)


def laid(base: Plain, over: Plain) -> Plain:
    """The tables of a plan with those of another one over them: settings and entries of the codebook key by key."""
    made = dict(base)
    for name, table in over.items():
        before = made.get(name)
        if not isinstance(table, Mapping) or not isinstance(before, Mapping):
            made[name] = table
        elif name in _WHOLE:
            made[name] = {**before, **table}
        elif name == "plan":
            made[name] = {**before, **table, **_joined(before, table)}
        else:
            made[name] = {**before, **{key: _entry(before.get(key), value) for key, value in table.items()}}
    return made


def _joined(before: Mapping[str, Any], over: Mapping[str, Any]) -> Plain:
    """The settings that are not replaced: codebooks, of which the later one lies over the earlier, and themes."""
    made: Plain = {}
    if "codebook" in before and "codebook" in over:
        made["codebook"] = list(dict.fromkeys([*_files(before["codebook"]), *_files(over["codebook"])]))
    if "theme" in before and "theme" in over:
        under, above = _theme(before["theme"]), _theme(over["theme"])
        made["theme"] = {**under, **above} if under is not None and above is not None else over["theme"]
    return made


def _files(said: Any) -> list[Any]:
    return list(said) if isinstance(said, list) else [said]


def _theme(said: Any) -> Plain | None:
    return {"name": said} if isinstance(said, str) else dict(said) if isinstance(said, Mapping) else None


def _entry(before: Any, over: Any) -> Any:
    """An entry of a codebook over another one; a text alone is a label."""
    under = {"label": before} if isinstance(before, str) else before
    above = {"label": over} if isinstance(over, str) else over
    return {**under, **above} if isinstance(under, Mapping) and isinstance(above, Mapping) else over


def _differing(base: Any, over: Any, path: tuple[str, ...]) -> Iterator[str]:
    """What two plans say otherwise, each by its path."""
    if path[-1:] in (("include",), ("codebook",)) and path[:1] == ("plan",):
        return
    if isinstance(base, Mapping) and isinstance(over, Mapping) and not (len(path) == 2 and path[0] in _WHOLE):
        for key in over:
            if key in base:
                yield from _differing(base[key], over[key], (*path, str(key)))
    elif path and base != over:
        yield ".".join(path)


def _moved(tables: Plain, folder: Path) -> Plain:
    """A plan whose files are told from another folder."""

    def away(value: Any) -> Any:
        if isinstance(value, list):
            return [away(one) for one in value]
        return str(folder / value) if isinstance(value, str) and "://" not in value else value

    made = {name: dict(table) if isinstance(table, Mapping) else table for name, table in tables.items()}
    if isinstance(made.get("plan"), dict):
        made["plan"].pop("include", None)
        if "codebook" in made["plan"]:
            made["plan"]["codebook"] = away(made["plan"]["codebook"])
        made["plan"] |= _moved_theme(made["plan"], away)
    for name, source in (made.get("data") or {}).items() if isinstance(made.get("data"), dict) else ():
        if isinstance(source, Mapping):
            made["data"][name] = {key: away(value) if key in ("file", "glob") else value for key, value in source.items()}
    for kind in ("figure", "plate"):
        for name, said in (made.get(kind) or {}).items() if isinstance(made.get(kind), dict) else ():
            if isinstance(said, Mapping):
                made[kind][name] = {**said, **_moved_theme(said, away)}
    return made


def _moved_theme(said: Mapping[str, Any], away: Any) -> Plain:
    """A theme whose file is told from another folder."""
    theme = said.get("theme")
    if isinstance(theme, str) and theme.endswith(".toml"):
        return {"theme": away(theme)}
    if isinstance(theme, Mapping) and str(theme.get("name", "")).endswith(".toml"):
        return {"theme": {**theme, "name": away(theme["name"])}}
    return {}


def _parsed(path: Path) -> tuple[str, Plain]:
    """The text of a plan and what it says.

    Raises:
        PlanError: It is missing, or no TOML and no JSON.
    """
    try:
        text = plain_text(path)
    except FileNotFoundError as problem:
        beside = [file.name for file in path.parent.glob("*.toml")] if path.parent.is_dir() else []
        raise unknown(PlanError, "export", "no plan", str(path), sorted(beside), "plans beside") from problem
    except (OSError, UnicodeDecodeError) as problem:
        raise PlanError("", f"can't be read: {getattr(problem, 'strerror', None) or problem}", at=path.name) from problem
    try:
        if path.suffix.lower() == ".json":
            import json

            given = json.loads(text)
        else:
            given = parsed_toml(text)
    except RecursionError:
        raise PlanError("", "nested too deep", at=path.name) from None
    except ValueError as problem:
        # Mistakes of the form, and numbers of more digits than Python reads.
        kind = "JSON" if path.suffix.lower() == ".json" else "TOML"
        raise PlanError("", f"no {kind}: {str(problem)[:160]}", at=path.name) from problem
    if not isinstance(given, dict):
        raise PlanError("", f"a plan is a table, not {told(given)}", at=path.name)
    return text, given
