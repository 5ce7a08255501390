"""Figures of one sheet: what each says, computed together with the others and ready to be laid out."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import NamedTuple

from facetine.grammar.sentence import Sentence
from facetine.grammar.theme import Theme
from facetine.messages.errors import OptionError
from facetine.messages.findings import Remark, Saying, each
from facetine.pipeline.composition.carried import carried, carried_places
from facetine.pipeline.composition.choices import with_choices
from facetine.pipeline.composition.composed import Composition, composition
from facetine.pipeline.composition.planned import Owners, Planned
from facetine.pipeline.composition.sample import with_sample
from facetine.pipeline.composition.slots import with_one_slot
from facetine.pipeline.drawing.draw import Drawing
from facetine.pipeline.drawing.insets import PlacedInset, placed_inset
from facetine.pipeline.guides.direct import named_directly, room_for
from facetine.pipeline.guides.legend_entries import Legend, Lit, legends, merged
from facetine.pipeline.guides.ticks import second_axis
from facetine.pipeline.layout.part import Layout
from facetine.pipeline.layout.request import PanelSize, Request, styles_of
from facetine.pipeline.scales.chosen import said_of_chosen, say_chosen
from facetine.pipeline.scales.highlighted import only_color, quiet_ink
from facetine.pipeline.scales.look_scales import LookScale, Scales
from facetine.pipeline.scales.member import Member
from facetine.pipeline.sheet.arrangements import Arranged, arranged, placed_members
from facetine.pipeline.sheet.settled import settled
from facetine.scene.markup import shortened

MOST_LETTERS = 1000
"""Of a title, subtitle or note."""
MOST_OF_TICK = 40
"""Of a label of a color bar."""
_APART = 1_000_000
"""Numbers of axes of one figure and those of the next one differ by as much."""
_INSET_TEXT = 0.85
"""The size of texts in an inset, as a share of those around it."""


class Figured(NamedTuple):
    """A figure of a sheet, computed and ready to be laid out."""

    sentence: Sentence
    members: tuple[Member, ...]
    request: Request
    insets: tuple[Figured, ...] = ()
    elsewhere: tuple[Legend, ...] = ()
    """The legends that it does without, because the labels of an axis or the headings of panels say the same."""

    def drawing(self, layout: Layout) -> Drawing:
        """The figure at its place."""
        return Drawing.of(layout, self.members)

    def placed_insets(self, drawing: Drawing) -> list[PlacedInset]:
        """What stands in its panels, on them."""
        placed: list[PlacedInset] = []
        for said, inner in zip(self.sentence.insets, self.insets, strict=True):
            inset = placed_inset(said, drawing, inner.request, inner.members)
            if any(inset.region.overlaps(other.region, 0.5) and inset.page == other.page for other in placed):
                raise OptionError("figure.inset", "two insets stand over each other", "at= says where each of them stands")
            placed.append(inset)
        return placed


class Wanted(NamedTuple):
    """A figure that is to be computed, with the size of its part of the sheet, as far as it is known."""

    sentence: Sentence
    width: float | None
    height: float | None


def figured(
    wanted: Sequence[Wanted], same: Sequence[str], width: float, height: float | None, plated: bool = False
) -> Saying[list[Figured]]:
    """Computes all figures of a sheet, and those that stand in their panels.

    Args:
        wanted: The figures.
        same: The axes that all of them have in common: x, y, both or none.
        width: Of the sheet.
        height: Its height; None for the one that suits.
        plated: Whether they stand on a plate.

    Raises:
        FacetineError: One of them can't be drawn.
    """
    every = [*(one.sentence for one in wanted), *(inset.figure for one in wanted for inset in one.sentence.insets)]
    wanted = _with_started(wanted, with_choices(every))
    wanted = [one._replace(sentence=one.sentence.with_named_places()) for one in wanted]
    chosen = yield from each(with_sample(one.sentence) for one in wanted)
    wanted = [one._replace(sentence=with_one_slot(sentence)) for one, sentence in zip(wanted, chosen, strict=True)]
    hosts = [number for number, one in enumerate(wanted) for _ in one.sentence.insets]
    inner = yield from each(with_sample(inset.figure) for one in wanted for inset in one.sentence.insets)
    insets = [
        Wanted(_smaller(with_one_slot(sentence)), 0.4 * (wanted[host].width or width), None)
        for host, sentence in zip(hosts, inner, strict=True)
    ]
    wanted, insets = _carried(wanted, insets, same)
    held = [one.sentence for one in insets] + ([one.sentence for one in wanted] if plated else [])
    if any(sentence.sheet.said() for sentence in held):
        text = "the size of a figure's own sheet has no effect where it stands on another"
        yield Remark("sheet-unused", "figure.sheet", text, "the sheet of the whole has a size")
    compositions: list[Composition] = []
    planned: list[Planned] = []
    for place, one in enumerate([*wanted, *insets]):
        composed = composition(one.sentence)
        shared = same if place < len(wanted) else ()
        planned += [_apart(single, place, shared, one, plated) for single in composed.planned]
        compositions.append(composed)
    members = yield from settled(planned, width, height)
    done, first = [], 0
    for one, composed in zip([*wanted, *insets], compositions, strict=True):
        own = [member._replace(number=n) for n, member in enumerate(members[first : first + len(composed.planned)])]
        first += len(composed.planned)
        stands = yield from arranged(composed, one.width or width, own)
        placed = placed_members(own, stands)
        request = yield from request_of(one.sentence, placed, stands, one.width, one.height)
        silent = tuple(legend for member in placed for legend in _legends(member, one.sentence.theme, elsewhere=True))
        done.append(Figured(one.sentence, tuple(placed), request, elsewhere=silent))
    outer = done[: len(wanted)]
    for host, held_figure in zip(hosts, done[len(wanted) :], strict=True):
        known = outer[host].request.legends
        mine = (*held_figure.request.legends, *contradicting(held_figure.elsewhere, known))
        new = tuple(legend for legend in mine if not any(one.covers(legend) for one in known))
        inset = held_figure._replace(request=held_figure.request._replace(legends=new))
        outer[host] = outer[host]._replace(insets=(*outer[host].insets, inset))
    return outer


def _with_started(wanted: Sequence[Wanted], sentences: Sequence[Sentence]) -> list[Wanted]:
    """The figures of a sheet, and those in their panels, as other sentences: first all figures, then all insets."""
    insets = iter(sentences[len(wanted) :])
    started = []
    for one, sentence in zip(wanted, sentences, strict=False):
        inner = tuple(replace(inset, figure=next(insets)) for inset in one.sentence.insets)
        started.append(one._replace(sentence=replace(sentence, insets=inner) if inner else sentence))
    return started


def _carried(wanted: Sequence[Wanted], insets: Sequence[Wanted], same: Sequence[str]) -> tuple[list[Wanted], list[Wanted]]:
    """The figures of a sheet, and those in their panels, with the choices that others make for what they show too."""
    if len(wanted) + len(insets) < 2:
        return list(wanted), list(insets)
    outer = [one.sentence for one in wanted]
    for axis in same:
        outer = carried_places(outer, axis)
    every = carried([*outer, *(one.sentence for one in insets)])
    done = [one._replace(sentence=sentence) for one, sentence in zip([*wanted, *insets], every, strict=True)]
    return done[: len(wanted)], done[len(wanted) :]


def _smaller(sentence: Sentence) -> Sentence:
    """An inset's sentence, whose texts are smaller where it does not say a size."""
    if "text_size" in sentence.theme_said:
        return sentence
    return replace(sentence, theme=replace(sentence.theme, text_size=round(_INSET_TEXT * sentence.theme.text_size, 2)))


