"""What the cases turn on: each shipped one by its code, and as many more of them as one likes.

A title tells what the customer would, never what is hidden. Source: method section 19.
"""

from __future__ import annotations

from collections.abc import Mapping
from functools import lru_cache

import numpy as np

from vantok_core.base.errors import InputError
from vantok_core.facts.fitting import AlreadyOn
from vantok_core.practice.bay.case import Case, HiddenFault
from vantok_core.practice.bay.drafting import (
    Draft,
    Template,
    free,
    front_lost,
    gap_left,
    lean,
    make,
    sag,
    within,
)
from vantok_core.practice.bay.truth import over_limits
from vantok_core.practice.life import KINDS, bellows

PICKUP, HEAVY, COIL, WAGON, VAN, TALL, COACH = KINDS
UNDER = ("leaf_shape", "bushes", "stops", "contact")
"""What is looked at under a leaf-sprung rear that sags."""
COILS = ("coils", "bushes", "stops", "contact")
FRONT = ("steering", "bearings", "tyres")


def _tongue(d: Draft) -> None:
    d.trailer, d.tongue = 1900.0, (80.0, round(d.rated * float(d.rng.uniform(0.09, 0.13)), 0))
    d.carry("tools and a cover", round(float(d.rng.uniform(60, 140))), at=0.95)
    d.answers = {"carry": "Some tools in the bed. The trailer presses with eighty kilos, it says so on its plate."}


def _tired(d: Draft) -> None:
    d.rear = 0.7
    d.hidden["stands_m"] = tuple(round(h - (0.034 if c[0] == "R" else 0.0), 4) for c, h in d.one.stands.items())
    d.faults = [
        HiddenFault(
            area="leaf_shape",
            grade="fault",
            words="Both rear packs lie flat, the second leaf is almost reversed; bright rub marks between the leaves.",
            lifts_m=(0.0, 0.0, 0.034, 0.034),
        )
    ]
    d.carry("landscaping tools", d.spare(0.35), at=1.0)
    d.answers = {
        "since": "It has come down bit by bit over the years. It sits low even when it is empty.",
        "carry": "The same tools as always.",
    }


def _kitchen(d: Draft) -> None:
    d.carry("fitted kitchen", d.spare(0.22), at=0.8, side=0.62)
    d.carry("water and bed", d.spare(0.15), at=0.7)
    d.answers = {"carry": "It is fitted out as a camper: kitchen, bed and a tank.", "since": "Since it was fitted out."}


def _stops(d: Draft) -> None:
    d.gap = round(float(d.rng.uniform(0.014, 0.024)), 3)
    d.carry("parcels", d.spare(0.5), at=0.98)
    d.answers = {"carry": "Parcels, as many as it holds, every day.", "use": "Town, with speed humps."}


def _behind_level(d: Draft) -> None:
    d.rear = 1.9
    true = d.spare(1.12)
    d.carry("machine parts", true, round(true * 0.6 / 10) * 10.0, at=1.0)
    d.answers = {"carry": "Parts in crates. It stands quite level, so it cannot be too much."}


def _as_it_should(d: Draft) -> None:
    d.carry("luggage", d.spare(0.14), at=0.9)
    d.answers = {"use": "Holidays, twice a year.", "tried": "A friend says it needs air springs."}


def _variant(d: Draft) -> None:
    d.carry("steel and benches", d.spare(0.55), at=1.02)
    d.answers = {
        "carry": "Benches and steel, always about the same.",
        "tried": "The neighbour has the small kit on his.",
    }


def _strong(d: Draft) -> None:
    d.rear = 0.75
    true = d.spare(0.28)
    d.carry("garden machines", true, true * 1.9, at=1.0)
    d.answers = {"carry": "Easily twice what anyone thinks.", "use": "Empty on four days out of five, loaded on one."}


def _droop(d: Draft) -> None:
    d.rear = 0.8
    d.hidden["droop_m"] = 0.075
    d.carry("samples and cases", d.spare(0.5), at=1.0)
    d.answers = {
        "carry": "Sample cases in the back.",
        "since": "Longer springs for rough tracks went in at the front only.",
    }


def _tee(d: Draft) -> None:
    kit = bellows()
    kit = kit.model_copy(update={"line": "tee", "name": "Air springs, no label left"})
    setting = {"pressure_pa": (220e3, 220e3)}
    d.hidden |= {"on": kit, "on_setting": setting}
    d.job["already"] = AlreadyOn(what="air springs, no label left")
    d.faults = [
        HiddenFault(
            area="air",
            grade="watch",
            words="Both bags hang on one line with a tee: what one takes in, the other gives. No leak, no rub.",
        )
    ]
    d.carry("generator and fuel, to the left", d.spare(0.3), at=1.0, side=0.55)
    d.answers = {"tried": "More air does not help, it leans as before.", "carry": "The generator stands on the left."}


