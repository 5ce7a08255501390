"""The sentence as plain data, and spelled out for reading."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, NamedTuple

from facetine.core.arrays import is_whole
from facetine.data.expressions import is_code
from facetine.data.table import Table
from facetine.grammar.aesthetics import Sql
from facetine.grammar.choice import Response, response_read
from facetine.grammar.given import Options, Plain
from facetine.grammar.options import differing
from facetine.grammar.scale import ScaleSpec
from facetine.grammar.sentence import Sentence
from facetine.messages.errors import OptionError, told, unknown

PARTS = (
    "steps",
    "swap_axes",
    "map",
    "kinds",
    "layers",
    "matrix",
    "facet",
    "over_variables",
    "sample",
    "highlight",
    "choose",
    "respond",
    "insets",
    "marginals",
    "panel",
    "sheet",
    "scale",
    "titles",
    "theme",
    "seed",
)
"""What a figure's plain data may hold."""


class Step(NamedTuple):
    """One verb of a sentence as it is said."""

    verb: str
    given: tuple[object, ...] = ()
    """The values without a name."""
    options: Options = {}  # noqa: RUF012
    layer: bool = False
    """Whether the verb adds a layer."""


def _steps(sentence: Sentence) -> list[Step]:
    """The verbs that make a sentence."""
    steps: list[Step] = []
    for verb, said in sentence.steps:
        steps.append(Step(verb, (said["expression"],)) if verb == "keep" else Step(verb, (), dict(said)))
    if sentence.kinds:
        steps.append(Step("kinds", (), dict(sentence.kinds)))
    if sentence.mapping:
        steps.append(Step("map", (), dict(sentence.mapping)))
    steps += [Step(layer.verb, (), layer.said(), layer=True) for layer in sentence.layers]
    if sentence.matrix is not None:
        steps.append(Step("matrix", (), sentence.matrix.said()))
    if sentence.facet is not None:
        said = differing(sentence.facet)
        by = said.pop("by", None)
        steps.append(Step("facet", () if by is None else (by,), said))
    if sentence.over_variables is not None:
        steps.append(Step("over_variables", (), sentence.over_variables.said()))
    if sentence.sample is not None:
        steps.append(Step("sample", (sentence.sample.rows,), sentence.sample.said()))
    if sentence.highlight is not None:
        steps.append(Step("highlight", (sentence.highlight.where,), sentence.highlight.said()))
    steps += [Step("choose", (name,), said.said()) for name, said in sentence.choices.items()]
    steps += [_responding(name, said) for name, said in sentence.responses.items()]
    steps += [Step("inset", (inset.figure,), inset.said()) for inset in sentence.insets]
    for marginal in sentence.marginals:
        steps.append(Step("marginal", (marginal.side, marginal.layer.verb), marginal.said()))
    if sentence.panel.said():
        steps.append(Step("panel", (), sentence.panel.said()))
    if sentence.sheet.said():
        steps.append(Step("sheet", (), sentence.sheet.said()))
    for aesthetic, spec in sentence.scales.items():
        steps.append(_scale_step(aesthetic, spec))
    for (aesthetic, column), spec in sentence.scales_of.items():
        step = _scale_step(aesthetic, spec)
        steps.append(step._replace(options={**step.options, "for_column": column}))
    titles = sentence.titles
    texts = {"subtitle": titles.subtitle, "note": titles.note, "source": titles.source, **titles.guides}
    texts = {name: text for name, text in texts.items() if text is not None}
    if titles.title is not None or texts:
        steps.append(Step("titles", (titles.title,) if titles.title is not None else (), texts))
    if sentence.swapped:
        steps.append(Step("swap_axes"))
    if sentence.seed != 1:
        steps.append(Step("seed", (sentence.seed,)))
    if sentence.theme_said:
        said = dict(sentence.theme_said)
        name = said.pop("name", None)
        steps.append(Step("theme", (name,) if name else (), said))
    return steps


def _responding(name: str, said: Response) -> Step:
    return Step("respond", (name, said.how), {} if said.show_all is None else {"show_all": said.show_all})


