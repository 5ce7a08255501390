"""Suggestions in the words of the place where they are read: a verb becomes an option of the command, or a key of the plan."""

from __future__ import annotations

import ast
import re
from collections.abc import Callable, Iterator, Mapping
from contextvars import ContextVar
from dataclasses import fields
from shlex import quote
from typing import Any, Literal

Place = Literal["line", "plan"]
PLACE: ContextVar[Place] = ContextVar("PLACE", default="line")
"""Where what is said can be mended: on the command line, or in a plan."""
_CALL = re.compile(r"(?<![\w.)\]\"'])(?:figure)?\.([a-z]\w*)\(")
_BOOK = re.compile(r"\bcodebook=(?=\{)")
_SETTING = re.compile(r"set_defaults\((query_seconds|query_memory)=…\)")
_READ = re.compile(r"\b(decimal|thousands|absent|as_text|delimiter|encoding|quote|comment|skip|header)=(?=[\[\"'\dTF])")
_OPTION = re.compile(r"(?<![\w:,=])([a-z]\w*)=(?=[\"'\[{(\dTFN])")
_LAYER = re.compile(r"\bfigure\.([a-z]\w*)(?=[:,])")
_OPEN, _CLOSE = "([{", ")]}"
_ANY = "__any__"


def place_of(words: list[str]) -> Place:
    """Where what a command says can be mended: in its own words, or in the plan that it names."""
    command = next((word for word in words if not word.startswith("-")), "")
    of_plan = command in ("export", "demo", "code") or (
        command == "check" and any(w.lower().endswith(".toml") for w in words[:2])
    )
    return "plan" if of_plan else "line"


def worded(text: str, place: Place | None = None) -> str:
    """A message with its suggestions as they are written in a place.

    >>> worded('taken as a number; write .kinds(year="category") if they are categories', "line")
    'taken as a number; write --kind year=category if they are categories'
    >>> worded('taken as a number; write .kinds(year="category") if they are categories', "plan")
    'taken as a number; write kinds = { year = "category" } if they are categories'
    """
    where = PLACE.get() if place is None else place
    said = _SETTING.sub(lambda found: f"--{found[1].replace('_', '-')}", text)
    for pattern, made in ((_CALL, _verb), (_BOOK, _book), (_READ, _reading)):
        said = _replaced(said, pattern, made, where)
    return _with_options(said, where)


def _with_options(text: str, place: Place) -> str:
    """A message about one layer, whose options are said with the layer's name."""
    from facetine.layers import LAYERS, layer_class

    said = _LAYER.search(text)
    if said is None or said[1] not in LAYERS:
        return text
    verb, known = said[1], {one.name for one in fields(layer_class(said[1]))}

    def option(found: re.Match[str], value: str, place: Place) -> str | None:
        if found[1] not in known:
            return None
        try:
            read = ast.literal_eval(value.replace("…", "'…'"))
        except (SyntaxError, ValueError):
            return None
        given = {found[1]: read}
        return f"--layer {_typed(_layer(verb, given))}" if place == "line" else f"{verb} = {_toml(given)}"

    before, after = text[: said.end()], text[said.end() :]
    return before + _replaced(after, _OPTION, option, place)


def _replaced(text: str, pattern: re.Pattern[str], made: Callable[[re.Match[str], str, Place], str | None], place: Place) -> str:
    """A text in which what begins with a pattern, up to where its brackets or quotes close, is said otherwise."""
    out, at = "", 0
    while (found := pattern.search(text, at)) is not None:
        begin = found.end() - 1 if text[found.end() - 1] in _OPEN else found.end()
        end = _closed(text, begin)
        said = None if end is None else made(found, text[begin:end], place)
        if said is None or end is None:
            out, at = out + text[at : found.end()], found.end()
        else:
            out, at = out + text[at : found.start()] + said, end
    return out + text[at:]


