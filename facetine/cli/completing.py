"""What a shell proposes while a command is typed: layers and their options, columns of the file at hand, figures of the plan."""

from __future__ import annotations

import contextlib
import os
import re
import warnings
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import fields
from pathlib import Path

import click
from click.shell_completion import (
    BashComplete,
    CompletionItem,
    FishComplete,
    ShellComplete,
    ZshComplete,
    add_completion_class,
)

Complete = Callable[[click.Context, click.Parameter, str], list[CompletionItem[str]]]
_BASH = """%(complete_func)s() {
    local IFS=$'\\n' kind value
    COMPREPLY=()
    while IFS=, read -r kind value; do
        if [[ $kind == dir ]]; then compopt -o dirnames
        elif [[ $kind == file ]]; then compopt -o default
        elif [[ $kind == open ]]; then compopt -o nospace; COMPREPLY+=("$value")
        elif [[ $kind == plain ]]; then COMPREPLY+=("$value")
        fi
    done < <(_FACETINE_LINE="${COMP_LINE:0:COMP_POINT}" _FACETINE_BREAKS="$COMP_WORDBREAKS" %(complete_var)s=bash_complete "$1" \\
        2>/dev/null)
}
complete -o nosort -F %(complete_func)s %(prog_name)s
"""


def complete(what: str) -> Complete:
    """What completes a value.

    Args:
        what: A key of `WAYS`.
    """

    def completed(context: click.Context, parameter: click.Parameter, incomplete: str) -> list[CompletionItem[str]]:
        del parameter
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            try:
                found = list(WAYS[what](_said(context), incomplete))
            except Exception:  # a file that can't be read has no columns to propose
                found = []
        if not found and what in ("themes", "files"):
            return [CompletionItem("", type="file")]
        return [_item(value) for value in found if value.startswith(incomplete)]

    return completed


_TYPED: list[str] = []
"""The words before the one that is completed."""


def _said(context: click.Context) -> click.Context:
    """A command with all that has been said of it: one whose last option waits for its value is not read by itself."""
    words = _TYPED[_TYPED.index(str(context.info_name)) + 1 :] if context.info_name in _TYPED else []
    if words and words[-1].startswith("-"):
        words = words[:-1]
    return context.command.make_context(context.info_name, words, parent=context.parent, resilient_parsing=True)


def _item(value: str) -> CompletionItem[str]:
    """A word; one that goes on, as with its value, gets no blank behind it."""
    return CompletionItem(value, type="open" if value[-1:] in "=:," else "plain")


def _after(incomplete: str, sign: str, before: Iterable[str], values: Callable[[str], Iterable[str]]) -> list[str]:
    """Names with a sign behind them, and once that is there, values."""
    name, there, _ = incomplete.partition(sign)
    return [f"{name}{sign}{value}" for value in values(name)] if there else [f"{name}{sign}" for name in before]


def _options(prefix: str, text: str, known: Mapping[str, Sequence[str]]) -> list[str]:
    """Options that are parted by commas, each with an equals sign and, where it is one of some words, these."""
    done, _, last = text.rpartition(",")
    begun = f"{prefix}{done}," if done else prefix
    said = set(re.findall(r"(\w+)=", done))
    name, sign, _ = last.partition("=")
    if sign:
        return [f"{begun}{name}={word}" for word in known.get(name, ())]
    return [f"{begun}{one}=" for one in known if one not in said]


def _columns(context: click.Context) -> list[str]:
    """The columns of the file that stands in the command, and those that are derived there."""
    from facetine.data.readers import deferred_columns, read_columns

    data = context.params.get("data") or context.params.get("what")
    if not isinstance(data, str) or data == "-":
        return []
    derived = [text.partition("=")[0] for text in context.params.get("derive") or ()]
    if Path(data.partition("#")[0]).stat().st_size > 1 << 22:
        return [*deferred_columns(data), *derived]
    return [*read_columns(data), *derived]


def _figures(context: click.Context, _: str) -> list[str]:
    from facetine.batch.plan import read_said

    plan = context.params.get("plan") or context.params.get("what")
    said = read_said(Path(str(plan))).tables
    return [*said.get("figure", {}), *said.get("plate", {})]


def _words_of(record: type) -> dict[str, tuple[str, ...]]:
    """The options of a record, each with the words that it may be."""
    from facetine.grammar.options import words_of

    return {one.name: words_of(one.metadata.get("check")) for one in fields(record)}


def _layers(_: click.Context, incomplete: str) -> list[str]:
    from facetine.layers import LAYERS, layer_class

    name, sign, text = incomplete.partition(":")
    if not sign:
        return [*LAYERS, *(f"{one}:" for one in LAYERS)] if incomplete in LAYERS else list(LAYERS)
    known = {one: words for one, words in _words_of(layer_class(name)).items() if one not in ("map", "data")}
    known["layer"] = ()
    return _options(f"{name}:", text, known)


def _mapping(context: click.Context, incomplete: str) -> list[str]:
    from facetine.grammar.aesthetics import AESTHETICS

    return _after(incomplete, "=", AESTHETICS, lambda _: _columns(context))


def _kinds(context: click.Context, incomplete: str) -> list[str]:
    from facetine.data.table import KINDS

    return _after(incomplete, "=", _columns(context), lambda _: KINDS)


def _scales(_: click.Context, incomplete: str) -> list[str]:
    from facetine.grammar.scale import KINDS, SCALED, ScaleOptions

    name, sign, text = incomplete.partition("=")
    if not sign:
        return [f"{name}=" for name in SCALED]
    known = {one: words for one, words in _words_of(ScaleOptions).items() if one != "kind"}
    known["palette"] = tuple(_palettes())
    kinds = [f"{name}={kind}" for kind in KINDS] if "," not in text and "=" not in text else []
    return [*kinds, *_options(f"{name}=", text, known)]


