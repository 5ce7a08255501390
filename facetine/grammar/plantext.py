"""Figures written into plans: what a person wrote beside them stays as it is."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from facetine.grammar.given import Options
from facetine.messages.errors import ExportError


def figure_text(name: str, spec: Options) -> str:
    """The part of a plan that says a figure."""
    import tomlkit

    document, outer = tomlkit.document(), tomlkit.table(is_super_table=True)
    outer.add(tomlkit.key(name), _table(spec))
    document.add("figure", outer)
    return tomlkit.dumps(document)


def merged_text(before: str, name: str, spec: Options, where: str) -> str:
    """A plan with a figure put in, or in the place of the one of its name.

    Keys that say the same stay as they are, with the remarks beside them; how a figure is written (formats, file, width and
    the like) is not touched.

    Raises:
        ExportError: The plan is no TOML.
    """
    import tomlkit
    from tomlkit.exceptions import TOMLKitError

    try:
        document = tomlkit.parse(before)
    except TOMLKitError as problem:
        raise ExportError(where, f"the plan is no TOML: {str(problem)[:160]}") from problem
    figures: Any = document.get("figure")
    if figures is None:
        return before + ("\n" if before and not before.endswith("\n\n") else "") + figure_text(name, spec)
    if not isinstance(figures, Mapping):
        raise ExportError(where, "figure is a table in a plan", "such as [figure.firmness]")
    known: Any = figures.get(name)
    if not isinstance(known, Mapping):
        holding: Any = figures
        holding.add(tomlkit.key(name), _table(spec))
        return tomlkit.dumps(document)
    from facetine.grammar.spec import PARTS

    table: Any = known
    for key in [one for one in table if one in PARTS and one not in spec]:
        del table[key]
    for key, value in spec.items():
        if key not in table or _plain(table[key]) != value:
            table[key] = _item(value)
    return tomlkit.dumps(document)


def _table(spec: Options) -> Any:
    import tomlkit

    table = tomlkit.table()
    for key, value in spec.items():
        table.add(key, _item(value))
    return table


def _item(value: Any) -> Any:
    """A value as TOML, tables within one line."""
    import tomlkit

    if isinstance(value, Mapping):
        inline = tomlkit.inline_table()
        for key, one in value.items():
            # A plan has no word for nothing: false takes an aesthetic away.
            inline.append(str(key), _item(False if one is None else one))
        return inline
    if isinstance(value, list | tuple):
        array = tomlkit.array()
        for one in value:
            # Nor in a list: limits = [false, 3] leaves the lower end open.
            array.append(_item(False if one is None else one))
        return array
    return tomlkit.item(value)


def _plain(value: Any) -> Any:
    return value.unwrap() if hasattr(value, "unwrap") else value


def plan_text(name: str, spec: Options, source: Options, codebooks: list[str]) -> str:
    """A whole plan of one figure of one file."""
    import tomlkit

    document = tomlkit.document()
    settings = tomlkit.table()
    settings.add("formats", _item(["pdf"]))
    if codebooks:
        settings.add("codebook", _item(codebooks if len(codebooks) > 1 else codebooks[0]))
    document.add("plan", settings)
    sources = tomlkit.table(is_super_table=True)
    sources.add(tomlkit.key(name), _table(source))
    document.add("data", sources)
    return tomlkit.dumps(document) + "\n" + figure_text(name, {"data": name, **spec})