def _closed(text: str, start: int) -> int | None:
    """Where a value ends that begins at a place; None where it does not end."""
    depth, quoted = 0, ""
    for place in range(start, len(text)):
        sign = text[place]
        if quoted:
            if sign == quoted and text[place - 1] != "\\":
                quoted = ""
                if not depth:
                    return place + 1
        elif sign in "\"'":
            quoted = sign
        elif sign in _OPEN:
            depth += 1
        elif sign in _CLOSE:
            depth -= 1
            if depth == 0:
                return place + 1
            if depth < 0:
                return place
        elif not depth and not (sign.isalnum() or sign in "._-"):
            return place
    return len(text) if not depth and not quoted else None


def _arguments(text: str) -> tuple[list[Any], dict[str, Any]] | None:
    """What stands in the brackets of a call; None where it is no plain value. What is left open is some value."""
    try:
        call = ast.parse(f"f{text.replace('{…}', _ANY).replace('…', _ANY)}", mode="eval").body
        assert isinstance(call, ast.Call)
        given = [_value(one) for one in call.args]
        named: dict[str, Any] = {}
        for one in call.keywords:
            named |= _value(one.value) if one.arg is None else {one.arg: _value(one.value)}
    except (SyntaxError, ValueError, AssertionError, TypeError):
        return None
    return given, named


def _value(node: ast.expr) -> Any:
    return _ANY if isinstance(node, ast.Name) and node.id == _ANY else ast.literal_eval(node)


def _verb(found: re.Match[str], brackets: str, place: Place) -> str | None:
    read = _arguments(brackets)
    if read is None:
        return None
    given, named = read
    if place == "line":
        options = list(_options(found[1], given, named))
        return " ".join(options) or None
    return _key(found[1], given, named)


def _options(verb: str, given: list[Any], named: Mapping[str, Any]) -> Iterator[str]:
    """The options of the command that say what a verb says; none where there are none."""
    from facetine.layers import LAYERS

    pairs = {"kinds": "--kind", "map": "--map", "derive": "--derive"}
    if verb in pairs:
        yield from (f"{pairs[verb]} {_typed(f'{_open(name)}={_open(value)}')}" for name, value in named.items())
    elif verb == "keep" and given:
        yield f"--keep {_typed(str(given[0]))}"
    elif verb == "scale" and given:
        kind = [str(given[1])] if len(given) > 1 else []
        said = ",".join([*kind, *(f"{name}={_short(value)}" for name, value in named.items())])
        yield f"--scale {_typed(f'{given[0]}={said}') if said else given[0]}"
    elif verb == "titles":
        whole = {"title": given[0], **named} if given else named
        own = ("title", "subtitle", "note")
        yield from (
            f"--{name} {_typed(str(text))}" if name in own else f"--guide-title {_typed(f'{name}={text}')}"
            for name, text in whole.items()
            if text != _ANY
        )
    elif verb == "theme":
        yield from (f"--theme {_typed(str(name))}" for name in given)
        yield from (f"--set {_typed(f'{name}={_short(value)}')}" for name, value in named.items())
    elif verb == "facet" and given and isinstance(given[0], str):
        yield f"--facet {_typed(given[0])}"
        yield from (f"--{name.replace('_', '-')} {_typed(str(value))}" for name, value in named.items() if name in _OF_FACET)
    elif verb == "sheet":
        sides = {**dict(zip(("width", "height"), given, strict=False)), **named}
        yield from (f"--{name} {_typed(str(value))}" for name, value in sides.items())
    elif verb == "sample" and given:
        yield f"--sample {given[0]}"
    elif verb == "marginal" and len(given) > 1:
        yield f"--marginal {_typed(f'{given[0]}={_layer(str(given[1]), named)}')}"
    elif verb == "change" and given:
        yield f"--layer {_typed(_layer(str(given[0]), named))}"
    elif verb in LAYERS and not given:
        yield f"--layer {_typed(_layer(verb, named))}"


_OF_FACET = ("per_row", "separate")


def _layer(verb: str, options: Mapping[str, Any]) -> str:
    said = ",".join(f"{name}={_short(value)}" for name, value in options.items())
    return f"{verb}:{said}" if said else verb


def _open(value: Any) -> str:
    return "COLUMN" if value == _ANY else str(value)


