"""Readings: what a tape and a floor really say.

>>> from vantok_core.readings.tape import friction_reading
>>> found = friction_reading(0.741, 0.753)
>>> round(found.height, 4), round(found.band, 4)
(0.747, 0.006)
"""
