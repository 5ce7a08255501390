"""How marks that fall on the same place share it."""
