"""What colors look like to readers with a color vision deficiency, and in gray."""

from __future__ import annotations

from typing import Literal

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.color.spaces import gamma_coded, linear_light, luminance

Deficiency = Literal["protan", "deutan", "tritan"]

# Severity 1.0 in the table of the paper.
_MATRICES: dict[Deficiency, FloatArray] = {
    "protan": np.array([[0.152286, 1.052583, -0.204868], [0.114503, 0.786281, 0.099216], [-0.003882, -0.048116, 1.051998]]),
    "deutan": np.array([[0.367322, 0.860646, -0.227968], [0.280085, 0.672501, 0.047413], [-0.011820, 0.042940, 0.968881]]),
    "tritan": np.array([[1.255528, -0.076749, -0.178779], [-0.078411, 0.930809, 0.147602], [0.004733, 0.691367, 0.303900]]),
}


def simulated(rgb: FloatArray, deficiency: Deficiency) -> FloatArray:
    """sRGB of shape (n, 3) as seen with a complete deficiency of one cone type.

    Source: Machado, Oliveira & Fernandes (2009), "A Physiologically-based Model for Simulation of Color Vision
    Deficiency", IEEE Transactions on Visualization and Computer Graphics 15(6), 1291–1298.
    """
    return np.clip(gamma_coded(np.clip(linear_light(rgb) @ _MATRICES[deficiency].T, 0.0, 1.0)), 0.0, 1.0)


def grayed(rgb: FloatArray) -> FloatArray:
    """The same luminance without hue: what a black-and-white print keeps, shape (n, 3)."""
    gray = gamma_coded(luminance(rgb))
    return np.repeat(gray[:, None], 3, axis=1)
