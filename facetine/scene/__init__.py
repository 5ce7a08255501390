"""What a drawing is: marks in batches, text runs and named groups, all in points, the origin at the top left."""
