"""Marks, axes and texts in their places."""
