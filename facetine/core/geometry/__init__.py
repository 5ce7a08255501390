"""Places of things on paper."""
