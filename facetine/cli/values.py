"""What is written on a command line: `name=value` pairs, and layers with their options."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from facetine.grammar.given import Plain
from facetine.messages.errors import OptionError, told


def pairs(given: Sequence[str], option: str) -> dict[str, str]:
    """Pairs such as `x=moisture_pct`.

    Raises:
        OptionError: One of them has no equals sign, or a name comes twice.
    """
    out: dict[str, str] = {}
    for text in given:
        name, sign, value = text.partition("=")
        if not sign or not name.strip():
            raise OptionError(f"{option} {told(text)}", "no name and value", f"write {option} name=value")
        if name.strip() in out:
            raise OptionError(f"{option} {told(text)}", f"{name.strip()} is given twice")
        out[name.strip()] = value.strip()
    return out


def layer(text: str) -> tuple[str, Plain]:
    """A layer with options, such as `points:opacity=0.5,size=4`.

    >>> layer("points:opacity=0.5,color=teal")
    ('points', {'opacity': 0.5, 'color': 'teal'})
    """
    name, _, options = text.partition(":")
    return name.strip(), settings(options, f"--layer {told(text)}")


def scale(text: str) -> tuple[str, Plain]:
    """A scale, such as `x=log` or `x=log,reverse=true` or `color=palette=pantry`.

    >>> scale("x=log,reverse=true")
    ('x', {'kind': 'log', 'reverse': True})
    """
    aesthetic, sign, rest = text.partition("=")
    if not sign:
        raise OptionError(f"--scale {told(text)}", "no aesthetic and kind", "write --scale x=log, or x=log,reverse=true")
    first, _, others = rest.partition(",")
    if "=" in first:
        return aesthetic.strip(), settings(rest, f"--scale {told(text)}")
    return aesthetic.strip(), {"kind": first.strip(), **settings(others, f"--scale {told(text)}")}


def settings(text: str, where: str) -> Plain:
    """Options separated by commas; values are numbers, true, false, lists in brackets, or words."""
    out: Plain = {}
    for part in _split(text):
        name, sign, value = part.partition("=")
        if not sign:
            raise OptionError(where, f"{part!r} is no option=value")
        out[name.strip()] = read_value(value.strip())
    return out


def read_value(text: str) -> Any:
    """A number, truth value, list or text from what was typed.

    >>> [read_value(text) for text in ("3", "0.5", "true", "[0, 10]", "teal")]
    [3, 0.5, True, [0, 10], 'teal']
    """
    if text in ("true", "false"):
        return text == "true"
    for kind in (int, float):
        try:
            return kind(text)
        except ValueError:
            continue
    if text[:1] in ("[", '"', "'", "{"):
        import tomllib

        try:
            return tomllib.loads(f"value = {text}")["value"]
        except tomllib.TOMLDecodeError:
            if text[0] == "[" and text[-1] == "]":
                return [read_value(part.strip()) for part in _split(text[1:-1])]
    return text


def _split(text: str) -> list[str]:
    """Parts between commas that stand outside of brackets and quotes."""
    parts, depth, quote, now = [], 0, "", ""
    for char in text:
        if quote:
            quote = "" if char == quote else quote
        elif char in "\"'":
            quote = char
        elif char in "[{(":
            depth += 1
        elif char in "]})":
            depth -= 1
        elif char == "," and depth == 0:
            parts.append(now)
            now = ""
            continue
        now += char
    return [part for part in (*parts, now) if part.strip()]
