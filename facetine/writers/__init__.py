"""Scenes to bytes, a module a format."""
