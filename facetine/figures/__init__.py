"""The public face: figures and plates, whose verbs are thin calls of functions on sentences."""
