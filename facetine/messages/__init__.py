"""What is said, worded once."""
