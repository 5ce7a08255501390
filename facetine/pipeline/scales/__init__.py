"""What places and looks stand for: axes, colors, sizes, and the words on them."""
