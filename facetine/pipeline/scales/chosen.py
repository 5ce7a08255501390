"""Layers that show chosen rows where all rows have settled what is around them: their tables, how all rows look, what is said."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from facetine.core.columns import Columns
from facetine.core.stats.groups import grouped
from facetine.grammar.sentence import Sentence
from facetine.grammar.theme import Theme
from facetine.layers.look import Look
from facetine.messages.findings import Remark, Remarks, Saying, so_many_rows
from facetine.pipeline.rows.panels import Panels
from facetine.pipeline.rows.runs import LayerRun, Runs
from facetine.pipeline.scales.clipping import inside
from facetine.pipeline.scales.highlighted import ink_between, key_of_others
from facetine.pipeline.scales.look_scales import Scales
from facetine.pipeline.scales.texts import with_texts

_OUTLINE = 0.6
"""The width of the outlines of what all rows make, in points."""
_QUIET = 0.45


def of_chosen(run: LayerRun, runs: Runs, scales: Scales, panels: Panels) -> Saying[LayerRun]:
    """A layer with the table of its chosen rows, once all rows have settled the scales.

    Args:
        run: The layer.
        runs: All layers, of which it may take the rows of one.
        scales: The settled axes and looks.
        panels: Those of the figure.
    """
    if run.some is None:
        return run
    held = yield from inside(scales.axes, panels, run._replace(table=run.some))
    sources = tuple(one if one.some is None else one._replace(table=one.some) for one in runs)
    told = with_texts(held, sources, scales, panels)
    return told._replace(some=None, whole=run.table)


def shows_all(run: LayerRun, sentence: Sentence) -> bool:
    """Whether what all rows make is seen behind the chosen ones: where it was said, else where marks are counts."""
    if run.whole is None or sentence.chosen is None or run.borrowed_from is not None:
        return False
    said, finish = sentence.chosen.show_all, run.finish
    return said if said is not None else finish is not None and finish.counts


def is_outlined(run: LayerRun) -> bool:
    """Whether what all rows make is seen as outlines of areas."""
    return run.layer.bordered and run.layer.filled_marks


def wholes(run: LayerRun, rows: Columns) -> Columns:
    """What is outlined of all rows: of bars on each other the whole stack, of others each.

    Args:
        run: The layer.
        rows: Its rows in one panel.
    """
    if not is_outlined(run) or getattr(run.layer, "arrange", "") not in ("stack", "share") or not len(rows):
        return rows
    along, value = ("y", "x") if run.horizontal else ("x", "y")
    stacks = grouped(rows[f"{along}_low"].astype(float))
    first = rows.take(stacks.first)
    ends = {f"{value}_low": np.minimum, f"{value}_high": np.maximum}
    return first.put(
        **{name: pick.reduceat(rows[name].astype(float)[stacks.order], stacks.starts) for name, pick in ends.items()},
        **({"count": np.add.reduceat(rows["count"].astype(float)[stacks.order], stacks.starts)} if "count" in rows else {}),
    )


def ink_of_all(theme: Theme) -> str:
    """The ink of what all rows make behind chosen ones."""
    return ink_between(theme, _QUIET)


def pale_ink(ink: str, theme: Theme) -> str:
    """An ink of a layer that stays as all rows make it."""
    return ink_between(theme, _QUIET, ink)


def looks_of_all(run: LayerRun, looks: Mapping[str, Look], theme: Theme) -> dict[str, Look]:
    """How what all rows make looks behind the chosen ones: outlines of areas, quiet lines."""
    quiet = key_of_others(looks, ink_of_all(theme))
    if not is_outlined(run):
        return quiet
    return quiet | {"color": Look((theme.ground_below,)), "outline": Look((ink_of_all(theme),)), "line_width": Look((_OUTLINE,))}


def said_of_chosen(sentence: Sentence, runs: Sequence[LayerRun]) -> str:
    """What a figure says of which rows it shows; nothing where it is of all."""
    chosen, table = sentence.chosen, sentence.table
    if chosen is None or not chosen.numbers or table is None:
        return ""
    held = int(np.isin(table.numbers, chosen.numbers).sum())
    words = [f"Of {held:,} of {so_many_rows(table.height)} ({', '.join(chosen.names)})."]
    shown = {is_outlined(run) for run in runs if shows_all(run, sentence)}
    if shown:
        behind = " and ".join(what for bordered, what in ((True, "outlines"), (False, "pale marks")) if bordered in shown)
        words.append(f"{behind.capitalize()}: all rows.")
    staying = list(dict.fromkeys(run.layer.name or run.layer.verb for run in runs if run.stays))
    if staying:
        words.append(f"Of all rows: {', '.join(staying)}.")
    others = list(dict.fromkeys(run.layer.name or run.layer.verb for run in runs if run.kept is None and run.frame))
    if others:
        words.append(f"Of other data: {', '.join(others)}.")
    return " ".join(words)


def say_chosen(sentence: Sentence, runs: Sequence[LayerRun]) -> Remarks:
    """Says that a figure is computed of some of its rows, and which layers are not."""
    if sentence.chosen is None:
        return
    text = said_of_chosen(sentence, runs)
    if text:
        yield Remark("rows-chosen", "figure.respond", f"{text[:1].lower()}{text[1:].rstrip('.')}")
    else:
        names = " and ".join(map(repr, sentence.chosen.names))
        yield Remark(
            "nothing-chosen", "figure.choose", f"at first {names} holds no row, so that all are shown", severity="warning"
        )
