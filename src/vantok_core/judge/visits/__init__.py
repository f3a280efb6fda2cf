"""A vehicle over its visits, and two jobs side by side."""
