"""The kit shelf."""
