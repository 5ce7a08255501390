"""Every word of the public names, with who has it and what it holds: what the glossary must know, and the page of words lists."""

from __future__ import annotations

import inspect
import re
from collections.abc import Iterator
from dataclasses import fields
from typing import NamedTuple

import facetine as ft
from facetine.batch import models
from facetine.batch.planfile import PlanFile
from facetine.cli.main import _COMMANDS, app
from facetine.data.codebook import Entry
from facetine.grammar.aesthetics import AESTHETICS
from facetine.grammar.scale import SCALED, ScaleOptions, SecondAxisSpec
from facetine.grammar.theme import Theme
from facetine.layers import LAYERS, layer_class
from facetine.layers.helping import told_options


class Use(NamedTuple):
    """A word where it stands."""

    name: str
    owner: str
    """As the glossary calls it."""
    type: str
    """The annotation in the code; "computed" for what a layer computes."""


def uses() -> Iterator[Use]:
    """All of them: options of layers and of records, what layers compute, parameters of verbs and functions, keys of plans."""
    for verb in LAYERS.ours():
        kind = layer_class(verb)
        yield from (Use(one.name, verb, one.type) for one in told_options(kind))
        yield from (Use(name, "computed", "computed") for name in kind.all_names(kind()))
    for record, owner in ((ScaleOptions, "scale"), (SecondAxisSpec, "second_axis"), (Theme, "theme"), (Entry, "codebook")):
        yield from (Use("from" if one.name == "origin" else one.name, owner, str(one.type)) for one in fields(record))
    for kind in (ft.Figure, ft.Plate):
        for name in dir(kind):
            if not name.startswith("_") and name not in LAYERS.ours() and callable(getattr(kind, name)):
                yield from _parameters(name, getattr(kind, name))
    for name in ft.__all__:
        if inspect.isfunction(getattr(ft, name)):
            yield from _parameters(name, getattr(ft, name))
    yield from _parameters("plan.export", PlanFile.export)
    for part in vars(models).values():
        if isinstance(part, type) and issubclass(part, models.Part) and part is not models.Part:
            yield from (Use(one.alias or name, part.owner, str(one.annotation)) for name, one in part.model_fields.items())
    yield Use("like", "plan figure", "str")


def _parameters(owner: str, function: object) -> Iterator[Use]:
    for one in inspect.signature(function).parameters.values():  # type: ignore[arg-type]
        # Aesthetics of a mapping, and titles by aesthetic, are one thing each.
        spelled = (owner == "map" and one.name in AESTHETICS) or (owner == "titles" and one.name in SCALED)
        if one.name != "self" and one.kind in (one.POSITIONAL_OR_KEYWORD, one.KEYWORD_ONLY) and not spelled:
            yield Use(one.name, owner, str(one.annotation))


def commands() -> Iterator[Use]:
    """The options of the command line, as words."""
    for name in _COMMANDS:
        for one in app.get_command(None, name).params:  # type: ignore[arg-type]
            if one.param_type_name == "option":
                word = next(opt for opt in one.opts if opt.startswith("--"))[2:].replace("-", "_")
                yield Use(word, name, "option")


def owners_of_words() -> dict[str, list[str]]:
    """Who has each word in its first meaning."""
    from facetine.messages.glossary import glossary

    several = glossary().several
    found: dict[str, list[str]] = {}
    for use in (*uses(), *commands()):
        if use.name not in several or use.owner not in several[use.name].meanings:
            owners = found.setdefault(use.name, [])
            if use.owner not in owners:
                owners.append(use.owner)
    return found


def plain_type(annotation: str) -> str:
    """An annotation without what says that a thing may be left out.

    >>> plain_type("float | NotGiven | None"), plain_type('Literal["a", "b"] | None')
    ('float', 'word')
    """
    said = annotation.replace("typing.", "").replace("facetine.batch.models.", "").replace("collections.abc.", "")
    said = re.sub(r"<class '(\w+)'>", r"\1", said)
    said = re.sub(r"Literal\[[^\]]*\]", "word", said)
    return " | ".join(part for part in _parts(said) if part not in ("None", "NotGiven"))


def _parts(said: str) -> list[str]:
    """The members of a union, those inside brackets left alone."""
    parts, depth = [""], 0
    for sign in said:
        depth += (sign == "[") - (sign == "]")
        if sign == "|" and not depth:
            parts.append("")
        else:
            parts[-1] += sign
    return [part.strip() for part in parts]
