"""The planted jobs themselves, by what is wrong with them; what each stage has to say of them was written by hand before it was run."""

from __future__ import annotations

from typing import Any

from vantok_core.facts import Complaint, Inspected, Job, JobState, JobVehicle, LoadItem, TrailerItem
from vantok_core.facts.vehicle import Equipment
from vantok_core.physics.vehicle import CORNERS
from vantok_core.practice.planted import (
    EMPTY,
    HEIGHTS,
    STAGES,
    Expected,
    Planted,
    fitted,
    gaps,
    measured,
    rows,
    state,
    vehicle,
)

CARGO = LoadItem(name="crates", mass_kg=260, station_m=3.3, movable=True)
LOADED = state(items=(CARGO,))
SAGS = Complaint(code="sags")
PROVED = r"proved at this setting"
NEEDED = r"nothing is needed"


def _sags() -> list[Planted]:
    half_ton = Job(
        number="P-2",
        vehicle=vehicle(front_axle_kg=None, rear_axle_kg=None, gross_kg=None),
        states=(EMPTY, state(front_kg=990, rear_kg=1080, tongue_kg=220, trailer_kg=2000)),
        readings=rows({"empty": HEIGHTS, "loaded": {"FL": 0.880, "FR": 0.882, "RL": 0.830, "RR": 0.826}}),
        complaints=(SAGS,),
    )
    level = measured((EMPTY, state(items=(LoadItem(name="bag", mass_kg=40, station_m=2.6),))), more=gaps())
    front = measured((EMPTY, state(items=(LoadItem(name="winch", mass_kg=120, station_m=0.1),))), more=gaps())
    low = tuple(
        r.model_copy(update={"value_m": r.value_m - 0.018})
        if (r.state, r.place[0], r.datum) == ("loaded", "F", "ground_arch")
        else r
        for r in front.readings
    )
    return [
        Planted(
            key="half-ton-tongue",
            truth="common soft leaves under a tongue",
            job=half_ton,
            every=(r"tired", r"lower than expected", r"softer than"),
            expects={
                "diagnose": Expected(says=(r"rear sits 7\d.mm low",), never=(NEEDED,)),
            },
        ),
        Planted(
            key="little-load",
            truth="forty kilograms on sound springs",
            job=level,
            expects={
                "diagnose": Expected(tone="level", says=(NEEDED,)),
                "choose": Expected(tone="level", never=(r"Take ",)),
            },
        ),
        Planted(
            key="front-sags",
            truth="a winch on the bumper lets the front down",
            job=front.model_copy(update={"readings": low}),
            expects={
                "diagnose": Expected(says=(r"the front \d\d.mm low",), never=(NEEDED,)),
            },
        ),
    ]


def _limits() -> list[Planted]:
    def weighed(front: float, rear: float, **more: Any) -> Job:
        return measured((EMPTY, state(front_kg=front, rear_kg=rear, **more)), more=gaps())

    wheel = Job(
        number="P-3",
        vehicle=vehicle(rear_wheel_kg=650.0),
        readings=gaps(),
        states=(
            JobState(key="empty", name="Empty", empty=True, corners_kg=(540, 540, 385, 385)),
            state(corners_kg=(500, 500, 840, 560)),
        ),
    )
    bare = vehicle(
        **dict.fromkeys(("gross_kg", "front_axle_kg", "rear_axle_kg", "hitch_kg", "towed_kg", "combination_kg"))
    )
    over = Expected(tone="limit", says=(r"^Loaded: rear axle is 200.kg over",), never=(NEEDED, PROVED))
    return [
        Planted(
            key="over",
            truth="the rear axle two hundred kilograms over",
            job=weighed(1000, 1850),
            expects=dict.fromkeys(STAGES[:4], over),
        ),
        Planted(
            key="five-over",
            truth="five kilograms over on a ten kilogram scale",
            job=weighed(1000, 1655),
            every=(r"holds \(", r"kg over\."),
            expects={
                "weigh": Expected(
                    tone="act", says=(r"rear axle is probably over its limit", r"Weigh it"), never=(r"left",)
                ),
                "diagnose": Expected(says=(r"Weigh it",)),
            },
        ),
        Planted(
            key="five-left",
            truth="five kilograms left on a ten kilogram scale",
            job=weighed(1000, 1645),
            every=(r"Every known limit holds",),
            expects={
                "weigh": Expected(tone="act", says=(r"[Ww]eigh it",)),
            },
        ),
        Planted(
            key="wheel",
            truth="one rear wheel far over its own rating",
            job=wheel,
            expects=dict.fromkeys(STAGES[:1], Expected(tone="limit", says=(r"heavier rear wheel is 190.kg over",))),
        ),
        Planted(
            key="no-ratings",
            truth="nobody read the plate",
            job=measured((EMPTY, LOADED), of=bare, more=gaps()),
            every=(r"limit holds",),
            expects={
                "weigh": Expected(tone="act", says=(r"no margin is known",)),
                "choose": Expected(tone="act", says=(r"No limit is known",)),
            },
        ),
        Planted(
            key="no-ball",
            truth="a tongue on a hitch of unknown rating",
            job=measured((EMPTY, state(tongue_kg=180, trailer_kg=1500)), of=vehicle(hitch_kg=None), more=gaps()),
            every=(r"Every known limit holds",),
            expects={"weigh": Expected(tone="act", says=(r"hitch vertical load .*nobody knows its rating",))},
        ),
        Planted(
            key="no-wheels",
            truth="an axle that weighs nothing",
            job=Job(number="P-5", vehicle=vehicle(), states=(EMPTY, state(front_kg=0, rear_kg=1200))),
            expects={
                "weigh": Expected(tone="act", says=(r"front axle reads 0.kg, less than its wheels weigh",)),
            },
        ),
        Planted(
            key="one-axle",
            truth="only the rear axle was weighed",
            job=measured((EMPTY, state(rear_kg=1850)), more=gaps()),
            expects={
                "weigh": Expected(tone="limit", says=(r"rear axle is 200.kg over",)),
            },
        ),
    ]


