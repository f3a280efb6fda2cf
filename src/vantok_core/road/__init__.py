"""The road: the vehicle driven over a profile or through a manoeuvre, in time.

>>> import numpy as np
>>> from vantok_core.road.profile import Road
>>> left, _ = Road(kind="bump", height=0.05, length=1.0).left_right(np.array([0.0, 0.5, 1.5]))
>>> [round(float(h), 3) for h in left]
[0.0, 0.05, 0.0]
"""
