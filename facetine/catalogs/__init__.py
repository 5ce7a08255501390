"""What there is: layers, scales, themes, palettes, fonts, formats."""