def _scale_step(aesthetic: str, spec: ScaleSpec) -> Step:
    said = spec.said()
    kind = said.pop("kind", None)
    return Step("scale", (aesthetic, *([kind] if kind else [])), said)


def spelled(sentence: Sentence, data: str | None = None, codebook: str = "", module: str = "") -> str:
    """The sentence as an analyst would write it, a verb a line.

    Args:
        sentence: The sentence.
        data: What stands for its data; their size by default.
        codebook: What stands behind it, such as ", codebook=book".
        module: What stands before `figure` and `matrix`, such as "ft.".
    """
    table = sentence.table
    begun = data if data is not None else _size(table) if table is not None else "None"
    steps = _steps(sentence)
    if sentence.matrix is None:
        return "\n".join([f"{module}figure({begun}{codebook})", *map(_line, steps)])
    place = next(number for number, step in enumerate(steps) if step.verb == "matrix")
    before, (_, _, options, _), after = steps[:place], steps[place], steps[place + 1 :]
    columns = [repr(list(options["columns"]))]
    said = [f"{name}={_shown(value)}" for name, value in options.items() if name != "columns"]
    if all(step.verb == "map" for step in before):
        mapped = [f"map={dict(step.options)!r}" for step in before]
    else:
        # What is kept, derived or said of kinds comes first: the matrix is one of that figure.
        begun, mapped = f"{module}figure({begun}{codebook})" + "".join(_line(step).strip() for step in before), []
        codebook = ""
    return "\n".join([f"{module}matrix({', '.join([begun, *columns, *mapped, *said])}{codebook})", *map(_line, after)])


def _line(step: Step) -> str:
    shown = [_shown(value) if isinstance(value, Sentence) else repr(value) for value in step.given]
    shown += [f"{name}={_shown(value)}" for name, value in step.options.items()]
    return f"  .{step.verb}({', '.join(shown)})"


def _size(table: Table) -> str:
    rows = "row" if table.height == 1 else "rows"
    columns = "column" if len(table.names) == 1 else "columns"
    return f"{table.height:,} {rows} × {len(table.names)} {columns}"


def _shown(value: object) -> str:
    if isinstance(value, Table):
        return f"<{_size(value)}>"
    if isinstance(value, Sentence):
        return "<figure>"
    if callable(value):
        return str(getattr(value, "__name__", "callable"))
    return repr(value)


def to_dict(sentence: Sentence) -> Plain:
    """Plain data: texts, numbers, truth values, lists and dicts.

    Raises:
        OptionError: A callable or a frame stands in the sentence.
    """
    spec: Plain = {}
    for verb, given, options, layer in _steps(sentence):
        plain = {name: plain_value(value, f"figure.{verb}: {name}") for name, value in options.items()}
        if layer:
            spec.setdefault("layers", []).append({verb: plain})
        elif verb in ("keep", "derive"):
            said = plain_value(given[0], "figure.keep") if verb == "keep" else plain
            spec.setdefault("steps", []).append({verb: said})
        elif verb == "seed":
            spec[verb] = given[0]
        elif verb == "sample":
            spec[verb] = {"count": given[0]} | plain
        elif verb == "highlight":
            spec[verb] = {"where": plain_value(given[0], "figure.highlight")} | plain
        elif verb == "choose":
            spec.setdefault(verb, {})[given[0]] = plain
        elif verb == "respond":
            spec.setdefault(verb, {})[given[0]] = {"how": given[1]} | plain if plain else given[1]
        elif verb == "swap_axes":
            spec[verb] = True
        elif verb == "facet":
            spec["facet"] = ({"by": plain_value(given[0], "figure.facet: by")} if given else {}) | plain
        elif verb == "inset":
            inner = given[0]
            assert isinstance(inner, Sentence)
            if inner.table is not None and (sentence.table is None or set(inner.table.names) != set(sentence.table.names)):
                raise OptionError(
                    "", "figure.inset holds data of its own, which plain data can't hold", "an inset of the same data can be"
                )
            spec.setdefault("insets", []).append({"figure": to_dict(inner)} | plain)
        elif verb == "marginal":
            side, name = given
            spec.setdefault("marginals", []).append({"side": side, "layer": name} | plain)
        elif verb == "scale":
            kind = {"kind": given[1]} if len(given) > 1 else {}
            own, scales = plain.pop("for_column", None), spec.setdefault("scale", {})
            if own is None:
                scales[given[0]] = kind | plain
            else:
                scales.setdefault(given[0], {}).setdefault("for_column", {})[own] = kind | plain
        elif verb == "titles":
            spec["titles"] = ({"title": given[0]} if given else {}) | plain
        elif verb == "theme":
            spec["theme"] = ({"name": given[0]} if given else {}) | plain
        else:
            spec[verb] = plain
    return spec


