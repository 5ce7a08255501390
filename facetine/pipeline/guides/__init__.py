"""What tells a reader which value a place or a look stands for: ticks, labels, legends, headings."""