def _trailers() -> list[Planted]:
    def towing(mass: float, behind: float, **more: Any) -> Job:
        items = (TrailerItem(name="trailer", mass_kg=mass, behind_ball_m=behind),)
        return measured((EMPTY, state(trailer_items=items, trailer_axle_m=4.0)), of=vehicle(**more), more=gaps())

    def caravan(front: float, rear: float) -> Job:
        v = JobVehicle(
            body="caravan",
            wheelbase_m=4.2,
            track_front_m=1.9,
            track_rear_m=1.9,
            front_spring="coupling",
            rear_spring="rubber_torsion_independent",
            tyres="car",
            gross_kg=1600,
            front_axle_kg=100,
            rear_axle_kg=1550,
        )
        empty = JobState(key="empty", name="Empty", empty=True, front_kg=70, rear_kg=1130)
        return Job(number="P-4", vehicle=v, states=(empty, state(front_kg=front, rear_kg=rear)), readings=())

    lifts = Expected(tone="limit", says=(r"lifts the ball", r"forward"), never=(NEEDED,))
    light = Expected(says=(r"tongue carries .*10 to 15.%",), never=(NEEDED,))
    nose = (r"front axle", r"onto the front\b")
    return [
        Planted(
            key="tail-heavy",
            truth="a trailer that lifts the ball",
            job=towing(1200, 4.2),
            expects=dict.fromkeys(STAGES[:4], lifts),
        ),
        Planted(
            key="light-nose",
            truth="six per cent on a ball",
            job=towing(1200, 3.76),
            expects=dict.fromkeys(("weigh", "diagnose", "choose"), light),
        ),
        Planted(
            key="caravan-nose",
            truth="six per cent under a caravan is right",
            job=towing(1200, 3.76, hitch_kind="caravan"),
            every=(r"is usual",),
            expects={},
        ),
        Planted(
            key="caravan-light",
            truth="a caravan with three per cent",
            job=caravan(45, 1455),
            every=nose,
            expects={
                "weigh": Expected(says=(r"4 to 7.%", r"forward"), never=(r"limit holds",)),
            },
        ),
        Planted(
            key="caravan-right",
            truth="a caravan with six per cent",
            job=caravan(90, 1410),
            every=(*nose, r"is usual"),
            expects={},
        ),
    ]


def _sheets() -> list[Planted]:
    good = measured((EMPTY, LOADED), more=gaps())

    def changed(**off: float) -> Job:
        told = tuple(
            r.model_copy(update={"value_m": r.value_m + off[f"{r.state}_{r.place}"]})
            if f"{r.state}_{r.place}" in off and r.datum == "ground_arch"
            else r
            for r in good.readings
        )
        return good.model_copy(update={"readings": told})

    def copied(alike: float | None) -> Job:
        other = rows({"loaded": dict.fromkeys(CORNERS, alike) if alike else {c: round(HEIGHTS[c], 3) for c in CORNERS}})
        first = tuple(r for r in good.readings if r.state == "empty" and r.datum != "ground_arch")
        return good.model_copy(update={"readings": (*first, *rows({"empty": HEIGHTS}), *other)})

    held = Expected(tone="act", says=(r"lie on no one body",), never=(NEEDED, r"Take ", r"bring the rear"))
    copy = Expected(says=(r"copied",), never=(r"softer", NEEDED))
    slope = changed(**{f"{s}_{c}": -0.014 for s in ("empty", "loaded") for c in ("FL", "RL")})
    rolled = measured(
        (EMPTY, state(items=(LoadItem(name="stove", mass_kg=260, station_m=3.3, lateral_m=0.55),))), more=gaps()
    )
    flip = {"RL": "RR", "RR": "RL", "FL": "FR", "FR": "FL"}
    swapped = tuple(
        r.model_copy(update={"place": flip[r.place]}) if r.state == "loaded" and r.datum == "ground_arch" else r
        for r in rolled.readings
    )
    gone = vehicle(equipment=(Equipment(kind="stops", fitted="missing"),))
    stops = measured((EMPTY, LOADED), of=gone, more=gaps(0.0, 0.0))
    return [
        Planted(
            key="wrong-datum",
            truth="one corner read on another datum",
            job=changed(loaded_RL=-0.06),
            every=(r"cracked", r"softer"),
            expects=dict.fromkeys(("diagnose", "choose"), held),
        ),
        Planted(
            key="copied-row",
            truth="the empty row written down again",
            job=copied(None),
            expects={"measure": copy, "diagnose": copy, "choose": copy},
        ),
        Planted(
            key="all-alike",
            truth="one figure four times",
            job=copied(0.86),
            expects={"measure": copy, "diagnose": copy, "choose": copy},
        ),
        Planted(
            key="swapped",
            truth="left and right columns swapped",
            job=rolled.model_copy(update={"readings": swapped}),
            expects={
                "measure": Expected(says=(r"other way round",)),
                "choose": Expected(tone="act", says=(r"other way round",), never=(r"already where it is wanted",)),
            },
        ),
        Planted(
            key="slope",
            truth="a floor that falls to the left",
            job=slope,
            every=(r"tired or broken",),
            expects={
                "diagnose": Expected(says=(r"floor first",)),
            },
        ),
        Planted(key="stops-gone", truth="no bump stops at all", job=stops, every=(r"stop is touching",), expects={}),
    ]


