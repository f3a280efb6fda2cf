"""Parts figured for themselves, with the figures a tape gives: anti-roll bar, steering stabilizer, damper.

>>> from vantok_core.benches.damper import damping_ratio
>>> round(damping_ratio(1500.0, wheel_rate=30000.0, sprung_mass=400.0), 2)
0.22
"""
