"""Which version of Facetine this is."""

VERSION = "0.1.0"
