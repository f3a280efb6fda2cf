"""What is known of a job, and no more: the job file's shape and the core's input in one.

Everything optional is unknown when absent, and nothing unknown is taken as nought. All SI; a name ends in its unit.

    >>> job = Job(states=(JobState(key="empty", name="Empty", empty=True, front_kg=1450),))
    >>> job.empty.rear_kg is None, job.loaded
    (True, [])

`kinds` (figures and their bounds), `classes` (what is typical), `vehicle`, `load`, `reading`, `kit`, `fitting`, `inspection`,
`quote`, then `job`.
"""

from vantok_core.facts.fitting import AlreadyOn, CardMark, Fitting, Learnt, Target, ToFollow
from vantok_core.facts.inspection import Aligned, Complaint, Inspected, TreadRead
from vantok_core.facts.job import Job
from vantok_core.facts.kinds import MOST_ITEMS, MOST_READINGS, Facts, one_line
from vantok_core.facts.kit import Kit
from vantok_core.facts.load import EmptyLoad, JobState, LoadItem, LoadZone, People, PlannedChange, Tank, TrailerItem
from vantok_core.facts.proving import Proving
from vantok_core.facts.quote import QuoteLine, QuoteSheet
from vantok_core.facts.reading import JobReading, PhoneLevel, Pushed
from vantok_core.facts.vehicle import Equipment, JobVehicle, NamedPoint

__all__ = [
    "MOST_ITEMS",
    "MOST_READINGS",
    "Aligned",
    "AlreadyOn",
    "CardMark",
    "Complaint",
    "EmptyLoad",
    "Equipment",
    "Facts",
    "Fitting",
    "Inspected",
    "Job",
    "JobReading",
    "JobState",
    "JobVehicle",
    "Kit",
    "Learnt",
    "LoadItem",
    "LoadZone",
    "NamedPoint",
    "People",
    "PhoneLevel",
    "PlannedChange",
    "Proving",
    "Pushed",
    "QuoteLine",
    "QuoteSheet",
    "Tank",
    "Target",
    "ToFollow",
    "TrailerItem",
    "TreadRead",
    "one_line",
]