def _coach(d: Draft) -> None:
    d.carry("garage in the tail", d.spare(0.62), at=1.36)
    d.answers = {"carry": "Two scooters and all the tools in the garage behind the axle.", "use": "Motorway mostly."}


def _shimmy(d: Draft) -> None:
    d.faults = [
        HiddenFault(
            area="bearings",
            grade="fault",
            words="The left front wheel rocks at twelve and six o'clock; the lower joint has play as well.",
        )
    ]
    d.carry("luggage", d.spare(0.12), at=0.8)
    d.answers = {"tried": "Balanced twice. A steering stabilizer was advised.", "since": "Since the spring."}


def _rolls(d: Draft) -> None:
    d.carry("furniture, high up", d.spare(0.3), at=0.75)
    d.answers = {"use": "Country roads, always with the full fit-out.", "tried": "Harder dampers, no change."}


def _stiff_coils(d: Draft) -> None:
    d.carry("roof tent and racks", d.spare(0.25), at=0.7)
    d.answers = {
        "tried": "I was told stiffer coils will stop it.",
        "use": "Off road at weekends, it is empty all week.",
    }


def _tapered(d: Draft) -> None:
    d.carry("shelves and spares", d.spare(0.55), at=1.0)
    d.answers = {"tried": "I would like one more leaf in it, as on the old one.", "carry": "Shelves, always loaded."}


def _comes_back(d: Draft) -> None:
    d.rear = 0.85
    d.carry("compressor", d.spare(0.5), at=1.1)
    d.answers = {"use": "The compressor stays on.", "carry": "A compressor over the axle and behind it."}


def _leak(d: Draft) -> None:
    d.hidden |= {"on": bellows(), "on_setting": {"pressure_pa": (120e3, 260e3)}, "leak_pa_per_hour": 42e3}
    d.job["already"] = AlreadyOn(what="air springs, two lines")
    d.faults = [
        HiddenFault(
            area="air_soaped",
            grade="fault",
            words="Bubbles at the left bag's fitting, slow and steady; the right side stays dry.",
        )
    ]
    d.carry("tool chests", d.spare(0.3), at=1.0)
    d.answers = {"since": "Every morning it leans; pumped up, it stands straight until evening."}


def _floor(d: Draft) -> None:
    d.hidden["floor_m"] = (0.009, -0.006, 0.011, -0.006)
    d.carry("tools", d.spare(0.25), at=0.95)
    d.answers = {"since": "The last shop measured it and said it leans to one side.", "use": "Every day, no trouble."}


def _label(d: Draft) -> None:
    plate = round(d.rated / 10) * 10.0
    d.carry("slide-in camper", d.spare(1.1), at=0.95)
    d.more = {"rear_axle_kg": round(plate * 1.22 / 10) * 10.0}
    d.answers = {"carry": "The camper body. The sales sheet says the axle takes it easily, I gave you the figure."}


def _nose(d: Draft) -> None:
    d.trailer, d.tongue = 1450.0, (100.0, 32.0)
    d.carry("luggage", d.spare(0.15), at=0.9)
    d.answers = {
        "carry": "The trailer is loaded to its tail, so that the car need not carry it.",
        "use": "At ninety it begins.",
    }


def _on_stops(d: Draft) -> None:
    d.gap = 0.03
    true = d.spare(1.18)
    d.carry("sand and slabs", true, round(true * 0.4 / 10) * 10.0, at=1.02)
    d.answers = {"carry": "A bit of sand. It does not go down any further, however much I put in."}


def _by_datum(d: Draft) -> None:
    d.carry("pipes and fittings", d.spare(0.5), at=1.0)
    d.answers = {"since": "The sheet is from your colleague, of this morning."}


def _by_fraction(d: Draft) -> None:
    d.carry("display stands", d.spare(0.35), at=0.95)
    d.answers = {"since": "Your colleague wrote a sheet and said it leans under load. I had not noticed."}


def _told_low(d: Draft) -> None:
    true = d.spare(0.75)
    d.carry("flooring", true, round(true * 0.42 / 10) * 10.0, at=0.97)
    d.answers = {"carry": "Some packs of flooring, nothing much."}


SAGS = "It hangs down at the back as soon as I load it."
LEANS = "It leans to one side, you can see it from behind."


