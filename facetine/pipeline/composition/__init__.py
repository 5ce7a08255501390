"""One sentence made several: the figures of columns, of pairs, of marginals, and what their mappings mean."""
