"""Boxes in tracks: measured, then placed."""
