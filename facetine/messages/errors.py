"""What a user can get wrong, one class for each, and the words that say how to fix it.

An error carries its parts. Where it is shown they become a headline (where, what was given, the nearest match) and a detail
(what is possible): in Python on two lines, on the command line joined into one.
"""

from __future__ import annotations

import os
import re
import sys
import traceback
import warnings
from collections.abc import Iterable
from copy import copy
from typing import Any, TypeVar

from facetine.messages.synonyms import meant, verb_for

E = TypeVar("E", bound="FacetineError")


class FacetineError(Exception):
    """Anything that Facetine refuses. It carries its parts, and is worded where it is shown.

    Args:
        where: The verb that refuses, such as "figure.points"; empty where none does.
        what: What is wrong, in words.
        detail: What would do; empty for nothing.
        of_option: Whether `where` ends in the name of an option, of which `what` goes on to tell.
        given: The word that is none of the possible ones; None for no such word.
        choices: The possible words.
        called: What these are called, in the plural.
        proposed: The one that was meant, as far as one can tell; empty for none.
        at: The file and the line that say it; empty for none.

    >>> print(FacetineError("figure.theme", "no setting 'fnt'", proposed="font", choices=("font", "ground"), called="settings"))
    figure.theme: no setting 'fnt'. Did you mean 'font'?
      settings: font, ground
    """

    late = False
    """Whether it only says that something took longer than it may: what was there before may still be true."""

    def __init__(
        self,
        where: str,
        what: str,
        detail: str = "",
        *,
        of_option: bool = False,
        given: object = None,
        choices: Iterable[str] = (),
        called: str = "",
        proposed: str = "",
        at: str = "",
    ) -> None:
        super().__init__(where, what, detail)
        self.where, self.what, self.help, self.at = where, what, detail, at
        self.of_option, self.given, self.choices, self.called, self.proposed = of_option, given, tuple(choices), called, proposed

    def but(self, kind: type[E] | None = None, **parts: object) -> E:
        """The same error of another class, or with other parts."""
        made = copy(self) if kind is None else kind.__new__(kind, *self.args)
        made.__dict__.update(self.__dict__ | parts)
        return made  # type: ignore[return-value]

    @property
    def headline(self) -> str:
        """Where, what was given, and the nearest possible thing, in one sentence."""
        sentence = (" " if self.of_option else ": ").join(filter(None, (self.where, self.what)))
        placed = f"{self.at}: {sentence}" if self.at else sentence
        return _brief(f"{placed}. Did you mean {self.proposed!r}?" if self.proposed else placed)

    @property
    def detail(self) -> str:
        """What would do, on a line of its own; empty for nothing."""
        choices = f"{self.called}: {listed(self.choices)}" if self.choices else ""
        return _brief("; ".join(filter(None, (self.help, choices))))

    def __str__(self) -> str:
        return f"{self.headline}\n  {self.detail}" if self.detail else self.headline

    def _render_traceback_(self) -> list[str]:
        """What a notebook shows instead of a traceback: the message alone, which says the verb and what would do."""
        return [f"{type(self).__name__}: {self}"]

    @property
    def line(self) -> str:
        """The message on one line, for the command line and for reports."""
        text = f"{self.headline} ({self.detail})" if self.detail else self.headline
        return " ".join(text.split())


def late(error: E) -> E:
    """An error that says that something took too long."""
    error.late = True
    return error


DEBUG = "FACETINE_DEBUG"
"""The variable of the environment that asks for what led to an error."""
_MOST = 290
_COMMANDING = re.compile("[\x00-\x08\x0b-\x1f\x7f-\x9f\u061c\u200e\u200f\u2028-\u202e\u2066-\u2069\ud800-\udfff]")
"""What no line may hold: signs that command a terminal, that turn the order of what stands beside them, or that are none."""
_QUOTED = re.compile(r"'[^']{81,}'|\"[^\"]{81,}\"")


def printable(text: str) -> str:
    """A text that may be shown anywhere: signs that command a terminal, or turn the order of letters, are spelled out.

    >>> print(printable("a\\x1b[31mred"))
    a\\u001b[31mred
    """
    return _COMMANDING.sub(lambda found: f"\\u{ord(found[0]):04x}", text)


def _brief(text: str) -> str:
    """A text with its quotes cut to 80 letters and itself to what a reader wants, in letters that can be shown."""
    shown = printable(text)
    shown = _QUOTED.sub(lambda found: f"{found[0][:80]}…{found[0][-1]}", shown)
    return shown if len(shown) <= _MOST else shown[: _MOST - 1] + "…"


class MappingError(FacetineError):
    """A mapping names a column or an aesthetic that is not there, or lacks one that a layer needs."""


class KindError(FacetineError):
    """A column has a kind that this use can't take."""


class ScaleError(FacetineError):
    """A scale can't be made as asked."""


class OptionError(FacetineError):
    """An option is unknown, or has a value that it can't have."""


class DataError(FacetineError):
    """The data can't be read, or can't be a table."""


class PlanError(FacetineError):
    """A plan can't be read, or says something that no figure can follow.

    Args:
        where: As for any error.
        what: Likewise.
        detail: Likewise.
        others: What else is wrong with it.
        **parts: As for any error.
    """

    others: tuple[PlanError, ...] = ()

    def __init__(self, where: str, what: str, detail: str = "", *, others: tuple[PlanError, ...] = (), **parts: Any) -> None:
        super().__init__(where, what, detail, **parts)
        self.others = others

    @property
    def lines(self) -> list[str]:
        """All that is wrong, an error a line."""
        return [self.line, *(line for other in self.others for line in other.lines)]


