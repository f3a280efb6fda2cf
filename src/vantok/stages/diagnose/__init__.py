"""What the readings mean."""
