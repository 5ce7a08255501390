"""Random figures and sheets over a small frame, with what each of them maps: written down as plain data, to be checked from the paper."""

from __future__ import annotations

import random
from typing import Any, NamedTuple

import numpy as np
import pandas as pd

import facetine as ft

KINDS = ["ka", "kb", "kc", "kd"]
MILD = ["ma", "mb", "mc"]
TITLES = {"k": "K", "m": "M", "v": "V"}
CHOICES: list[dict[str, dict[str, Any]]] = [
    {},
    {"color": {"colors": {"ka": "#d00000"}}},
    {"color": {"colors": {"kb": "#00a000", "ka": "#0000d0"}}},
    {"color": {"palette": "pantry"}},
    {"color": {"palette": ["#101010", "#b04020", "#2060b0", "#508030"]}},
    {"color": {"colors": {"kc": "#c000c0"}, "others": "#a0a0a0"}},
    {"color": {"order": ["kd", "kb"]}},
    {"shape": {"shapes": {"ma": "plus"}}},
    {"shape": {"shapes": ["square", "cross", "disc"]}},
    {"dash": {"dashes": {"mb": "dotted"}}},
    {"dash": {"dashes": ["dashed", "solid", "long"]}},
]
BOOKS: list[dict[str, Any] | None] = [
    None,
    None,
    None,
    {"k": {"colors": {"kb": "#e08000"}}},
    {"k": {"order": ["kc", "kd", "ka", "kb"]}},
]


class Said(NamedTuple):
    """What one figure maps, as its author knows it."""

    verb: str
    mapping: dict[str, str]
    rows: pd.DataFrame
    choices: dict[str, dict[str, Any]]
    book: dict[str, Any] | None


class Case(NamedTuple):
    """A sheet, and what its figures map, in their order."""

    sheet: Any
    figures: list[Said]
    insets: list[Said]
    letters: str
    unlike: bool
    """Whether two figures that show the same column have unlike choices."""


def frame(chance: random.Random, rows: int = 24) -> pd.DataFrame:
    """Rows whose x, y and v are all different, so that a place on the paper tells its row."""
    kinds = [*KINDS, *(chance.choice(KINDS) for _ in range(rows - len(KINDS)))]
    mild = [*MILD, *(chance.choice(MILD) for _ in range(rows - len(MILD)))]
    made = pd.DataFrame(
        {
            "x": np.array(chance.sample(range(1, 200), rows), float),
            "y": np.array(chance.sample(range(1, 200), rows), float) / 2,
            "v": np.array(chance.sample(range(10, 500), rows), float) / 3,
            "k": kinds,
            "m": mild,
        }
    )
    return made.sample(frac=1, random_state=chance.randrange(10**6)).reset_index(drop=True)


def _figure(chance: random.Random, rows: pd.DataFrame) -> tuple[Any, Said]:
    verb = chance.choice(["points", "points", "points", "lines", "bars", "boxes"])
    mapping = {"x": "x", "y": "y", "color": chance.choice(["k", "k", "k", "m"])}
    if verb == "points":
        mapping |= {name: "m" for name in ("shape",) if chance.random() < 0.4}
        mapping |= {name: "v" for name in ("size",) if chance.random() < 0.2}
    if verb == "lines" and chance.random() < 0.5:
        mapping["dash"] = "m"
    if verb == "bars":
        mapping = {"x": "m", "y": "v", "color": "k"}
    if verb == "boxes":
        mapping = {"x": "k", "y": "v", "color": "k"}
    book = chance.choice(BOOKS)
    choices = chance.choice(CHOICES)
    choices = {name: said for name, said in choices.items() if mapping.get(name) in (("k",) if name == "color" else ("m",))}
    made = ft.figure(rows, codebook=book).map(**mapping)
    made = made.bars(aggregate="mean", arrange="side_by_side") if verb == "bars" else getattr(made, verb)()
    for name, said in choices.items():
        made = made.scale(name, **said)
    if chance.random() < 0.1:
        made = made.theme("basalt")
    return made, Said(verb, mapping, rows, choices, book)


def case(seed: int) -> Case:
    """The sheet of a seed: one figure, a plate, an inset, panels, a matrix, or a figure with marginals."""
    chance = random.Random(seed)
    rows = frame(chance)
    how = chance.choice(["plate"] * 7 + ["inset", "inset", "facet", "variables", "matrix", "marginal", "alone"])
    first, said = _figure(chance, rows)
    letters = chance.choice(["A", ""])
    if how in ("plate", "inset"):
        others = [
            _figure(chance, frame(chance) if chance.random() < 0.3 else rows)
            for _ in range(1 if how == "inset" else chance.choice([1, 1, 2]))
        ]
        every = [said, *(other for _, other in others)]
        if how == "inset":
            sheet = first.inset(others[0][0], at=(0.3, 0.3, 1, 1))
            return Case(sheet, [said], every[1:], "", _unlike(every))
        row = [first, *(figure for figure, _ in others)]
        shared = chance.random() < 0.7
        sheet = ft.plate([row] if chance.random() < 0.6 else [[one] for one in row], letters=letters or None, share_legend=shared)
        if chance.random() < 0.15:
            sheet = sheet.scale("color", palette="pantry")
        return Case(sheet, every, [], letters, _unlike(every))
    if how == "facet" and said.verb in ("points", "lines"):
        first = first.facet("m")
    elif how == "variables" and said.verb == "points":
        first = first.over_variables(y=["y", "v"])
    elif how == "matrix":
        said = said._replace(
            verb="matrix",
            mapping={"color": "k"},
            choices={"color": said.choices.get("color", {})} if said.mapping.get("color") == "k" else {},
        )
        first = ft.matrix(rows, ["x", "y", "v"], map={"color": "k"}, codebook=said.book)
        for name, given in said.choices.items():
            first = first.scale(name, **given) if given else first
    elif how == "marginal" and said.verb == "points":
        first = first.marginal(chance.choice(["top", "right"]), chance.choice(["histogram", "density", "rug"]))
    return Case(first, [said], [], "", False)


def _unlike(figures: list[Said]) -> bool:
    seen: dict[tuple[str, str], Any] = {}
    for one in figures:
        for aesthetic in ("color", "shape", "dash"):
            column = one.mapping.get(aesthetic)
            if column is None:
                continue
            book = (one.book or {}).get(column) if aesthetic == "color" else None
            own = (one.choices.get(aesthetic), book)
            if seen.setdefault((aesthetic, column), own) != own:
                return True
    return False
