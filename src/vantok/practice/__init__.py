"""The practice bay's pages."""
