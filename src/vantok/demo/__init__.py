"""The demo world."""
