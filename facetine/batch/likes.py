"""Figures of a plan that are like others: what those say is taken over, and laid over by what they say themselves."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from facetine.messages.errors import PlanError, told, unknown

_REPLACED = ("layers", "steps", "insets", "marginals", "without", "formats")
"""Lists that are given anew, not joined."""
_OWN = ("file", "alone")
"""What is not taken over: two figures are not written to one file."""
_OFF = (
    "facet",
    "matrix",
    "over_variables",
    "sample",
    "highlight",
    "choose",
    "respond",
    "panel",
    "sheet",
    "titles",
    "theme",
    "codebook",
    "silence",
    "change",
    "without",
)
"""Parts that false takes away."""


def with_likes(figures: Any, plan: str) -> Any:
    """The figures of a plan, those with `like` as they say in full.

    Tables merge key by key; lists are replaced where they are given; false takes a part, or a scale, away.

    Raises:
        PlanError: A figure is like one that is not there, or like itself.
    """
    if not isinstance(figures, Mapping):
        return figures
    return {name: _full(figures, name, plan, ()) for name in figures}


def _full(figures: Mapping[str, Any], name: str, plan: str, behind: tuple[str, ...]) -> Any:
    said = figures[name]
    if not isinstance(said, Mapping) or "like" not in said:
        return said
    like, where = said["like"], f"figure.{name}"
    if not isinstance(like, str):
        raise PlanError(where, f"like names another figure, not {told(like)}", at=plan)
    if like not in figures:
        raise unknown(PlanError, f"{where}: like", "no figure", like, figures, "figures").but(at=plan)
    if like == name or like in behind:
        raise PlanError(where, f"is like {like!r}, which is like it in turn", of_option=True, at=plan)
    base = _full(figures, like, plan, (*behind, name))
    if not isinstance(base, Mapping):
        return {key: value for key, value in said.items() if key != "like"}
    # Layers that are given anew are none of those which were changed.
    gone = (*_OWN, "change", "without") if "layers" in said else _OWN
    kept = {key: value for key, value in base.items() if key not in gone}
    own = {key: value for key, value in said.items() if key != "like"}
    return _laid(_without_titles_of(kept, own), own)


def _without_titles_of(base: Mapping[str, Any], own: Mapping[str, Any]) -> Mapping[str, Any]:
    """What is taken over without the titles of axes and legends that are given anew, where the other way to say them is used."""
    titles, scales = own.get("titles"), own.get("scale")
    again = {name for name in titles if titles[name] is not None} if isinstance(titles, Mapping) else set()
    scaled = {name for name, said in scales.items() if _says_title(said)} if isinstance(scales, Mapping) else set()
    made = dict(base)
    if isinstance(base.get("scale"), Mapping):
        made["scale"] = {
            name: {key: value for key, value in said.items() if key != "title"} if name in again and _says_title(said) else said
            for name, said in base["scale"].items()
        }
    if isinstance(base.get("titles"), Mapping):
        made["titles"] = {name: text for name, text in base["titles"].items() if name not in scaled}
    return made


def _says_title(said: object) -> bool:
    return isinstance(said, Mapping) and "title" in said


def _laid(base: Mapping[str, Any], over: Mapping[str, Any], depth: int = 0) -> dict[str, Any]:
    """A table with another one laid over it."""
    made = dict(base)
    for key, value in over.items():
        before = made.get(key)
        if value is False and (key in _OFF if depth == 0 else True) and key in made and not isinstance(before, bool):
            del made[key]
        elif isinstance(value, Mapping) and isinstance(before, Mapping) and key not in _REPLACED:
            made[key] = _laid(before, value, depth + 1)
        elif depth == 0 and isinstance(value, Mapping) and isinstance(before, str) and key in ("facet", "titles", "theme"):
            word = {"facet": "by", "titles": "title", "theme": "name"}[key]
            made[key] = _laid({word: before}, value, 1)
        else:
            made[key] = value
    return made
