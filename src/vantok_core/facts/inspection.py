"""What the inspection found and what the customer complained of."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Literal

from pydantic import Field

from vantok_core.facts.declared import Of, Told
from vantok_core.facts.kinds import Facts, Sentence

Zone = Literal["FL", "FR", "ML", "MR", "RL", "RR"]
ZONES: Mapping[Zone, str] = {
    "FL": "front left",
    "FR": "front right",
    "ML": "middle, left",
    "MR": "middle, right",
    "RL": "rear left",
    "RR": "rear right",
}
"""Parts of the underside, in the order one looks at them."""
Grade = Literal["fine", "watch", "fault", "wish"]


class Inspected(Facts):
    """One area of the inspection: its grade, a note, the reason when a fault is overruled, and where on the vehicle (of `ZONES`); after: how it was found
    once the work was done, with a note."""

    area: Annotated[str, Field(pattern=r"^[a-z_]{1,20}$")]
    grade: Grade
    note: Sentence = ""
    overruled: Sentence = ""
    where: Annotated[tuple[Zone, ...], Field(max_length=6)] = ()
    after: Grade | Literal[""] = ""
    after_note: Sentence = ""

    @property
    def now(self) -> Grade:
        """How it stands now: as found after the work, else as it came."""
        return self.after or self.grade


Answer = Literal["", "cured", "better", "same", "left"]
"""What became of a complaint: cured, better, no better, or left as it is by agreement; empty: not answered yet."""
Road = Literal["", "smooth", "bumps", "ruts", "bends", "motorway", "off_road"]
With = Literal["", "any", "empty", "loaded", "hitched"]
"""With what load something is felt; empty: not asked."""


class Complaint(Facts):
    """A complaint from the list: at what speed (m/s), on what road, with what load and when it is felt, what became of it, and
    what was proved to be behind it (by its key in the table of causes; empty: not said)."""

    code: Annotated[str, Field(pattern=r"^[a-z_]{1,30}$")]
    answer: Answer = ""
    speed_mps: Annotated[
        Annotated[float, Field(ge=0.0, le=70.0, allow_inf_nan=False), Of("speed")] | None,
        Told("at what speed", "listen", "listen"),
    ] = None
    road: Annotated[Road, Told("on what road", right="listen", page="listen")] = ""
    load: Annotated[With, Told("with what load", right="listen", page="listen")] = ""
    when: Annotated[Sentence, Told("when", right="listen", page="listen")] = ""
    cause: Annotated[
        Annotated[str, Field(pattern=r"^[a-z_]{0,30}$")], Told("what was behind it", right="answer", page="report")
    ] = ""


Tread = Annotated[float, Field(ge=0.0, le=0.03, allow_inf_nan=False), Of("depth")]


class TreadRead(Facts):
    """A tyre's tread as read across it (m): inner edge, middle, outer edge; of twin tyres the outer one."""

    place: Literal["FL", "FR", "RL", "RR"]
    inner_m: Tread
    middle_m: Tread
    outer_m: Tread


Degrees = Annotated[float, Field(ge=-20.0, le=20.0, allow_inf_nan=False), Of("degrees")] | None


class Aligned(Facts):
    """What an alignment bench read (degrees; None: not read): camber and toe of each wheel (toe-in positive), caster of the front ones, at what load."""

    camber_fl: Degrees = None
    camber_fr: Degrees = None
    camber_rl: Degrees = None
    camber_rr: Degrees = None
    toe_fl: Degrees = None
    toe_fr: Degrees = None
    toe_rl: Degrees = None
    toe_rr: Degrees = None
    caster_fl: Degrees = None
    caster_fr: Degrees = None
    state: Annotated[str, Field(max_length=30)] = ""