def _choices() -> list[Planted]:
    locker = LoadItem(name="locker", mass_kg=500, station_m=3.9)
    box = LoadItem(name="boxes", mass_kg=240, station_m=3.9, movable=True)
    unknown = measured((EMPTY, state(items=(CARGO,))), more=gaps())
    blind = unknown.model_copy(update={"states": (EMPTY, state(more=True))})
    deep = measured((EMPTY, state(items=(LoadItem(name="tubs", mass_kg=420, station_m=3.4),))), softer=0.7)
    coils = measured((EMPTY, LOADED), more=gaps()).model_copy(
        update={
            "complaints": (SAGS,),
            "inspection": (Inspected(area="coils", grade="watch"), Inspected(area="leaf_shape", grade="fine")),
        }
    )
    return [
        Planted(
            key="locker",
            truth="a built-in locker that cannot be moved",
            job=measured((EMPTY, state(items=(locker,))), more=gaps()),
            every=(r"Move locker", r"Moving the load does it"),
            expects={},
        ),
        Planted(
            key="boxes",
            truth="boxes that can be moved within reach",
            job=measured((EMPTY, state(items=(box,))), more=gaps()),
            every=(r"boxes 1[6-9]\d\d.mm", r"boxes [2-9]\d\d\d.mm"),
            expects={},
        ),
        Planted(
            key="unweighed",
            truth="a load nobody weighed",
            job=blind,
            every=(r"nothing but its heights",),
            expects={
                "weigh": Expected(tone="act", says=(r"[Ww]eigh it",)),
                "diagnose": Expected(says=(r"read off the springs|by its springs", r"[Ww]eigh it")),
            },
        ),
        Planted(
            key="stops-unread",
            truth="a deep sag, its stops never looked at",
            job=deep,
            every=(r"stop is touching", r"gap \d"),
            expects={
                "diagnose": Expected(never=(NEEDED,)),
            },
        ),
        Planted(
            key="coils-to-watch",
            truth="front coils to watch over sound leaves",
            job=coils,
            every=(r"tired or cracked",),
            expects={},
        ),
    ]


def _proofs() -> list[Planted]:
    base = measured((EMPTY, LOADED), more=gaps())
    right = Expected(tone="level", says=(r"height wanted is met", r"prediction held", PROVED))
    return [
        Planted(
            key="proved", truth="set right, stands right", job=fitted(base, 1.0, 110e3, 0.66), expects={"prove": right}
        ),
        Planted(
            key="prediction-held-target-missed",
            truth="as predicted, and not where it was wanted",
            job=fitted(base, 1.0, 60e3, 1.0),
            expects={
                "prove": Expected(
                    tone="act", says=(r"missed by \d+.mm", r"prediction held", r"set .* left"), never=(PROVED,)
                ),
            },
        ),
        Planted(
            key="weak-kit",
            truth="bags much weaker than their sheet",
            job=fitted(base, 0.6, 100e3, 1.0),
            expects={
                "prove": Expected(tone="act", never=(PROVED, r"load changed between")),
            },
        ),
        Planted(
            key="not-fitted",
            truth="a kit chosen and not on",
            job=fitted(base, 1.0, 110e3, 0.66, done=False, read=False),
            expects={
                "prove": Expected(tone="act", says=(r"Nothing has been read",), never=(PROVED,)),
            },
        ),
        Planted(
            key="over-and-proved",
            truth="where it was wanted, over its axle",
            job=fitted(measured((EMPTY, state(front_kg=1010, rear_kg=1850)), more=gaps()), 1.0, 200e3, 0.66),
            expects={"prove": Expected(tone="limit", says=(r"^Loaded: rear axle is 200.kg over",))},
        ),
    ]


def planted() -> list[Planted]:
    """Return every planted job."""
    return [*_sags(), *_limits(), *_trailers(), *_sheets(), *_choices(), *_proofs()]