class ExportError(FacetineError):
    """A figure can't be written as asked."""


class VerbError(FacetineError, AttributeError):
    """A figure, or the package, has nothing of that name."""


class FacetineFinding(UserWarning):
    """Something the reader of a figure should know: rows left out, a column taken for something it may not be."""


def no_layer(given: str, layers: Iterable[str]) -> OptionError:
    """What to say where there is no layer of a name; one that does what a word of the trade asks for is named."""
    known = list(layers)
    ours = verb_for(given) if nearest(given, known) is None else None
    if ours is None or ours.partition("(")[0] not in known:
        return unknown(OptionError, "figure", "no layer", given, known, "layers")
    return OptionError("figure", f"no layer {told(given)}", given=given, choices=known, called="layers", proposed=ours)


def traced(error: FacetineError) -> FacetineError:
    """An error with all that led to it as a note, where that is asked for: it goes through pipes, which a traceback does not."""
    if os.environ.get(DEBUG) and not getattr(error, "__notes__", ()):
        error.add_note(printable("".join(traceback.format_exception(error))))
    return error


def trace_of(error: FacetineError) -> str:
    """What led to an error, where it was asked for."""
    return "".join(getattr(error, "__notes__", ()))


def note(said: Iterable[object]) -> None:
    """Findings reach the analyst as warnings that point at the line which asked, each once."""
    level, frame = 1, sys._getframe(1)
    while frame.f_back is not None and frame.f_globals.get("__name__", "").partition(".")[0] == "facetine":
        level, frame = level + 1, frame.f_back
    for one in dict.fromkeys(map(str, said)):
        warnings.warn(one, FacetineFinding, stacklevel=level + 1)


def told(value: object) -> str:
    """A value as it is quoted in a message: on one line, at most 80 letters, whatever it is.

    >>> told({"a": 1})
    "{'a': 1}"
    >>> told(range(3))
    'range(0, 3)'
    """
    try:
        if isinstance(value, str):
            return repr(value) if len(value) <= 80 else f"{value[:80]!r}…"
        if hasattr(value, "shape") and getattr(value, "shape", ()) != ():
            return f"a {type(value).__name__} of shape {tuple(value.shape)}"
        if hasattr(value, "__len__") and len(value) > 1000:
            return f"a {type(value).__name__} of {len(value):,}"
        words = " ".join(repr(value).split())
    except Exception:  # a stranger's object may refuse to be looked at
        words = f"a {type(value).__name__}"
    return words if len(words) <= 80 else f"{words[:80]}…"


def nearest(given: object, possible: Iterable[str]) -> str | None:
    """The possible word that is closest to the given one, or None when none is close.

    >>> nearest("rnd", ["wheel", "rind", "milk"])
    'rind'
    """
    import difflib

    words = {word.casefold(): word for word in possible}
    close = difflib.get_close_matches(given[:200].casefold(), words, n=1, cutoff=0.55) if isinstance(given, str) else ()
    return words[close[0]] if close else None


def listed(words: Iterable[str], most: int = 12) -> str:
    """Words in a row, cut after `most`, with the number of all of them when it is cut.

    >>> listed(["wheel", "rind", "milk"], most=2)
    'wheel, rind, … (3)'
    """
    every = list(words)
    if len(every) <= most:
        return ", ".join(every)
    return ", ".join(every[:most]) + f", … ({len(every)})"


def unknown(error: type[E], where: str, what: str, given: object, possible: Iterable[str], name: str) -> E:
    """The error for a word that is none of the possible ones.

    Args:
        error: The class to make.
        where: The verb, such as "figure.points".
        what: What is missing, with its article or "no", such as "no column".
        given: The word as given.
        possible: The words that would do; the one that means what was given is proposed, else the one spelled most like it.
        name: What the possible words are called, in the plural.

    >>> print(unknown(OptionError, "figure.theme", "no setting", "text_siz", ["text_size", "font"], "settings"))
    figure.theme: no setting 'text_siz'. Did you mean 'text_size'?
      settings: text_size, font
    """
    words = [str(word) for word in possible]
    close = meant(given, words) or nearest(given, words) or ""
    detail = "" if words else f"there are no {name} here"
    return error(where, f"{what} {told(given)}", detail, given=given, choices=words, called=name, proposed=close)


def no_verb(what: str, given: str, possible: Iterable[str], detail: str) -> VerbError:
    """The error for a name that nothing has.

    Args:
        what: What was asked, with its article, such as "a figure".
        given: The name.
        possible: The names that it has.
        detail: What there is.

    >>> print(no_verb("a figure", "scatter", ["points", "scale"], "layers: points"))
    a figure has no verb 'scatter'; .points does that
      layers: points
    """
    words = [word for word in possible if not word.startswith("_")]
    does = verb_for(given)
    if does is not None and does.partition("(")[0] in words:
        return VerbError("", f"{what} has no verb {given!r}; .{does} does that", detail, given=given)
    return VerbError("", f"{what} has no verb {given!r}", detail, given=given, proposed=nearest(given, words) or "")
