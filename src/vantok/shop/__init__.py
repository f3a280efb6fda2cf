"""The shop's own pages: first run, people, settings, starter shelf."""
