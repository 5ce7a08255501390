"""What levels, axes and legends are called: in the reader's words, from what is said and drawn."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import Any, NamedTuple

import numpy as np

from facetine.core.scales.formats import escaped, written
from facetine.core.scales.templates import Field, parsed
from facetine.core.scales.values import value_texts
from facetine.data.codebook import Codebook, Word
from facetine.grammar.scale import ScaleSpec
from facetine.layers.context import Drawn, Title
from facetine.layers.summary import aggregate_title
from facetine.layers.values import check_names, template
from facetine.messages.errors import OptionError
from facetine.messages.findings import Remark, Saying
from facetine.pipeline.composition.level_order import MISSING
from facetine.pipeline.rows.runs import LayerRun, Split
from facetine.scene.markup import shortened

_LONGEST = 160
"""Letters of a category's name; the rest is cut, since no axis has room for more."""


def level_texts(
    levels: Sequence[object],
    spec: ScaleSpec,
    where: str,
    counts: Sequence[int] | None = None,
    what: str = "format",
    columns: Sequence[str] = (),
) -> tuple[str, ...]:
    """What levels are called: by the scale's format where there is one; plain data are no markup.

    Args:
        levels: The levels.
        spec: The scale; a format that is a text is a template with {value} and {count}.
        where: Who asks, for the error.
        counts: How many rows each level has, where that is known.
        what: What the template is called in errors.
        columns: What the columns of crossed levels are called.

    Raises:
        OptionError: The format is no template of these names, or a callable that fails.
    """
    form = spec.format
    if not isinstance(form, str):
        if form is None:
            return _plain_words(levels, columns, where)
        return tuple(_level_text(level, form, where) for level in levels)
    plain = _plain_words(levels, columns, where)
    return filled_levels(form, {"value": plain}, counts, f"{where}: {what}")


def _plain_words(levels: Sequence[object], columns: Sequence[str], where: str) -> tuple[str, ...]:
    crossed = [level for level in levels if isinstance(level, tuple) and len(level) == len(columns)]
    if not crossed or len(columns) < 2:
        return tuple(_level_text(level, None, where) for level in levels)
    words = dict(zip(crossed, crossed_words(crossed, columns, where), strict=True))
    return tuple(
        ", ".join(words[level]) if isinstance(level, tuple) and level in words else _level_text(level, None, where)
        for level in levels
    )


def crossed_words(levels: Sequence[tuple[object, ...]], columns: Sequence[str], where: str) -> list[tuple[str, ...]]:
    """What the parts of crossed levels are called; where several columns say yes or no, each part says which it is of.

    Args:
        levels: The levels, a value for each column.
        columns: What the columns are called.
        where: Who asks, for errors.
    """
    flags = [place for place in range(len(columns)) if all(isinstance(level[place], bool | np.bool_) for level in levels)]
    words = []
    for level in levels:
        parts = [_level_text(part, None, where) for part in level]
        if len(flags) > 1:
            parts = [f"{columns[place]}: {part}" if place in flags else part for place, part in enumerate(parts)]
        words.append(tuple(parts))
    return words


def with_ranges(labels: tuple[str, ...], levels: Sequence[object], column: str, codebook: Codebook) -> tuple[str, ...]:
    """What the classes of numbers are called, with their ranges; other levels as they are."""
    entry = codebook.entry(column)
    if not entry.classes:
        return labels
    unit = codebook.parts(entry.origin)[1] if entry.origin is not None and entry.origin.isidentifier() else ""
    unit = entry.unit or unit
    said = []
    for label, level in zip(labels, levels, strict=True):
        ends = entry.classes.get(str(level))
        if ends is None:
            said.append(label)
            continue
        behind = f" {unit}" if unit else ""
        finite = [end for end in ends if math.isfinite(end)]
        low, high = written(finite * 2)[:2] if len(finite) == 1 else written(finite) if finite else ("", "")
        if not math.isfinite(ends[0]):
            said.append(f"{label} (below {high}{behind})")
        elif not math.isfinite(ends[1]):
            said.append(f"{label} (from {low}{behind})")
        else:
            said.append(f"{label} ({low}–{high}{behind})")
    return tuple(said)


def filled_levels(form: str, words: Mapping[str, Sequence[str]], counts: Sequence[int] | None, where: str) -> tuple[str, ...]:
    """A template filled with the words of levels and their counts.

    Raises:
        OptionError: It is no template, or names anything else.
    """
    names = [*words, *(["count"] if counts is not None else [])]
    template(form, where)
    check_names(form, names, where)
    template_parts = parsed(form)
    total = len(next(iter(words.values())))
    columns: dict[Field, list[str]] = {}
    for part in template_parts.parts:
        if isinstance(part, Field) and part.name == "count":
            assert counts is not None
            try:
                columns[part] = [text or "0" for text in value_texts([float(count) for count in counts], part.form, "count")]
            except ValueError as problem:
                raise OptionError(where, f"{problem}") from problem
        elif isinstance(part, Field):
            if part.form:
                raise OptionError(where, f"{part.name} is a word, which takes no format such as {part.form!r}")
            columns[part] = list(words[part.name])
    if not template_parts.names and form:
        raise OptionError(where, f"{form!r} names nothing that differs", f'names: {", ".join(names)}; such as "{{value}}"')
    return tuple(template_parts.filled(columns, total))


