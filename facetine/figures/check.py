"""Figures checked, fixed and put into words: what the verbs `check` and `describe` do."""

from __future__ import annotations

import sys
from typing import TYPE_CHECKING, Any

from facetine.checks.checked import CheckResult, check, checked_silence, profile_for, profile_of
from facetine.checks.words import long_description
from facetine.export.defaults import now
from facetine.export.export import built
from facetine.grammar.options import choice
from facetine.grammar.plate import Plate
from facetine.grammar.sentence import Sentence

if TYPE_CHECKING:
    from facetine.grammar.given import Length

_MOST_ROUNDS = 6


def checked(said: Sentence | Plate, profile: object, width: Length, height: Length, silence: object) -> CheckResult:
    """What the check of a figure, or of a plate, finds."""
    where = f"{_what(said)}.check"
    quiet = checked_silence(silence, where)
    place = None if profile is None else profile_of(profile, where)
    if place is not None and width is None and height is None and said.sheet.width is None:
        width = f"{place.width_mm:g} mm"
    made = built(said, width, height, where)
    return check(said, made, place or profile_for(made.scene.width), quiet)


def fixed_figure(figure: Any, profile: object, width: Length, height: Length, silence: object) -> Any:
    """A figure with all fixes that are the one right one; the sentence that does it is printed."""
    what, lines = _what(figure._sentence), list[str]()
    for _ in range(_MOST_ROUNDS):
        found = checked(figure._sentence, profile, width, height, silence)
        calls = (one.call for one in found if one.call is not None and one.call.of == what)
        todo = next((call for call in calls if str(call) not in lines), None)
        if todo is None:
            break
        figure = getattr(figure, todo.verb)(*todo.values, **dict(todo.options))
        lines.append(str(todo))
    sys.stdout.write("".join(f"{line}\n" for line in lines) or "nothing to fix\n")
    return figure


def described(said: Sentence | Plate, length: object) -> str:
    """A figure in sentences."""
    what = _what(said)
    choice("short", "long", name="lengths")(length, f"{what}.describe: length")
    # What is said does not depend on the size, so one is taken that has room for most.
    width = "180 mm" if said.sheet.width is None and now().width is None else None
    made = built(said, width, None, f"{what}.describe")
    return made.scene.description if length == "short" else long_description(made)


def _what(said: Sentence | Plate) -> str:
    return "plate" if isinstance(said, Plate) else "figure"