def _apart(planned: Planned, place: int, same: Sequence[str], wanted: Wanted, plated: bool) -> Planned:
    """A figure whose axes are its own but for those that are to be shared."""
    owners, facet = planned.owners, wanted.sentence.facet
    if (place or plated) and facet is not None and facet.per_page is not None:
        raise OptionError("figure.facet", "per_page makes pages, of which a plate, or a panel, holds one", "leave it out")
    if not place and not same:
        return planned._replace(width=wanted.width)
    sentence = wanted.sentence
    for axis in same:
        if (
            sentence.over_variables is not None
            or sentence.matrix is not None
            or (sentence.facet and axis in sentence.facet.sharing)
        ):
            raise OptionError(
                "plate.same_scale", f"a figure has several {axis} axes, of which none can be that of all", "leave out separate="
            )
    moved = [
        number if axis in same and not number else place * _APART + number for axis, number in (("x", owners.x), ("y", owners.y))
    ]
    return planned._replace(owners=Owners(*moved), width=wanted.width)


def request_of(
    sentence: Sentence,
    members: list[Member],
    arranged: Arranged,
    width: float | None,
    height: float | None,
) -> Saying[Request]:
    """What is to be laid out."""
    theme, titles, facet = sentence.theme, sentence.titles, sentence.facet
    runs = [run for member in members for run in member.runs]
    yield from say_chosen(sentence, runs)
    below = "\n".join(filter(None, (titles.below, said_of_chosen(sentence, runs))))
    title, subtitle, note = yield from each(
        _cut(text or "", name) for name, text in (("title", titles.title), ("subtitle", titles.subtitle), ("note", below))
    )
    axes = {key: axis for member in members for key, axis in member.scales.axes.items()}
    second_of = {key: second_axis(axis) for key, axis in axes.items()} if theme.axes else {}
    said = yield from each(_with_short_ticks(tuple(_legends(member, theme))) for member in members)
    named = [_name_of(member) for member in members]
    direct = [names for member in members for names in member.direct]
    return Request(
        width, height, theme, title, subtitle, note,
        Scales(axes, members[0].scales.looks), arranged.panels, arranged.grid, merged(said, named),
        arranged.titles if theme.axes else (),
        {key: second for key, second in second_of.items() if second is not None},
        room_for(direct, styles_of(theme).text, theme.gap),
        facet is not None and facet.repeat_axes,
        facet.row_headings if facet is not None else "right", arranged.spans,
        PanelSize(*sentence.panel.sides, sentence.panel.ratio),
    )  # fmt: skip


