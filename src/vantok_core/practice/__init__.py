"""Vehicles whose truth is known, to hold the program against: simulated readings and proofs, seeded.

>>> import numpy as np
>>> from vantok_core.practice.proofs import proof_trials
>>> [trial.fault for trial in proof_trials(np.random.default_rng(1), 2, faulty=False)]
['', '']
"""
