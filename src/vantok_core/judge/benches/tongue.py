"""The tongue bench: what it weighs by scale, board or stacked mass, with its error, and what it does to the axles.

Source: `benches/tongue.py`; method section 2 (the lever, shares of the trailer).
"""

from __future__ import annotations

from typing import Any

from vantok_core.base.errors import InputError
from vantok_core.base.figure import NINE_IN_TEN
from vantok_core.base.say import Quantity, length, mass
from vantok_core.benches.tongue import TongueRead, at_the_ball, by_board, by_scale, by_stack
from vantok_core.facts import Job
from vantok_core.judge.benches.bench import Answer, Ask, Bench, Draft, Known, Question, Values, chosen, maybe, number
from vantok_core.judge.benches.thresholds import TOO_WIDE
from vantok_core.loads.nose import nose_word, trailer_kind, window_of, window_words
from vantok_core.loads.trailer_beam import WINDOWS
from vantok_core.model import JobModel
from vantok_core.physics.levers import tongue_lever

WAYS = (
    ("scale", "a scale"),
    ("board", "board and scale"),
    ("stack", "mass stacked behind"),
)
WEIGHED, BOARD, STACK = ("way", "scale", "board"), ("way", "board"), ("way", "stack")
"""With which way a field is asked."""
OWN = "own"
"""A window of the shop's own, instead of the usual one of a kind of trailer."""
OWN_WINDOW = ("hitch", OWN)


def _answer(values: Values) -> Answer:
    draft = Draft()
    way, axle = chosen(values, "way"), maybe(values, "axle")
    if way not in dict(WAYS):
        raise InputError("way", way, "say how it was weighed")
    read = _read(values, way)
    if way != "stack":
        read = _held(draft, values, read, axle)
    band = NINE_IN_TEN * read.sigma
    draft.gives["tongue_kg"] = read.mass
    draft.row("Tongue at the ball", mass(read.mass))
    draft.row("give or take, nine times in ten", mass(band))
    draft.say("The tongue weighs {t} at the ball, give or take {s}.", t=mass(read.mass), s=mass(band))
    if band > TOO_WIDE * read.mass:
        draft.say("That is too wide to plan by: a finer scale, or a smaller last step.", "act")
    _rating(draft, values, read, band)  # limits first
    _share(draft, values, read, band)
    _axles(draft, values, read)
    draft.note(
        "The coupler at its towing height, the trailer level and loaded as it travels, wheels chocked both ways, brakes as the maker says."
    )
    draft.note(
        "Nobody under the tongue or astride the board. Mass behind the axle tips the trailer: a stand under its tail before the first piece."
    )
    draft.note("It is a reading of one load: hand it to Weigh while the load is as it was weighed.")
    return draft.done(
        tongue=read.mass,
        axle=axle or 0.0,
        held=(maybe(values, "held") or 0.0) if way != "stack" else 0.0,
        to_scale=maybe(values, "to_scale") or 0.0,
        to_tongue=maybe(values, "to_tongue") or 0.0,
        behind=maybe(values, "behind") or 0.0,
        board=float(way == "board"),
        stack=float(way == "stack"),
    )


def _read(values: Values, way: str) -> TongueRead:
    """Return what was weighed where it was held (kg)."""
    if way == "stack":
        return by_stack(*(number(values, name) for name in ("stacked", "step", "behind", "axle")))
    if not (error := number(values, "error")) > 0.0:
        raise InputError("error", error, "no scale is without error: one of its steps at least")
    if way == "board":
        return by_board(
            number(values, "reading"),
            number(values, "tare"),
            number(values, "to_scale"),
            number(values, "to_tongue"),
            error,
        )
    return by_scale(number(values, "reading"), error)


