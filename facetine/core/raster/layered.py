"""Many stamps laid over each other in their order, as they would look one by one."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from facetine.core.arrays import AnyArray, BoolArray, FloatArray, IntArray
from facetine.core.raster.stamps import PHASES, Stamp

_FRAGMENTS = 4_000_000
"""Parts of pixels that are worked on at once."""
_LEAST_SEEN = 1.0 / 1024
# Nearly all of it, so that its logarithm is a number.
_SOLID = 1.0 - 1e-15
_ORDER_BITS = 34


class Inked(NamedTuple):
    """One look of a marker: its stamp and color; a marker with a border has two, of which the border lies above."""

    stamps: tuple[Stamp, ...]
    colors: tuple[tuple[float, float, float], ...]
    """Red, green and blue from 0 to 1, one for each stamp."""


def layered(
    at: FloatArray, looks: Sequence[Inked], which: IntArray | None, opacity: float, width: int, height: int
) -> FloatArray:
    """Markers drawn one over the other, from the uppermost down; what lies wholly below others is passed over.

    Args:
        at: Shape (n, 2): middles in pixels, from the upper left corner of the picture.
        looks: The looks that they have.
        which: Shape (n,): which of the looks each has; None where all have the first.
        opacity: Of each marker as a whole.
        width: Of the picture.
        height: Of the picture.

    Returns:
        Shape (height, width, 4): red, green and blue, each times the opacity, and the opacity, from 0 to 1.
    """
    kinds = np.zeros(len(at), np.int8) if which is None else which.astype(np.int32)
    reach = max(stamp.reach for look in looks for stamp in look.stamps)
    taps = sum(stamp.side**2 for stamp in max(looks, key=lambda look: look.stamps[0].side).stamps)
    edge = 2 * reach + 1
    wide, high = width + 2 * edge, height + 2 * edge
    cell, phase = np.divmod(np.rint(at * PHASES).astype(np.int64), PHASES)
    column, row = cell.T
    inside = (column >= -reach) & (column < width + reach) & (row >= -reach) & (row < height + reach)
    placed = _Placed(
        ((row + edge) * wide + column + edge).astype(np.int32), (phase[:, 1] * PHASES + phase[:, 0]).astype(np.int32), kinds, wide
    )
    colors = {color for look in looks for color in look.colors}
    picture = _Picture(np.zeros(high * wide), np.zeros((3, high * wide if len(colors) > 1 else 0)))
    left, room = np.flatnonzero(inside), max(_FRAGMENTS // taps, 1)
    size = room
    while len(left):
        part, left = left[max(0, len(left) - size) :], left[: max(0, len(left) - size)]
        count, hidden = len(part), picture.alpha > 1.0 - _LEAST_SEEN
        if hidden.any():
            part = part[~_wholly(hidden.reshape(high, wide), reach).ravel()[placed.pixel[part]]]
        for stop in range(len(part), 0, -4 * room):
            _lay_under(picture, _fragments(part[max(0, stop - 4 * room) : stop], placed, looks, opacity, hidden))
        # So many are looked at that about as many are seen as fit.
        size = int(min(max(room * count / max(len(part), 1), room), 32 * room))
    inner = slice(edge, -edge)
    alpha = picture.alpha.reshape(high, wide)[inner, inner]
    image = np.empty((height, width, 4))
    image[..., 3] = alpha
    for channel in range(3):
        one = (
            alpha * next(iter(colors))[channel] if len(colors) == 1 else picture.color[channel].reshape(high, wide)[inner, inner]
        )
        image[..., channel] = one
    return image


class _Picture(NamedTuple):
    """What is seen so far, from above."""

    alpha: FloatArray
    """Shape (pixels,): the opacity."""
    color: FloatArray
    """Shape (3, pixels): red, green and blue, each times the opacity; without pixels where there is but one color."""


class _Placed(NamedTuple):
    """Where markers are, on a picture with an edge around it, so that stamps at its border need no care."""

    pixel: AnyArray
    """Shape (n,): the pixel in which each middle lies."""
    between: AnyArray
    """Shape (n,): where in that pixel."""
    kind: AnyArray
    """Shape (n,): which look each has."""
    wide: int
    """Pixels of a row."""


class _Fragments(NamedTuple):
    """What markers add to pixels: by pixel, and there in the order of drawing, where colors differ."""

    pixel: AnyArray
    log: FloatArray
    """The logarithm of what is let through."""
    color: AnyArray
    """Which of `colors`."""
    colors: FloatArray


def _wholly(hidden: BoolArray, reach: int) -> BoolArray:
    """Whether all pixels of the window around each are hidden."""
    for axis in (0, 1):
        hidden = _running(np.moveaxis(hidden, axis, 0), reach)
        hidden = np.moveaxis(hidden, 0, axis)
    return hidden


def _running(values: BoolArray, reach: int) -> BoolArray:
    """Whether a run of rows around each is true, by windows that double."""
    ends = np.zeros((reach, *values.shape[1:]), bool)
    held = np.concatenate([ends, values, ends])
    window, length = 1, 2 * reach + 1
    while window * 2 <= length:
        held = held[: len(held) - window] & held[window:]
        window *= 2
    rest = length - window
    return held[: len(held) - rest] & held[rest:] if rest else held


def _fragments(part: IntArray, placed: _Placed, looks: Sequence[Inked], opacity: float, hidden: BoolArray) -> _Fragments:
    """What some markers add to the pixels that are not hidden."""
    palette: dict[tuple[float, float, float], int] = {}
    pixels, logs, inks, orders = [], [], [], []
    shapes = {tuple(map(id, look.stamps)): look.stamps for look in looks}
    for key, stamps in shapes.items():
        same = [kind for kind, look in enumerate(looks) if tuple(map(id, look.stamps)) == key]
        own = part if len(same) == len(looks) else part[np.isin(placed.kind[part], same)]
        if not len(own):
            continue
        shares = [stamp.share[placed.between[own]] for stamp in stamps]
        for layer, stamp in enumerate(stamps):
            steps = np.arange(-stamp.reach, stamp.reach + 1, dtype=np.int32)
            where = placed.pixel[own][:, None] + (steps[:, None] * placed.wide + steps[None]).ravel()[None]
            alpha = shares[0] * np.float32(opacity) if len(stamps) == 1 else _of_whole(shares, stamps, layer, opacity)
            seen = alpha > 1e-4
            seen &= ~hidden[where]
            pixels.append(where[seen])
            logs.append(np.log1p(-np.minimum(alpha[seen].astype(np.float64), _SOLID)))
            ink = np.array(
                [palette.setdefault(look.colors[min(layer, len(look.colors) - 1)], len(palette)) for look in looks], np.int16
            )
            inks.append(np.broadcast_to(ink[placed.kind[own]][:, None], seen.shape)[seen])
            orders.append(np.broadcast_to((2 * own + layer)[:, None], seen.shape)[seen])
    if not pixels:
        return _Fragments(np.zeros(0, np.int32), np.zeros(0), np.zeros(0, np.int16), np.zeros((1, 3)))
    pixel, log, color = np.concatenate(pixels), np.concatenate(logs), np.concatenate(inks)
    if len(palette) > 1:
        sort = np.argsort(pixel.astype(np.int64) << _ORDER_BITS | np.concatenate(orders))
        pixel, log, color = pixel[sort], log[sort], color[sort]
    return _Fragments(pixel, log, color, np.array(list(palette)))


def _lay_under(picture: _Picture, fragments: _Fragments) -> None:
    """Lays fragments over each other, and what comes of it under what a picture shows already."""
    pixel, log = fragments.pixel, fragments.log
    if not len(pixel):
        return
    count, shown = len(picture.alpha), 1.0 - picture.alpha
    if len(fragments.colors) == 1:
        _add(picture, -np.expm1(np.bincount(pixel, log, minlength=count)) * shown, fragments.colors[0])
        return
    ends = np.cumsum(log)
    starts = np.flatnonzero(np.diff(pixel, prepend=-1))
    counts = np.diff(np.append(starts, len(pixel)))
    # What is let through by all that lies above each.
    above = np.repeat(ends[starts + counts - 1], counts) - ends
    weight = -np.expm1(log) * np.exp(np.minimum(above, 0.0))
    for number, color in enumerate(fragments.colors):
        own = fragments.color == number
        _add(picture, np.bincount(pixel[own], weight[own], minlength=count) * shown, color)


def _add(picture: _Picture, added: FloatArray, color: FloatArray) -> None:
    """Adds so much of a color to each pixel."""
    alpha = picture.alpha
    alpha += added
    for channel, one in enumerate(picture.color):
        if len(one) and color[channel]:
            one += added * color[channel]


def _of_whole(shares: list[FloatArray], stamps: Sequence[Stamp], layer: int, opacity: float) -> FloatArray:
    """What inside and border of a marker add each, where both together let through what the opacity says.

    The border covers the inside; both as one are laid over what is below. The inside comes first: it adds what the
    border leaves of it, scaled so that the two, one after the other, make the whole.
    """
    inside, border = shares
    if stamps[0].reach != stamps[1].reach:
        grown = stamps[1].reach - stamps[0].reach
        side = stamps[0].side
        grid = np.zeros((len(inside), stamps[1].side, stamps[1].side), inside.dtype)
        grid[:, grown : grown + side, grown : grown + side] = inside.reshape(-1, side, side)
        inside = grid.reshape(len(inside), -1)
    if layer == 1:
        return border * opacity
    added = inside * (1 - border) * opacity
    made = added / np.maximum(1 - border * opacity, 1e-9)
    if stamps[0].reach != stamps[1].reach:
        grown, side = stamps[1].reach - stamps[0].reach, stamps[0].side
        made = made.reshape(-1, stamps[1].side, stamps[1].side)[:, grown : grown + side, grown : grown + side].reshape(
            len(made), -1
        )
    return made