def plain_value(value: object, where: str) -> Any:
    """A value as plain data.

    Raises:
        OptionError: It is, or holds, a callable, an expression that is no SQL, or a frame.
    """
    if isinstance(value, Sql):
        return {"sql": str(value)}
    if isinstance(value, Table):
        raise OptionError(where, "holds a table, which plain data can't hold", "give the data to from_dict", of_option=True)
    if is_code(value):
        what = f"the callable {value.__name__!r}" if hasattr(value, "__name__") else f"the expression {value}"
        raise OptionError(
            where, f"holds {what}, which plain data can't hold", "use SQL, a column name or a format", of_option=True
        )
    if isinstance(value, Mapping):
        return {str(key): plain_value(inner, where) for key, inner in value.items()}
    if isinstance(value, tuple | list):
        return [plain_value(inner, where) for inner in value]
    return value if isinstance(value, str | int | float | bool) or value is None else str(value)


def steps_of(spec: Options, where: str = "from_dict") -> list[Step]:
    """The verbs that a spec says, in the order in which they are to be said.

    Args:
        spec: Plain data.
        where: Who asks, for the error.

    Raises:
        OptionError: A part is unknown or has the wrong shape.
    """
    _table(spec, where, "a figure")
    for part in spec:
        if part not in PARTS:
            raise unknown(OptionError, where, "no part", part, PARTS, "parts")
    steps = [_first_step(step, where) for step in spec.get("steps", [])]
    steps += [Step(part, (), _table(spec[part], where, part)) for part in ("kinds", "map") if part in spec]
    steps += [Step(name, (), options, layer=True) for name, options in _layers(spec.get("layers", []), where)]
    if spec.get("matrix"):
        pairs = _table(spec["matrix"], where, "matrix")
        if "columns" not in pairs:
            raise OptionError(where, "a matrix says no columns", 'such as { columns = ["mass_kg", "ph"] }')
        steps.append(Step("matrix", (), pairs))
    if spec.get("facet"):
        steps.append(_worded("facet", spec["facet"], where))
    if spec.get("over_variables"):
        steps.append(Step("over_variables", (), _table(spec["over_variables"], where, "over_variables")))
    if spec.get("sample"):
        own: Plain = {"count": spec["sample"]} if is_whole(spec["sample"]) else _table(spec["sample"], where, "sample")
        steps.append(Step("sample", (own.pop("count", None),), own))
    if spec.get("highlight"):
        said = spec["highlight"]
        own = {"where": said} if isinstance(said, str) else _table(said, where, "highlight")
        steps.append(Step("highlight", (own.pop("where", None),), own))
    for name, said in _table(spec.get("choose") or {}, where, "choose").items():
        steps.append(Step("choose", (name,), _table(said, where, f"choose.{name}")))
    for name, said in _table(spec.get("respond") or {}, where, "respond").items():
        steps.append(_responding(*response_read(name, said, f"{where}.respond")))
    for said in _listed(spec.get("insets", []), where, "insets"):
        options = _table(said, where, "an inset")
        if "figure" not in options:
            raise OptionError(where, "an inset says no figure", 'such as {"figure": {…}, "at": [0.5, 0.5, 1, 1]}')
        steps.append(Step("inset", (_table(options.pop("figure"), where, "an inset's figure"),), options))
    steps += [_marginal(said, where) for said in _listed(spec.get("marginals", []), where, "marginals")]
    steps += [Step(part, (), _table(spec[part], where, part)) for part in ("panel", "sheet") if spec.get(part)]
    titles = spec.get("titles")
    for aesthetic, said in _table(spec.get("scale", {}), where, "scale").items():
        if isinstance(titles, Mapping) and isinstance(said, Mapping) and {None} != {titles.get(aesthetic), said.get("title")}:
            _refuse_two_titles(aesthetic, titles.get(aesthetic), said.get("title"), where)
        options = {"kind": said} if isinstance(said, str) else _table(said, where, f"scale.{aesthetic}")
        columns = _table(options.pop("for_column", {}), where, f"scale.{aesthetic}.for_column")
        if options or not columns:
            steps.append(Step("scale", (aesthetic,), options))
        steps += [
            Step("scale", (aesthetic,), {**_table(own, where, f"scale.{aesthetic}.for_column.{column}"), "for_column": column})
            for column, own in columns.items()
        ]
    if spec.get("swap_axes"):
        steps.append(Step("swap_axes"))
    if "seed" in spec:
        steps.append(Step("seed", (spec["seed"],)))
    steps += [_worded(part, spec[part], where) for part in ("titles", "theme") if spec.get(part) is not None]
    return steps


