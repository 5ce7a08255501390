"""A layer, a scale, a format, a theme and a palette for Facetine."""
