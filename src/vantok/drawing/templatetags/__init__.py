"""Template tags."""
