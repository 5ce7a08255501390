"""Statistics: arrays in, small named results out."""