def _short(value: Any) -> str:
    """A value as an option of a layer or a scale is typed."""
    if value == _ANY:
        return "…"
    if isinstance(value, bool):
        return str(value).lower()
    if isinstance(value, list | tuple):
        return f"[{','.join(_short(one) for one in value)}]"
    if isinstance(value, Mapping):
        return _toml(value)
    text = str(value)
    return f'"{text}"' if re.search(r"[,\[\]{}=]|^\s|\s$", text) else text


def _typed(text: str) -> str:
    """A word as a shell takes it."""
    if _ANY in text:
        return f'"{text.replace(_ANY, "…")}"'
    # A comma at its end would look like one of the sentence.
    return f"'{text}'" if text.endswith((",", ";")) and "'" not in text else quote(text)


def _key(verb: str, given: list[Any], named: Mapping[str, Any]) -> str | None:
    """The key of a figure in a plan that says what a verb says; None where there is none."""
    from facetine.layers import LAYERS

    if verb in ("kinds", "map", "panel", "sheet") and (named or verb == "sheet"):
        sides = dict(zip(("width", "height"), given, strict=False)) if verb == "sheet" else {}
        return f"{verb} = {_toml({**sides, **named})}"
    if verb == "keep" and given:
        return f"steps = [{{ keep = {_toml(given[0])} }}]"
    if verb == "derive":
        return f"steps = [{{ derive = {_toml(named)} }}]"
    if verb == "scale" and given:
        kind = {"kind": given[1]} if len(given) > 1 else {}
        return f"scale.{given[0]} = {_toml({**kind, **named})}" if kind or named else f"scale.{given[0]}"
    first = {"titles": "title", "theme": "name", "facet": "by", "sample": "count", "highlight": "where"}
    if verb in first:
        return f"{verb} = {_toml({**({first[verb]: given[0]} if given else {}), **named})}"
    if verb == "marginal" and len(given) > 1:
        return f"marginals = [{_toml({'side': given[0], 'layer': given[1], **named})}]"
    if verb == "change" and given:
        return f"change.{given[0]} = {_toml(named)}"
    if verb in LAYERS and not given:
        return f"layers = [{_toml({verb: named})}]" if named else f'layers = ["{verb}"]'
    return None


def _toml(value: Any) -> str:
    """A value in TOML, within one line."""
    if value == _ANY:
        return "…"
    if isinstance(value, bool):
        return str(value).lower()
    if value is None:
        return "false"
    if isinstance(value, int | float):
        return repr(value)
    if isinstance(value, Mapping):
        inner = ", ".join(f"{_bare(str(name))} = {_toml(one)}" for name, one in value.items())
        return f"{{ {inner} }}" if inner else "{}"
    if isinstance(value, list | tuple | set):
        return f"[{', '.join(map(_toml, value))}]"
    import json

    return json.dumps(str(value), ensure_ascii=False)


def _bare(name: str) -> str:
    import json

    if name == _ANY:
        return "COLUMN"
    return name if re.fullmatch(r"[\w-]+", name, re.ASCII) else json.dumps(name, ensure_ascii=False)


def _book(found: re.Match[str], braces: str, place: Place) -> str | None:
    del found
    try:
        entries = ast.literal_eval(braces if re.search(r"[:,{\[ ]…", braces) is None else braces.replace("…", "'…'"))
    except (SyntaxError, ValueError):
        return None
    if not isinstance(entries, dict) or not all(isinstance(says, dict) for says in entries.values()):
        return None
    if place == "plan":
        return ", ".join(f"codebook.{_bare(name)} = {_toml(says)}" for name, says in entries.items())
    lines = ", ".join(f"{_bare(name)} = {_toml(says)}" for name, says in entries.items())
    return f"--codebook FILE with {lines}"


def _reading(found: re.Match[str], text: str, place: Place) -> str | None:
    try:
        value = ast.literal_eval(text)
    except (SyntaxError, ValueError):
        return None
    if place == "plan":
        return f"{found[1]} = {_toml(value)}"
    return f"--read {_typed(f'{found[1]}={_short(value) if isinstance(value, list) else value}')}"
