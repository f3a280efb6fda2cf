"""How high the middle of what stands on the wheels is.

Source: class data; own derivation (moments).
"""

from __future__ import annotations

from vantok_core.facts import Job, JobState
from vantok_core.facts.classes import BODIES
from vantok_core.loads.plan import scale_loads


def loaded_height(job: Job, state: JobState) -> float:
    """Return the height of the centre of mass (m): the body style's for the empty vehicle, items at their own heights.

    An item without a height counts at the body's own. An estimate, to be shown as one.
    """
    base = BODIES[job.vehicle.body].centre_height
    empty = scale_loads(job.empty) if job.empty else None
    if empty is None:
        return base
    lifted = sum(i.mass_kg * (i.height_m - base) for i in state.items if i.height_m is not None)
    return base + lifted / max(sum(empty) + sum(i.mass_kg for i in state.items), 1.0)