def _held(draft: Draft, values: Values, read: TongueRead, axle: float | None) -> TongueRead:
    """Return the tongue at the ball, said where it was held behind it, as at the jack."""
    held = maybe(values, "held") or 0.0
    if not held:
        return read
    if axle is None:
        raise InputError("axle", None, "held behind the ball, it takes the way from the ball to the trailer's axle")
    found = at_the_ball(read, held, axle)
    text = "Held {x} behind the ball it stands on the scale with {f}: nearer the axle it is heavier."
    draft.say(text, x=length(held), f=mass(read.mass))
    return found


def _share(draft: Draft, values: Values, read: TongueRead, band: float) -> None:
    """Say the tongue's share of the trailer, where that is known, and only what its error allows."""
    trailer = maybe(values, "trailer")
    if not trailer:
        return
    window = _window(values)
    if read.mass > trailer:
        raise InputError("trailer", trailer, "the trailer weighs more than its tongue")
    words = [nose_word(max(m, 0.0) / trailer, window) for m in (read.mass - band, read.mass, read.mass + band)]
    draft.row("Share of the trailer", f"{read.mass / trailer:.1%}".replace("%", " %"))
    if words[1] == "good":
        if words[0] == words[2]:
            draft.say("That is within the usual {window_words} of the trailer.", window_words=window_words(window))
        else:
            draft.say(
                "That is within the usual {window_words} of the trailer, but near its edge for what was weighed with.",
                window_words=window_words(window),
            )
    elif words[0] == words[2]:
        what = (
            "too little: it may sway. Shift load forward"
            if words[1] == "light"
            else "more than usual: shift load back, or look at the hitch's rating"
        )
        draft.say(
            "That is {what} (usual: {window_words} of the trailer).",
            "act",
            what=what,
            window_words=window_words(window),
        )
    else:
        draft.say(
            "Whether that is within the usual {window_words} of the trailer cannot be told: the error reaches over the edge.",
            "act",
            window_words=window_words(window),
        )


def _window(values: Values) -> tuple[float, float]:
    """Return the share of the trailer that its nose should carry. Raises InputError for one that ends before it begins."""
    kind = chosen(values, "hitch")
    if kind != OWN:
        return next((window for name, window in WINDOWS.items() if name == kind), WINDOWS["ball"])
    least, most = number(values, "least"), number(values, "most")
    if not 0.0 <= least < most <= 1.0:
        raise InputError("most", most, "more than the least, and no more than the whole trailer")
    return least, most


def _axles(draft: Draft, values: Values, read: TongueRead) -> None:
    """Say what the tongue's lever does to the vehicle's axles, where its lengths are known."""
    wheelbase, overhang = maybe(values, "wheelbase"), maybe(values, "overhang")
    if wheelbase is None or overhang is None:
        return
    share = tongue_lever(read.mass, overhang, wheelbase)
    draft.row("Rear axle", mass(float(share.rear), signed=True))
    draft.row("Front axle", mass(float(share.front), signed=True))
    if overhang > 0.0:
        draft.say(
            "On the vehicle the rear axle gains {r}, more than the tongue, and the front loses {f}.",
            r=mass(float(share.rear)),
            f=mass(-float(share.front)),
        )
    else:
        draft.say(
            "On the vehicle the rear axle gains {r} and the front {f}.",
            r=mass(float(share.rear)),
            f=mass(float(share.front)),
        )


def _rating(draft: Draft, values: Values, read: TongueRead, band: float) -> None:
    """Say whether the hitch's vertical rating is passed, or may be; that it is not known, where it is not."""
    limit = maybe(values, "limit")
    if limit is None:
        draft.note("The hitch's vertical rating is not entered: the tongue is not held against it.")
        return
    if read.mass > limit:
        draft.say(
            "It is over the hitch's vertical rating of {l}: less on the tongue before anything else.",
            "limit",
            l=mass(limit),
        )
    elif read.mass + band > limit:
        draft.say(
            "It may be over the hitch's vertical rating of {l}: the error reaches past it.", "limit", l=mass(limit)
        )
    draft.row("Left of the hitch's vertical rating", Quantity(limit - read.mass, "mass", signed=True))


