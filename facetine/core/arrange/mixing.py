"""The order in which marks are drawn that lie over each other: mixed, so that no group hides another, and the same anywhere."""

from __future__ import annotations

import numpy as np

from facetine.core.arrays import AnyArray, IntArray

_STEP, _SEED = 0x9E3779B1, 0x85EBCA77
_FIRST, _SECOND = 0x85EBCA6B, 0xC2B2AE35


def mixing_keys(count: int, seed: int) -> AnyArray:
    """A key for each place by which places stand in mixed order, shape (n,), unsigned 32 bits.

    The key of place k is the finalizer of MurmurHash3 at k · 2654435761 + seed · 2246822519, all modulo 2³², which any program
    of whole numbers finds, a browser's too.

    Source: Appleby (2016), MurmurHash3, `fmix32`.
    """
    with np.errstate(over="ignore"):
        key = np.arange(count, dtype=np.uint32) * np.uint32(_STEP) + np.uint32((seed * _SEED) % 2**32)
        key = (key ^ (key >> np.uint32(16))) * np.uint32(_FIRST)
        key = (key ^ (key >> np.uint32(13))) * np.uint32(_SECOND)
        return key ^ (key >> np.uint32(16))


def mixed_order(count: int, seed: int) -> IntArray:
    """So many places in mixed order, shape (n,); each once.

    >>> sorted(mixed_order(5, 1).tolist())
    [0, 1, 2, 3, 4]
    """
    order: IntArray = np.argsort(mixing_keys(count, seed), kind="stable")
    return order
