"""The Django project."""
