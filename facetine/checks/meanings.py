"""What a reader would have to know and is not told: what axes, bars of error and boxes stand for."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import NamedTuple

import numpy as np

from facetine.checks.rule import Rule
from facetine.checks.subject import Standing, Subject, found
from facetine.core.columns import Columns
from facetine.core.stats.groups import grouped
from facetine.data.words import proposed
from facetine.grammar.sentence import Sentence
from facetine.layers.ends import given_along
from facetine.messages.findings import Call, Finding, so_many
from facetine.pipeline.rows.runs import LayerRun
from facetine.pipeline.scales.axes import Axis
from facetine.scene.markup import plain

_LEAST_OF_BOX, _LEAST_OF_MEAN = 5, 3
_UNEQUAL = 10
_REACHES = {
    "confidence": "{percent:.6g} % confidence intervals", "std_error": "standard errors", "std_dev": "standard deviations",
    "quartiles": "quartiles", "range": "ranges",
}  # fmt: skip
_SAYS_REACH = re.compile(r"confidence|interval|\bCI\b|std|standard|error|deviation|quartile|range|min|max|\d ?%", re.IGNORECASE)


class Heap(NamedTuple):
    """Rows that one mark stands for."""

    rows: int
    panel: int
    group: int
    x: float


def _heaps(run: LayerRun) -> list[Heap]:
    """The rows of each box, mean or interval."""
    rows = run.rows
    if "x" not in rows or not len(rows):
        return []
    groups = (
        grouped(rows.panel, rows.group, rows["x"])
        if run.context.discrete("x") or _averages(run)
        else grouped(rows.panel, rows.group)
    )
    first = groups.order[groups.starts]
    return [
        Heap(int(count), int(rows.panel[place]), int(rows.group[place]), float(rows["x"][place]))
        for count, place in zip(groups.sizes.tolist(), first.tolist(), strict=True)
    ]


def _averages(run: LayerRun) -> bool:
    layer = run.layer
    return getattr(layer, "aggregate", "none") in ("mean", "median") or layer.averages


def _place(run: LayerRun, heap: Heap, subject: Subject) -> str:
    words = []
    axis = subject.made.scales.first("y" if run.horizontal else "x")
    if run.context.discrete("x") and 0 <= int(heap.x) < len(axis.labels):
        words.append(plain(axis.labels[int(heap.x)]))
    if len(run.context.groups) > 1 and heap.group in run.context.groups:
        words.append(run.context.groups[heap.group])
    if len(run.context.panels) > 1:
        words.append(run.context.panels[heap.panel])
    return ", ".join(dict.fromkeys(words)) or "one"


def _mark_of(run: LayerRun, heap: Heap, subject: Subject) -> Standing | None:
    """The mark that stands for a heap of rows."""
    table = run.table
    chosen = (table.panel == heap.panel) & (table.group == heap.group)
    if run.context.discrete("x") and "x value" in table:
        chosen &= np.rint(table["x value"].astype(float)) == heap.x
    return subject.showing(run.number, table.numbers[chosen])


def _few_rows(subject: Subject) -> Iterator[Finding]:
    for run in subject.made.runs:
        boxed = run.layer.shows_spread
        if not boxed and not _averages(run):
            continue
        least = _LEAST_OF_BOX if boxed else _LEAST_OF_MEAN
        few = [heap for heap in _heaps(run) if heap.rows < least]
        if few:
            heap = min(few)
            thing = run.layer.thing if boxed else "mean"
            said = f"{so_many(len(few), thing)} of fewer than {least} rows, such as {_place(run, heap, subject)} with {heap.rows}"
            bare = not _rows_shown(subject, run)
            fix = ".points() shows the rows themselves" if bare else "where= leaves them to the points, which are there"
            severity, shown = "warning" if boxed and bare else "hint", _mark_of(run, heap, subject)
            yield found("rows-few", severity, run.context.where, said, fix, subject.group_of(run.number), shown)


def _unequal_groups(subject: Subject) -> Iterator[Finding]:
    for run in subject.made.runs:
        if not run.layer.shows_spread and not _averages(run):
            continue
        counts = [heap.rows for heap in _heaps(run)]
        if len(counts) < 2 or max(counts) < _UNEQUAL * min(counts) or _counts_shown(subject, run):
            continue
        said = f"groups of {min(counts):,} to {max(counts):,} rows look alike, and their sizes are nowhere stated"
        fix = 'scale("x", format="{value} ({count})") writes them under the axis'
        yield found("sizes-not-stated", "hint", run.context.where, said, fix, subject.group_of(run.number))


def _counts_shown(subject: Subject, run: LayerRun) -> bool:
    shown = [str(getattr(layer.layer, name, "") or "") for layer in subject.made.runs for name in ("value_labels", "text")]
    shown += [str(sentence.scale(name).format) for sentence in subject.sentences for name in ("x", "y", "color")]
    return _rows_shown(subject, run) or any("count" in text or "{n" in text for text in shown)


def _rows_shown(subject: Subject, run: LayerRun) -> bool:
    """Whether another layer shows the rows one by one."""
    return any(other.layer.draws_rows and not _averages(other) for other in subject.made.runs if other is not run)


def _untitled_axis(subject: Subject) -> Iterator[Finding]:
    for sentence in subject.sentences:
        if not sentence.theme.axes:
            continue
        for axis in ("x", "y"):
            if sentence.titles.guides.get(axis) == "" or (
                sentence.titles.guides.get(axis) is None and sentence.scale(axis).title == ""
            ):
                column = sentence.mapping.get(axis)
                if isinstance(column, str) and _measured(sentence, axis):
                    title = sentence.column_title(column)
                    said = f"the axis of {axis} has no title"
                    yield found(
                        "axis-untitled",
                        "warning",
                        "figure.titles",
                        said,
                        Call.to("figure", "titles", **{axis: title}),
                        subject.title_group(sentence, axis),
                    )


def _measured(sentence: Sentence, axis: str) -> bool:
    """Whether an axis shows numbers; times say themselves what they are."""
    column = sentence.mapping.get(axis)
    if sentence.table is None or not isinstance(column, str) or column not in sentence.table.names:
        return False
    return sentence.kinds.get(column, sentence.table.need(column, "figure.check", "axis").kind) == "number"


def _unit_not_stated(subject: Subject) -> Iterator[Finding]:
    for sentence in subject.sentences:
        table = sentence.table
        for axis in ("x", "y"):
            column = sentence.mapping.get(axis)
            if not isinstance(column, str) or sentence.over_variables is not None or table is None or column not in table.names:
                continue
            titled = sentence.titles.guides.get(axis) or sentence.scale(axis).title is not None
            if titled or sentence.kinds.get(column, table.need(column, "figure.check", "axis").kind) != "number":
                continue
            entry = sentence.codebook.entry(column)
            if entry.label is None and not entry.unit and "(" not in sentence.column_title(column):
                said = f"nothing says the unit of {column!r}, nor what it is"
                likely = proposed(column)
                label, unit = ("…", "…") if likely is None else likely
                fix = f'codebook={{"{column}": {{"label": "{label}", "unit": "{unit}"}}}}'
                yield found("axis-without-unit", "hint", "figure.titles", said, fix, subject.title_group(sentence, axis))


def _log_not_stated(subject: Subject) -> Iterator[Finding]:
    for sentence in subject.sentences:
        for axis in ("x", "y"):
            if sentence.scale(axis).kind not in ("log", "signed_log", "logit"):
                continue
            column = sentence.mapping.get(axis)
            usual = sentence.column_title(column) if isinstance(column, str) else axis
            title = plain(sentence.titles.guides.get(axis) or sentence.scale(axis).title or usual)
            words = f"{title} {sentence.titles.subtitle or ''} {sentence.titles.note or ''} {sentence.titles.title or ''}"
            if not re.search(r"\blog", words, re.IGNORECASE):
                said = f"no word says that {axis} is logarithmic"
                fix = Call.to("figure", "titles", **{axis: f"{title}, log scale"})
                yield found("log-not-stated", "hint", f"figure.scale({axis!r})", said, fix, subject.title_group(sentence, axis))


def _reach_not_stated(subject: Subject) -> Iterator[Finding]:
    words = " ".join(text.content for one, text in subject.texts if not one.within("axis"))
    if _SAYS_REACH.search(words):
        return
    for run in subject.made.runs:
        given = bool(given_along(run.context.columns))
        if run.layer.reaches != "always" and not (given and run.layer.reaches):
            continue
        if given:
            said = "nothing says what the ends that are given stand for"
            way = 'figure.titles(note="…"), such as "Bars: 95 % confidence intervals"'
            yield found("reach-not-stated", "hint", run.context.where, said, way, subject.group_of(run.number))
            return
        reach, around = getattr(run.layer, "reach", "confidence"), getattr(run.layer, "around", "mean")
        what = _REACHES.get(reach, reach).format(percent=100 * getattr(run.layer, "level", 0.95))
        said = f"nothing says that the bars are {what}"
        note = f"{around.capitalize()}s with {what}"
        old = subject.sentences[0].titles.note
        text = f"{old} {note}." if old else note
        fix = Call.to("figure", "titles", note=text)
        yield found("reach-not-stated", "hint", run.context.where, said, fix, subject.group_of(run.number))
        return


def _interval_cut(subject: Subject) -> Iterator[Finding]:
    for run in subject.made.runs:
        if not run.layer.reaches:
            continue
        own = given_along(run.context.columns) or ({"y"} if run.layer.reaches == "always" else set())
        for axis in sorted(map(run.own, own)):
            cut = _beyond(subject.made.scales.first(axis), run.table, axis)
            if cut:
                said = f"{so_many(cut, 'end')} of intervals cut off by the limits of {axis}"
                group = subject.group_of(run.number)
                yield found("interval-cut", "warning", run.context.where, said, "wider limits=, or none", group)


def _beyond(axis: Axis, table: Columns, name: str) -> int:
    """How many given or computed ends lie beyond the limits that were said for an axis."""
    if not axis.window or f"{name}_low" not in table:
        return 0
    ends = np.concatenate([table[f"{name}_low"], table[f"{name}_high"]])
    share = axis.extent.share(ends[np.isfinite(ends)])
    return int(((share < -1e-6) | (share > 1 + 1e-6)).sum())


RULES = (
    Rule(
        "rows-few",
        "A box or violin of fewer than 5 rows (a warning where the rows are not shown too), a mean of fewer than 3.",
        "Quartiles of four numbers are these four numbers.",
        "Krzywinski & Altman (2014), Nature Methods 11, 119–120",
        _few_rows,
    ),
    Rule(
        "sizes-not-stated",
        "Boxes or means of groups of which one has ten times the rows of another, without a word, and without the rows.",
        "A box of 8 looks as sure as one of 800.",
        "",
        _unequal_groups,
    ),
    Rule(
        "axis-untitled",
        "An axis of numbers without a title.",
        "A number without a name is no information.",
        "",
        _untitled_axis,
    ),
    Rule(
        "axis-without-unit",
        "An axis whose column has no label and no unit in the codebook.",
        "A number without a unit is half a number.",
        "ISO 80000-1:2022",
        _unit_not_stated,
    ),
    Rule(
        "log-not-stated",
        "A logarithmic axis without a word of it.",
        "Distances on it are ratios, which readers do not expect.",
        "",
        _log_not_stated,
    ),
    Rule(
        "reach-not-stated",
        "Bars of error without a word on what they are.",
        "Standard errors and deviations differ by many times.",
        "Cumming, Fidler & Vaux (2007), Journal of Cell Biology 177, 7–11",
        _reach_not_stated,
    ),
    Rule("interval-cut", "Intervals that limits of the axis cut off.", "They look shorter than they are.", "", _interval_cut),
)
SAID = (
    Rule(
        "rows-missing",
        "Rows left out because a value is missing; also rows-infinite, rows-off-scale, rows-zero-weight, outside-limits.",
        "What is not shown can't be weighed.",
        "",
    ),
    Rule("many-colors", "More than 8 colors of categories.", "More can't be told apart.", "the palettes' own tests"),
    Rule("many-shapes", "More than 6 shapes.", "More can't be told apart.", ""),
    Rule(
        "look-suggests-order",
        "Size, opacity or line width for categories without an order.",
        "Larger looks like more.",
        "Bertin (1967), Sémiologie graphique",
    ),
    Rule(
        "many-looks",
        "More than three columns shown by color, shape and size at once.",
        "Readers can't hold them together.",
        "",
    ),
    Rule("outliers-twice", "Outliers of boxes below the points themselves.", "They count double.", ""),
    Rule("letters-lost", "Characters that no font here has.", "An empty box stands there.", ""),
    Rule("panel-near-empty", "Panels whose marks fill little of a shared axis.", "Nothing can be read off them.", ""),
    Rule("rows-at-one-place", "Lines with several rows at one x.", "They run up and down in one place.", ""),
    Rule("open-ends", "Intervals that have no end.", "A missing end is no certainty.", ""),
)
