"""A built figure as one page to be read by hand."""
