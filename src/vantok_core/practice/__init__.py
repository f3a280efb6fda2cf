"""Vehicles whose truth is known, to hold the program against: simulated readings and proofs, seeded.

>>> import numpy as np
>>> from vantok_core.practice.life import lives
>>> [one.fault for one in lives(np.random.default_rng(1), 2, fault="")]
['', '']
"""
