"""Drawing in pixels: shapes as shares of pixels, many of them laid over each other."""
