"""Tools of the house: bench, fuzz, pictures, vendored files."""
