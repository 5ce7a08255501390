"""Frames taken in: columns with kinds, what is known of them, readers of files, and the demo world."""