def _name_of(member: Member) -> str:
    """What tells one of the figures that make up another: what it draws, on the axis along which they differ."""
    return f"{member.scales.first('y').title or member.scales.first('x').title}".strip()


def contradicting(silent: Sequence[Legend], known: Sequence[Legend]) -> tuple[Legend, ...]:
    """Of the legends that a figure does without, those whose looks others of the sheet would give to other values."""
    return tuple(legend for legend in silent if any(legend.contradicts(one) for one in known))


def _legends(member: Member, theme: Theme, *, elsewhere: bool = False) -> list[Legend]:
    """What explains the looks of one figure, but for those that names at the ends of lines explain.

    Args:
        member: The figure.
        theme: How it looks.
        elsewhere: Whether those are wanted that an axis or headings make needless, instead of the others.
    """
    shown = {
        name: scale
        for name, scale in member.scales.looks.items()
        if not named_directly(scale, member.runs, member.direct) and _said_elsewhere(scale, member) == elsewhere
    }
    if elsewhere:
        return legends({name: one for name, one in shown.items() if one.spec.legend is None}, member.runs, theme.tick_color)
    said = member.split.sentence.highlight
    only = only_color(member.runs, member.scales.looks.get("color"))
    lit = None if said is None else Lit(said.words, said.rest_words, quiet_ink(said, theme), only)
    return legends(shown, member.runs, theme.tick_color, lit)


def _said_elsewhere(scale: LookScale, member: Member) -> bool:
    """Whether a legend is not wanted, or would repeat what the labels of an axis or the headings of panels say."""
    if scale.spec.legend is not None:
        return not scale.spec.legend
    split, sentence = member.split, member.split.sentence
    asked = any(run.layer.legend not in (None, False) and run.follows(scale.aesthetic) for run in member.runs)
    # Words of its own say more than the labels do.
    if asked or scale.kind != "levels" or scale.spec.format is not None or sentence.said_title(scale.aesthetic):
        return False
    told = set(sentence.facet.names) if sentence.facet is not None and sentence.facet.breaks is None else set()
    if sentence.theme.axes:
        told |= {
            split.columns[axis].name
            for axis in ("x", "y")
            if axis in split.columns and member.scales.first(axis).kind == "levels"
        }
    return scale.column in told


def _cut(text: str, name: str) -> Saying[str]:
    """A text of which no sheet has room for more."""
    if len(text) > MOST_LETTERS:
        yield Remark("text-cut", "figure.titles", f"the {name} has {len(text):,} letters; {MOST_LETTERS:,} of them are written")
    return shortened(text, MOST_LETTERS)


def _with_short_ticks(said: tuple[Legend, ...]) -> Saying[tuple[Legend, ...]]:
    """Legends whose color bars have labels that a sheet has room for, whatever their format writes."""
    legends_kept = []
    for legend in said:
        bar = legend.bar
        if bar is None or all(len(label) <= MOST_OF_TICK for label in bar.labels):
            legends_kept.append(legend)
            continue
        where = f"figure.scale({legend.name!r})"
        yield Remark("text-cut", where, f"labels of more than {MOST_OF_TICK} letters are cut", "a shorter format fits")
        labels = tuple(shortened(label, MOST_OF_TICK) for label in bar.labels)
        legends_kept.append(legend._replace(bar=bar._replace(labels=labels)))
    return tuple(legends_kept)