def _refuse_two_titles(aesthetic: str, one: object, other: object, where: str) -> None:
    if one is not None and other is not None and one != other:
        raise OptionError(
            where,
            f"the title of {aesthetic} is said twice, as {one!r} by titles and as {other!r} by scale",
            "they are the same thing: leave one out",
        )


def _first_step(step: object, where: str) -> Step:
    verb, said = next(iter(_table(step, where, "a step").items()), ("", None))
    if verb not in ("keep", "derive"):
        raise unknown(OptionError, where, "no step", verb, ("keep", "derive"), "steps")
    return Step(verb, (said,)) if verb == "keep" else Step(verb, (), _table(said, where, "derive"))


def _listed(given: object, where: str, part: str) -> list[object]:
    if not isinstance(given, list | tuple):
        raise OptionError(where, f"{part} is a list of tables, not {told(given)}")
    return list(given)


def _marginal(said: object, where: str) -> Step:
    options = _table(said, where, "a marginal")
    lacking = [name for name in ("side", "layer") if name not in options]
    if lacking:
        raise OptionError(where, f"a marginal says no {lacking[0]}", 'such as {"side": "top", "layer": "histogram"}')
    return Step("marginal", (options.pop("side"), options.pop("layer")), options)


def _worded(part: str, said: object, where: str) -> Step:
    """A part that may be one word, such as the name of a theme, or a table."""
    return Step(part, (said,)) if isinstance(said, str) else Step(part, (), _table(said, where, part))


def _table(value: object, where: str, part: str) -> Plain:
    if not isinstance(value, Mapping):
        raise OptionError(where, f"{part} is a table, not {told(value)}")
    return {str(key): inner for key, inner in value.items()}


def _layers(given: object, where: str) -> list[tuple[str, Plain]]:
    """Name and options of each layer."""
    if not isinstance(given, list | tuple):
        raise OptionError(where, f"layers is a list of tables, not {told(given)}", 'such as [{"points": {"opacity": 0.5}}]')
    layers: list[tuple[str, Plain]] = []
    for number, entry in enumerate(given, 1):
        if isinstance(entry, str):
            layers.append((entry, {}))
            continue
        if not isinstance(entry, Mapping) or len(entry) != 1:
            raise OptionError(where, f"layer {number} is a table with one layer's name, not {told(entry)}")
        name, options = next(iter(entry.items()))
        said = _table(options, where, f"layer {number}, {name}")
        if isinstance(said.get("map"), Mapping):
            # A plan has no word for nothing: false takes an aesthetic off the figure's mapping.
            said["map"] = {aesthetic: None if column is False else column for aesthetic, column in said["map"].items()}
        layers.append((str(name), said))
    return layers
