"""Pure computation: arrays in, arrays out. Knows no data frame, no file and no figure."""
