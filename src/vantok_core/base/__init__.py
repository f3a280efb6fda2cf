"""What every room leans on: arithmetic for one and for many, errors, units, sentences, names.

    >>> from vantok_core.base.units import parse_length
    >>> round(parse_length("32 1/4", "us").value, 4)
    0.8191

`num`, `errors`, `units`, `say` (sentences with quantities), `check` (data from outside), `names` (corners, datums), `figure`, `glossary`.
"""
