"""Rows by layer, panel, group and level, and what layers compute of them."""
