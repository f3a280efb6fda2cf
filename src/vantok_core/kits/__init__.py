"""Kits: what each family is and does, whether it fits, what is wanted, and the choice among all.

    >>> from vantok_core.kits.registry import FAMILIES
    >>> FAMILIES["insert"].many
    'bump-stop inserts'

`family` (what a family must tell), `families/` (one module each), `registry` (their list), `setting` (solved settings), `target` (the wanted
height), `fit` (checks, and the vehicle with a kit on), `choose` (every choice side by side).
"""
