"""Commands of the database."""
