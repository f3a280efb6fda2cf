"""What a job is for: aims, each with what must be known for it, what answers it and what proves it; a height is only one of them.

>>> from vantok_core.aims.aim import AIMS
>>> AIMS["steering"].heights
False
"""