def _stands_straight(case: Case) -> bool:
    """Tell whether an unladen body leans by less than a tape tells."""
    fl, fr, rl, rr = case.hidden.stands_m
    return abs(fl - fr) < 0.004 and abs(rl - rr) < 0.004


TEMPLATES: tuple[Template, ...] = (
    Template(
        key="tongue",
        title="It sags with the trailer on",
        level=1,
        complaint="sags",
        words="It hangs down at the back with the trailer on.",
        kinds=(PICKUP, COIL),
        make=_tongue,
        holds=within(0.03, 0.085, free),
        causes=("behind",),
        deeds=("helper",),
        trap="tongue",
        look=UNDER[1:],
        lesson="A trailer's plate tells what it may press with, not what it does: a tongue is weighed.",
    ),
    Template(
        key="tired",
        title="It has come down over the years",
        level=1,
        complaint="sags",
        words="It used to stand up straight. Put something in that lifts it again.",
        kinds=(PICKUP,),
        make=_tired,
        holds=within(0.03, 0.09, free),
        causes=("tired",),
        deeds=("repair",),
        trap="fault",
        look=UNDER,
        lesson="A pack that has taken a set goes on settling under any helper: the spring comes first.",
    ),
    Template(
        key="kitchen",
        title="A camper that leans",
        level=1,
        complaint="leans",
        words=LEANS,
        kinds=(TALL, VAN),
        make=_kitchen,
        holds=within(0.0, 0.2, lambda case: lean(case) > 0.014),
        causes=("side",),
        deeds=("unload", "helper"),
        trap="corners",
        look=("bushes", "air", "tyres"),
        lesson="A lean under a load that stands to one side is no spring's fault: four pads tell it, one axle scale cannot.",
    ),
    Template(
        key="stops",
        title="It crashes over every hump",
        level=1,
        complaint="bottoms",
        words="It crashes at the back on every hump.",
        kinds=(VAN, PICKUP),
        make=_stops,
        holds=within(0.02, 0.08, lambda case: gap_left(case) < 0.001),
        causes=("struck",),
        deeds=("insert", "helper"),
        trap="stops",
        look=("stops", "dampers", "leaf_shape"),
        lesson="Where a stop already touches, height and load tell little: the gap is read first.",
    ),
    Template(
        key="behind-level",
        title="It feels heavy, and stands level",
        level=2,
        complaint="harsh_loaded",
        words="It feels heavy and hard with the load in, though it stands quite level.",
        kinds=(PICKUP, HEAVY),
        make=_behind_level,
        holds=lambda case: sag(case) < 0.05 and free(case) and over_limits(case).get("rear_axle_kg", 0.0) > 60.0,
        causes=("overload",),
        deeds=("unload",),
        trap="scale",
        look=("stops", "dampers", "tyres"),
        lesson="Stiff springs hide a load; a level stance says nothing of the axle's limit.",
    ),
    Template(
        key="as-it-should",
        title="A friend says it needs air springs",
        level=1,
        complaint="sags",
        words="A friend says it hangs and needs air springs.",
        kinds=(WAGON, VAN, PICKUP),
        make=_as_it_should,
        holds=within(0.004, 0.019, free),
        causes=("as_it_should", "load"),
        deeds=("nothing",),
        trap="leave",
        look=("bushes", "stops"),
        lesson="A few millimetres under luggage are what springs are for: the best job is a good explanation.",
    ),
    Template(
        key="variant",
        title="The neighbour has the small kit",
        level=2,
        complaint="sags",
        words="The neighbour has the small air kit on his. I want the same.",
        kinds=(HEAVY,),
        make=_variant,
        holds=within(0.03, 0.09, free),
        causes=("load", "behind"),
        deeds=("helper",),
        trap="variant",
        look=UNDER,
        lesson="Variants go by the plate: one for a lighter vehicle is out, however well it worked next door.",
    ),
    Template(
        key="strong",
        title="Loaded one day in five",
        level=3,
        complaint="sags",
        words=SAGS,
        kinds=(PICKUP,),
        make=_strong,
        holds=within(0.035, 0.07, free),
        causes=("load", "behind"),
        deeds=("helper",),
        trap="strong",
        look=UNDER,
        lesson="A helper for the heaviest day ever told rides hard on all the others: the empty stance is part of the choice.",
    ),
    Template(
        key="droop",
        title="Sample cases in the back",
        level=3,
        complaint="sags",
        words=SAGS,
        kinds=(WAGON,),
        make=_droop,
        holds=within(0.03, 0.08, free),
        causes=("load", "behind"),
        deeds=("helper",),
        trap="droop",
        look=COILS,
        lesson="A bag in a coil is pulled out of it when the wheel hangs further than it reaches: hang the wheel and read.",
    ),
    Template(
        key="tee",
        title="More air does not cure its lean",
        level=2,
        complaint="leans",
        words="It has air springs, and it leans all the same. More air does not help.",
        kinds=(PICKUP,),
        make=_tee,
        holds=lambda case: lean(case) > 0.012 and not over_limits(case),
        causes=("side",),
        deeds=("lines", "unload"),
        trap="tee",
        look=("air", "bushes"),
        lesson="On one line the air goes to where less presses: a tee cannot hold a side up.",
    ),
    Template(
        key="coach",
        title="A coach that wanders",
        level=2,
        complaint="wanders",
        words="On the motorway it never goes straight.",
        kinds=(COACH,),
        make=_coach,
        holds=lambda case: front_lost(case) > 0.07 and not over_limits(case),
        causes=("light_front", "behind"),
        deeds=("unload",),
        trap="front_scale",
        look=FRONT,
        course="motorway",
        lesson="Load behind the axle lifts the front: the front axle on the scale tells it, and no part puts it back.",
    ),
    Template(
        key="shimmy",
        title="The wheel shakes after a pothole",
        level=1,
        complaint="kick",
        words="After a pothole the wheel shakes in my hands. I want a steering stabilizer.",
        kinds=(WAGON, PICKUP),
        make=_shimmy,
        holds=lambda case: not over_limits(case),
        causes=("play", "balance"),
        deeds=("repair",),
        trap="fault",
        look=FRONT,
        course="potholes",
        lesson="A stabilizer hides play until it lets go: the joint and the bearing first.",
    ),
    Template(
        key="rolls",
        title="A tall van in bends",
        level=2,
        complaint="rolls",
        words="In every bend it lays itself over.",
        kinds=(TALL,),
        make=_rolls,
        holds=lambda case: not over_limits(case),
        causes=("top_heavy",),
        deeds=("bar",),
        trap="drive_before",
        look=("tyres", "dampers", "bushes"),
        course="roundabout",
        lesson="What only a drive can prove needs a drive before: afterwards nobody remembers how it was.",
    ),
    Template(
        key="stiff-coils",
        title="It was told stiffer coils",
        level=3,
        complaint="rolls",
        words="It rolls with the roof tent on. I was told stiffer coils.",
        kinds=(COIL,),
        make=_stiff_coils,
        holds=lambda case: not over_limits(case) and sag(case) < 0.06,
        causes=("top_heavy",),
        deeds=("bar",),
        trap="bar",
        look=("tyres", "dampers", "bushes"),
        course="roundabout",
        lesson="Springs that hold the body in bends ride hard on every day without a load: roll is a bar's work.",
    ),
    Template(
        key="tapered",
        title="One more leaf, as on the old one",
        level=2,
        complaint="sags",
        words="Put one more leaf in, as on my old one.",
        kinds=(VAN, TALL),
        make=_tapered,
        holds=within(0.03, 0.09, free),
        causes=("load", "behind"),
        deeds=("helper",),
        trap="variant",
        look=UNDER,
        lesson="A tapered leaf carries along its whole length and takes no leaf between: another way up is wanted.",
    ),
    Template(
        key="comes-back",
        title="A compressor that stays on",
        level=2,
        complaint="sags",
        words=SAGS,
        kinds=(PICKUP,),
        make=_comes_back,
        holds=within(0.04, 0.09, free),
        causes=("behind", "load"),
        deeds=("helper",),
        trap="settle_after",
        look=UNDER,
        lesson="After a kit the front seems to come back: rolled and bounced, it is mostly friction.",
    ),
    Template(
        key="leak",
        title="It leans in the morning",
        level=1,
        complaint="leans",
        words="In the morning it leans. I pump it up, and it stands straight until evening.",
        kinds=(PICKUP,),
        make=_leak,
        holds=lambda case: lean(case) > 0.01 and not over_limits(case),
        causes=("bag",),
        deeds=("repair",),
        trap="soap",
        look=("air", "air_soaped"),
        lesson="Air that goes by night is found with soap, the whole bag and every fitting, not with another pump.",
    ),
    Template(
        key="floor",
        title="The last shop said it leans",
        level=2,
        complaint="leans",
        words="The last shop measured it and says it leans.",
        kinds=(VAN, PICKUP),
        make=_floor,
        holds=within(0.0, 0.05, free, lambda case: abs(lean(case)) < 0.006, _stands_straight),
        causes=("floor", "as_it_should"),
        deeds=("nothing",),
        trap="turn",
        look=("bushes", "tyres"),
        lesson="Both axles lean alike: turn it round before a spring is blamed. What stays with the bay is the floor.",
    ),
    Template(
        key="label",
        title="The sales sheet says it may",
        level=2,
        complaint="sags",
        words="It sits low with the camper on. The sales sheet says the axle carries it easily.",
        kinds=(PICKUP, HEAVY),
        make=_label,
        holds=lambda case: over_limits(case).get("rear_axle_kg", 0.0) > 50.0 and free(case),
        causes=("overload",),
        deeds=("unload",),
        trap="plate",
        look=UNDER,
        lesson="What may be carried stands on the plate. A sales sheet, a label on a kit and a memory are no ratings.",
    ),
    Template(
        key="nose",
        title="The trailer begins to swing",
        level=2,
        complaint="trailer",
        words="At ninety the trailer begins to swing.",
        kinds=(WAGON, PICKUP),
        make=_nose,
        holds=lambda case: not over_limits(case),
        causes=("nose_light",),
        deeds=("trailer",),
        trap="tongue",
        look=("tyres",),
        course="motorway",
        lesson="Two in a hundred on the ball let any trailer swing: the load goes forward before a damper goes on.",
    ),
    Template(
        key="on-stops",
        title="It does not go down any further",
        level=3,
        complaint="bottoms",
        words="It knocks at the back, though it does not go down any further however much I put in.",
        kinds=(PICKUP, VAN),
        make=_on_stops,
        holds=lambda case: gap_left(case) < 0.001 and over_limits(case).get("rear_axle_kg", 0.0) > 60.0,
        causes=("overload",),
        deeds=("unload",),
        trap="scale",
        look=("stops", "dampers"),
        lesson="A load that stands on the stops cannot be read off the springs: only a scale knows it.",
    ),
    Template(
        key="by-datum",
        title="A sheet was begun this morning",
        level=2,
        complaint="sags",
        words=SAGS,
        kinds=(PICKUP, HEAVY),
        make=_by_datum,
        holds=within(0.03, 0.08, free),
        causes=("load", "behind"),
        deeds=("helper",),
        trap="sheet",
        look=UNDER,
        lesson="Four heights on one body contradict each other or they do not: one taken at another edge gives itself away.",
    ),
    Template(
        key="by-fraction",
        title="The sheet says it leans under load",
        level=3,
        complaint="leans",
        words="Your colleague's sheet says it leans under load. I had not noticed.",
        kinds=(PICKUP, VAN),
        make=_by_fraction,
        holds=within(0.0, 0.06, free, lambda case: abs(lean(case)) < 0.006),
        causes=("sheet", "as_it_should"),
        deeds=("nothing",),
        trap="sheet",
        look=("bushes", "tyres"),
        lesson="Half an inch is five sixteenths read as thirteen: a figure that contradicts is read again before a spring is blamed.",
    ),
    Template(
        key="told-low",
        title="Some packs of flooring",
        level=1,
        complaint="sags",
        words="It sags, though there is hardly anything in it. The springs must be tired.",
        kinds=(VAN, PICKUP),
        make=_told_low,
        holds=within(0.035, 0.09, free),
        causes=("load", "behind"),
        deeds=("helper",),
        trap="scale",
        look=UNDER,
        lesson="A load told low makes sound springs look tired: before a spring is accused the load is weighed.",
    ),
)
BY_CODE: Mapping[str, Template] = {f"V-{n:02d}": one for n, one in enumerate(TEMPLATES, 1)}
"""The shipped cases by their codes."""
SEED = 2026
DRAWN = "G-"
"""Begins the code of a case that was drawn: its seed follows."""
MOST_SEED = 999_999


@lru_cache(maxsize=64)
def case_by_code(code: str) -> Case:
    """Return a shipped case, or one drawn by its seed over everything that can be planted. Raises InputError for a code that is neither."""
    if code in BY_CODE:
        return make(BY_CODE[code], code, SEED)
    seed = code.removeprefix(DRAWN)
    if not code.startswith(DRAWN) or not seed.isdecimal() or int(seed) > MOST_SEED:
        raise InputError("case", code, "there is no such case")
    return make(drawn_template(int(seed)), code, int(seed))


def drawn_template(seed: int) -> Template:
    """Return what a drawn case turns on, by its seed."""
    return TEMPLATES[int(np.random.default_rng(seed).integers(len(TEMPLATES)))]


def drawn_code(seed: int, skill: str = "") -> str:
    """Return the code of a drawn case from a seed on; skill: the next one that teaches it (empty: any)."""
    wanted = (n for n in range(seed % MOST_SEED, MOST_SEED) if not skill or skill in drawn_template(n).skills)
    return f"{DRAWN}{next(wanted, 1)}"
