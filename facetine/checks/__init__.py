"""What may mislead or fail in print, found on a built figure."""
