"""Loads: what is carried, where it can go, what the scale said, and every limit it meets.

    >>> from vantok_core.loads.limits import Ratings, StateLoads, margins
    >>> found = margins(Ratings(rear_axle=1900.0), StateLoads(front=1400.0, rear=1950.0))
    >>> [(m.name, m.margin) for m in found if m.margin is not None]
    [('rear axle', -50.0)]

`limits`, `weighing`, `places` (the body from above), `plan` (a job's loads), `moves` (what would clear a limit), `adjust`.
"""
