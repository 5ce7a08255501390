"""Many figures in one go: plans and their runner."""
