"""From data values to places on an axis: transforms, ticks, and how ticks are written."""
