"""A theme and a palette."""

from facetine.core.color.registry import Palette
from facetine.grammar.theme import Theme

VAULT = Theme(ground="#26302b", text_color="#f4f1e6", tick_color="#c8cbbd", axis_color="#8f9a90", palette="lantern")
HERBS = Palette("categories", ("#4f6d2f", "#8a4f7d", "#b8791f", "#2f6d6a"))
