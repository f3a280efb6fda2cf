"""What height is wanted, what kit is on for it, and how that is set."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from vantok_core.facts.kinds import Facts, Metres, School, Sentence
from vantok_core.facts.kit import Kit


class Target(Facts):
    """What height is wanted: the school, its figure (share 0-1, or a length), and the reason told.

    length_m: what it is raised by, the height stated, or the least stop gap, as the school has it; length_right_m: of the right side
    where it is to differ, length_m then being the left's; source: who states the height.
    """

    school: School = "share_of_sag"
    share: Annotated[float, Field(ge=0.0, le=1.0, allow_inf_nan=False)] = 0.7
    rake_m: Metres = 0.0
    beam_m: Metres = 0.0
    length_m: Metres | None = None
    length_right_m: Metres | None = None
    source: Sentence = ""
    state: Annotated[str, Field(pattern=r"^[A-Za-z0-9_-]{0,30}$")] = ""
    reason: Sentence = ""


Named = Annotated[str, Field(pattern=r"^[a-z][a-z_]{0,29}$")]
Figure = Annotated[float, Field(ge=-1e8, le=1e8, allow_inf_nan=False)]
TENTHS_OF_A_MILLIMETRE = 1e4


class AlreadyOn(Facts):
    """A kit that was on the vehicle when it came: what it is called, its data where the shelf has them, how it was set when the heights were
    read as it came, and how when it was read off (nothing: taken off); its condition as looked at."""

    what: Annotated[str, Field(min_length=1, max_length=120)]
    kit: Kit | None = None
    setting: Annotated[dict[Named, tuple[Figure, Figure]], Field(max_length=12)] = {}
    off: Annotated[dict[Named, tuple[Figure, Figure]], Field(max_length=12)] = {}
    condition: Literal["", "sound", "worn", "perished"] = ""

    @model_validator(mode="after")
    def _two_settings(self) -> AlreadyOn:
        if self.setting and self.setting == self.off:
            raise ValueError("off is the same setting as on: a pair at one setting tells nothing")
        return self


class Fitting(Facts):
    """The kit on the job and how it is set: each of its family's settings by name, left and right, in SI as its name ends.

    ruled_out: causes of a missed height that were looked into and found not to be it.
    """

    kit: Kit
    setting: Annotated[dict[Named, tuple[Figure, Figure]], Field(max_length=12)] = {}
    state: Annotated[str, Field(pattern=r"^[A-Za-z0-9_-]{0,30}$")] = ""
    done: bool = False
    ruled_out: Annotated[tuple[Annotated[str, Field(pattern=r"^[a-z_]{1,20}$")], ...], Field(max_length=20)] = ()

    @property
    def mark(self) -> str:
        """The kit and its setting in one line, by which a reading says what it was read at: lengths to a tenth of a millimetre,
        pressures to a pascal, everything else to a hundredth."""
        told = " ".join(_marked(name, *pair) for name, pair in sorted(self.setting.items())) or "unset"
        return f"{self.kit.code[:40]} {told}"[:80]


def _marked(name: str, left: float, right: float) -> str:
    if name.endswith("_m"):
        left, right = left * TENTHS_OF_A_MILLIMETRE, right * TENTHS_OF_A_MILLIMETRE
    exact = ".0f" if name.endswith(("_m", "_pa")) else ".2f"
    return f"{name[0]}{left:{exact}},{right:{exact}}"
