"""Colors: spaces, names, simulated color vision, and our palettes."""