def _of_job(job: Job, model: JobModel | None) -> Known:
    kind, window = trailer_kind(job.vehicle), window_of(job)
    found: dict[str, Any] = {"hitch": (kind, "the vehicle's hitch")}
    if window != WINDOWS[kind]:
        found = {"hitch": (OWN, "the shop's settings")}
        found |= {name: (share, "the shop's settings") for name, share in zip(("least", "most"), window, strict=True)}
    for name, value, where in (
        ("wheelbase", job.vehicle.base_m, "the vehicle's wheelbase"),
        ("overhang", job.vehicle.hitch_overhang_m, "the vehicle"),
        ("limit", job.vehicle.hitch_kg, "the vehicle's plate"),
    ):
        if value is not None:
            found[name] = (value, where)
    state = max((one for one in job.states if one.hitched), key=lambda one: one.trailer, default=None)
    if state is not None:
        where = f"the trailer in “{state.name}”"
        found |= {"trailer": (state.trailer, where)} if state.trailer else {}
        found |= {"axle": (state.trailer_axle_m, where)} if state.trailer_axle_m else {}
    return found


BENCH = Bench(
    key="tongue",
    words="Tongue and lever",
    questions=(
        Question(
            key="weigh",
            words="What does the tongue weigh, by what is at hand?",
            asks=(
                "way",
                "reading",
                "tare",
                "to_scale",
                "to_tongue",
                "stacked",
                "step",
                "behind",
                "held",
                "error",
            ),
        ),
        Question(
            key="window",
            words="Is it heavy enough?",
            asks=(
                "trailer",
                "hitch",
                "least",
                "most",
            ),
        ),
        Question(
            key="axles",
            words="What does it do to the axles?",
            asks=(
                "axle",
                "wheelbase",
                "overhang",
                "limit",
            ),
        ),
    ),
    asks=(
        Ask(name="way", words="Weighed with", kind="choice", first="scale", choices=WAYS),
        Ask(name="reading", words="Scale reads", kind="mass", first=160.0, only=WEIGHED),
        Ask(name="error", words="Scale good to, give or take", kind="mass", first=1.0, only=WEIGHED),
        Ask(name="tare", words="Board alone reads", kind="mass", first=6.0, only=BOARD),
        Ask(name="to_scale", words="Fixed end to scale", kind="length", first=1.5, only=BOARD),
        Ask(name="to_tongue", words="Fixed end to tongue", kind="length", first=1.0, only=BOARD),
        Ask(name="stacked", words="Stacked when the coupler lifted", kind="mass", first=400.0, only=STACK),
        Ask(name="step", words="Last piece put on", kind="mass", first=20.0, only=STACK),
        Ask(name="behind", words="Its middle behind the axle", kind="length", first=1.8, only=STACK),
        Ask(name="held", words="Held behind the ball by (at the jack)", kind="length", needed=False, only=WEIGHED),
        Ask(name="axle", words="Ball to trailer axle", kind="length", needed=False),
        Ask(name="trailer", words="Trailer's whole mass", kind="mass", needed=False),
        Ask(
            name="hitch",
            words="Hitch",
            kind="choice",
            first="ball",
            choices=(
                ("ball", "ball"),
                ("caravan", "ball, a caravan"),
                ("pin", "pin or gooseneck"),
                (OWN, "as the shop has it"),
            ),
        ),
        Ask(name="least", words="Least share of the trailer", kind="percent", only=OWN_WINDOW),
        Ask(name="most", words="Greatest share", kind="percent", only=OWN_WINDOW),
        Ask(name="wheelbase", words="Vehicle's wheelbase", kind="length", needed=False),
        Ask(name="overhang", words="Ball behind the rear axle", kind="length", needed=False),
        Ask(name="limit", words="Hitch's vertical rating", kind="mass", needed=False),
    ),
    works=_answer,
    of_job=_of_job,
)