def _palettes() -> list[str]:
    from facetine.catalogs.catalog import catalog

    return [entry.name for entry in catalog("palettes")]


def _themes(_: click.Context, __: str) -> list[str]:
    from facetine.grammar.theme import THEMES

    return list(THEMES)


def _settings(_: click.Context, incomplete: str) -> list[str]:
    from facetine.grammar.theme import Theme

    known = _words_of(Theme)
    known["palette"] = tuple(_palettes())
    return _after(incomplete, "=", known, lambda name: known.get(name, ()))


def _marginals(context: click.Context, incomplete: str) -> list[str]:
    from facetine.grammar.marginal import SIDES

    side, sign, text = incomplete.partition("=")
    return [f"{side}={layer}" for layer in _layers(context, text)] if sign else [f"{side}=" for side in SIDES]


def _reading(context: click.Context, incomplete: str) -> list[str]:
    from facetine.batch.models import OF_CELLS, OF_TEXTS

    return _after(incomplete, "=", (*OF_CELLS, *OF_TEXTS), lambda name: _columns(context) if name == "as_text" else ())


def _guides(_: click.Context, incomplete: str) -> list[str]:
    from facetine.grammar.scale import SCALED

    return _after(incomplete, "=", SCALED, lambda _: ())


def _topics(_: click.Context, __: str) -> list[str]:
    from facetine.catalogs.catalog import TOPICS

    return [*TOPICS, "schema"]


def _profiles(_: click.Context, __: str) -> list[str]:
    from facetine.catalogs.catalog import catalog

    return [entry.name for entry in catalog("profiles")]


def _formats(_: click.Context, __: str) -> list[str]:
    from facetine.writers.formats import FORMATS

    return list(FORMATS)


WAYS: Mapping[str, Callable[[click.Context, str], Iterable[str]]] = {
    "columns": lambda context, _: _columns(context),
    "figures": _figures,
    "files": lambda *_: (),
    "formats": _formats,
    "guides": _guides,
    "kinds": _kinds,
    "layers": _layers,
    "mapping": _mapping,
    "marginals": _marginals,
    "profiles": _profiles,
    "reading": _reading,
    "scales": _scales,
    "separate": lambda *_: ("x", "y", "xy"),
    "settings": _settings,
    "shells": lambda *_: ("bash", "zsh", "fish"),
    "themes": _themes,
    "topics": _topics,
}
"""What completes each sort of value, for all shells."""


class _Shell(ShellComplete):
    """A shell, which keeps the words that have been typed."""

    def get_completions(self, args: list[str], incomplete: str) -> list[CompletionItem[str]]:
        """What may stand in the place of the last word."""
        _TYPED[:] = args
        return super().get_completions(args, incomplete)


class _Zsh(_Shell, ZshComplete):
    """Zsh hands words over whole."""


class _Fish(_Shell, FishComplete):
    """So does fish."""


class _Bash(_Shell, BashComplete):
    """Bash parts words at "=" and ":" too, and wants back what stands behind the last of these."""

    name = "bash"
    source_template = _BASH

    def get_completion_args(self) -> tuple[list[str], str]:
        """The words before the one that is typed, and as much of that as there is."""
        words, last = _parted(os.environ.get("_FACETINE_LINE", ""))
        return words[1:], last

    def complete(self) -> str:
        """The lines that the shell reads."""
        args, incomplete = self.get_completion_args()
        line, breaks = os.environ.get("_FACETINE_LINE", ""), os.environ.get("_FACETINE_BREAKS", "=:")
        typed = line[len(line) - len(_last_word(line)) :]
        opened = typed[:1] if typed[:1] in "\"'" else ""
        cut = max((incomplete.rfind(sign) for sign in "=:" if sign in breaks), default=-1) + 1 if not opened else 0
        lines = []
        for item in self.get_completions(args, incomplete):
            value = str(item.value)
            lines.append(f"{item.type},{value if item.type in ('file', 'dir') else _quoted(value[cut:], opened)}")
        return "\n".join(lines)


def _parted(line: str) -> tuple[list[str], str]:
    """The whole words of a line as the shell has them, and the last one, of which more may come."""
    import shlex

    last = _last_word(line)
    before = line[: len(line) - len(last)]
    try:
        words = shlex.split(before)
    except ValueError:
        words = before.split()
    bare = last
    for closing in ("", '"', "'"):
        with contextlib.suppress(ValueError):
            bare = "".join(shlex.split(last + closing)) if last else ""
            break
    return words, bare


def _last_word(line: str) -> str:
    """What is typed of the last word, with its quotes."""
    start, quote, place = 0, "", 0
    while place < len(line):
        sign = line[place]
        if sign == "\\" and quote != "'":
            place += 1
        elif quote:
            quote = "" if sign == quote else quote
        elif sign in "\"'":
            quote = sign
        elif sign.isspace():
            start = place + 1
        place += 1
    return line[start:]


def _quoted(value: str, opened: str) -> str:
    """A word as it may be typed: in the quotes that were opened, else with a stroke before what the shell would read."""
    if opened:
        return opened + value
    return re.sub(r"([\s()\[\]{}<>|&;*?$!#'\"`\\~])", r"\\\1", value)


def shell_class(name: str) -> type[ShellComplete] | None:
    """What speaks with a shell; None for one that is not known."""
    from click.shell_completion import get_completion_class

    for kind in (_Bash, _Zsh, _Fish):
        add_completion_class(kind)
    return get_completion_class(name)