def _level_text(level: object, form: object, where: str) -> str:
    if level is MISSING:
        return str(form.get("missing", "missing")) if isinstance(form, Mapping) else "missing"
    if callable(form):
        return called_format(form, level, where)
    if isinstance(form, Mapping):
        found = form.get(level, form.get(str(level)))
        if found is not None:
            return str(found)
    if isinstance(level, tuple):
        return ", ".join(_level_text(run, None, where) for run in level)
    if isinstance(level, bool | np.bool_):
        return "yes" if level else "no"
    if isinstance(level, Word):
        return level
    text = str(level)
    return escaped(shortened(text, _LONGEST)) if text else "(blank)"


def called_format(form: Any, value: Any, where: str, what: str = "format") -> str:
    """What a callable format, or heading, makes of a value.

    Raises:
        OptionError: It fails, or returns no text.
    """
    try:
        text = form(value)
    except Exception as problem:
        raise OptionError(where, f"{what} failed for {value!r}: {type(problem).__name__}: {problem}") from problem
    if not isinstance(text, str):
        raise OptionError(where, f"{what} returned {text!r} for {value!r}, which is no text")
    return text


def axis_title(split: Split, axis: str) -> Saying[str]:
    """The title of an axis: what was said, else what its layers draw there.

    Layers that draw one column in several ways leave its name alone; layers that draw several columns share their unit,
    or else all their names stand there.
    """
    sentence = split.sentence
    said = sentence.said_title(axis)
    if said is not None:
        return said
    drawn = _named(_drawn(split, axis), axis)
    if not drawn:
        column = split.columns.get(axis)
        return sentence.column_title(column.name) if column is not None else ""
    whole = list(dict.fromkeys(thing.drawn.title for thing in drawn if thing.drawn.title))
    columns = list(dict.fromkeys(thing.column for thing in drawn if not thing.drawn.title))
    if not columns:
        return (yield from _joined(whole, axis))
    if whole:
        return (yield from _joined([*(sentence.column_title(name) for name in columns), *whole], axis))
    if len(columns) == 1:
        ways = list(dict.fromkeys(thing.drawn.how for thing in drawn))
        title = Title(*sentence.codebook.parts(columns[0]))
        if len(ways) == 1 and ways[0] and " × " not in columns[0]:
            return aggregate_title(title.label, title.unit, title.inside, ways[0])
        return sentence.column_title(columns[0])
    units = {sentence.codebook.parts(name)[1] for name in columns}
    titles = list(dict.fromkeys(sentence.column_title(name) for name in columns))
    if len(titles) == 1:
        return titles[0]
    if len(units) == 1 and (unit := units.pop()):
        return unit
    return (yield from _joined(titles, axis))


class _OnAxis(NamedTuple):
    """What a layer draws along an axis."""

    column: str
    """Its name; empty where it is computed."""
    aesthetic: str
    run: LayerRun
    drawn: Drawn


def _drawn(split: Split, axis: str) -> list[_OnAxis]:
    """The column and the way of drawing of each layer that says something of an axis."""
    things: list[_OnAxis] = []
    for run in split.runs:
        if run.layer.stands_alone or run.layer.borrows is not None:
            continue
        value = axis == run.value_axis
        drawn = (run.layer.value_drawn if value else run.layer.place_drawn)(run.context)
        mapped = [name for name in run.columns if name.split("_")[0] == axis]
        if drawn is None or not (drawn.title or mapped):
            continue
        if not mapped:
            things.append(_OnAxis("", "", run, drawn))
        # Both ends of a band, or both columns of a segment, stand on the axis.
        shown = mapped[:1] if drawn.title or drawn.how else mapped
        things += [_OnAxis(run.columns[name].name, name, run, drawn) for name in shown]
    return things


def _named(drawn: list[_OnAxis], axis: str) -> list[_OnAxis]:
    """What names an axis: ends of intervals and bands do not where a column of the axis itself stands there."""
    main = [thing for thing in drawn if thing.aesthetic in ("", axis)]
    return main or drawn


def _joined(titles: list[str], axis: str) -> Saying[str]:
    if len(titles) > 1:
        yield Remark(
            "several-on-one-axis",
            "figure",
            f"the {axis} axis shows several things: {', '.join(titles)}",
            f"titles({axis}=…) gives them one name",
        )
    return " / ".join(titles)


def look_title(split: Split, aesthetic: str, column: str) -> str:
    """The title of a legend: what was said, else what the marks' looks show."""
    sentence = split.sentence
    said = sentence.said_title(aesthetic)
    if said is not None:
        return said
    ways = {
        run.layer.look_drawn(run.context).how
        for run in split.runs
        if aesthetic in run.columns and run.columns[aesthetic].name == column
    }
    if aesthetic == "color" and len(ways) == 1 and (how := ways.pop()) and " × " not in column:
        title = Title(*sentence.codebook.parts(column))
        return aggregate_title(title.label, title.unit, title.inside, how)
    return sentence.column_title(column)
