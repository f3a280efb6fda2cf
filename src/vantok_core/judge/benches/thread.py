"""The thread and bush bench: which thread a bolt is, the washers that fill a bracket, the same clamp with the thread in another state.

Source: method section 13.
"""

from __future__ import annotations

from vantok_core.base.errors import InputError, UnitError
from vantok_core.base.say import Quantity, length
from vantok_core.base.units import both, parse
from vantok_core.benches.thread import INCH, find_thread, torque_in_state, washers
from vantok_core.facts import Job
from vantok_core.judge.benches.bench import Answer, Ask, Bench, Draft, Known, Question, Values, chosen, maybe, points
from vantok_core.model import JobModel

STATES = (("dry", "dry"), ("oiled", "oiled"), ("locker", "with locker, wet"), ("anti_seize", "with anti-seize"))
KINDS = ("torque", "pressure", "mass", "force", "rate", "damping", "speed", "length")


def _answer(values: Values) -> Answer:
    draft = Draft()
    _thread(draft, values)
    _washers(draft, values)
    _torque(draft, values)
    _converted(draft, values)
    if not draft.said:
        draft.say("Enter what is asked for: it is answered as it is typed.", "act")
    else:
        draft.note(
            "Friction scatters by a third from bolt to bolt: the maker's figure in the maker's state comes first."
        )
    bracket, bush = maybe(values, "bracket"), maybe(values, "bush")
    return draft.done(
        bracket=bracket or 0.065, bush=bush or 0.060, known=float(bracket is not None and bush is not None)
    )


def _of_job(job: Job, model: JobModel | None) -> Known:
    axle = job.fitting.kit.axle if job.fitting is not None else "rear"
    sizes = job.vehicle.sizes
    told = {"bush": sizes.get(f"{axle}_bush_m"), "bracket": sizes.get(f"{axle}_bracket_m")}  # type: ignore[call-overload]  # a name made of two
    return {name: (value, "the vehicle's sizes") for name, value in told.items() if value is not None}


def _thread(draft: Draft, values: Values) -> None:
    over, pitch, turns = (maybe(values, name) for name in ("over", "pitch", "tpi"))
    if over is None or (pitch is None and not turns):
        return
    found = find_thread(over, INCH / turns if turns else pitch or 0.0)
    draft.row("Thread", found.name)
    if found.runner_up != "none":
        draft.say(
            "{found}. It might be {runner_up} too: measure again.", "act", found=found.name, runner_up=found.runner_up
        )
    else:
        draft.say(
            "{found}.{again}",
            "level" if found.sure else "act",
            found=found.name,
            again="" if found.sure else " Measure again: it is near, not sure.",
        )


def _washers(draft: Draft, values: Values) -> None:
    bracket, bush, stock = maybe(values, "bracket"), maybe(values, "bush"), points(values, "stock")
    if bracket is None or bush is None or not stock:
        return
    found = washers(bracket, bush, [(thick, round(count)) for thick, count in stock])
    draft.row("Gap to fill", length(found.gap))
    left, right, play = (Quantity(one, "thickness") for one in (found.left, found.right, found.play))
    draft.row("On one side", left)
    draft.row("On the other", right)
    draft.say(
        "{count} washers: {left} on one side, {right} on the other; {play} of play remains.",
        count=found.count,
        left=left,
        right=right,
        play=play,
    )


def _torque(draft: Draft, values: Values) -> None:
    torque, diameter = maybe(values, "torque"), maybe(values, "diameter")
    if torque is None or diameter is None:
        return
    words = dict(STATES)
    first, other = (told if (told := str(values.get(name))) in words else "dry" for name in ("from", "to"))
    found = torque_in_state(torque, diameter, first, other)
    clamp, wanted, wrong = (
        Quantity(found.clamp, "force"),
        Quantity(found.torque, "torque"),
        Quantity(found.clamp_at_table_torque, "force"),
    )
    draft.row("Clamp the table means", clamp)
    draft.row(f"{words[other].capitalize()}, it takes", wanted)
    draft.say(
        "The table means a clamp of {clamp} {first}; {other} that takes {torque}.",
        clamp=clamp,
        torque=wanted,
        first=words[first],
        other=words[other],
    )
    if found.warn:
        draft.say(
            "The table's figure in that state would clamp {wrong}: ask the maker before another is used.",
            "act",
            wrong=wrong,
        )


def _converted(draft: Draft, values: Values) -> None:
    """Say a figure with its unit in both systems."""
    if not (told := chosen(values, "figure")):
        return
    for kind in KINDS:
        try:
            value = parse(kind, told, "metric")
        except UnitError:
            continue
        if value.unit and told.strip().lower().endswith(value.unit.lower()):
            draft.row(told, both(kind, value.value))
            draft.say("{told} is {both}.", told=told, both=both(kind, value.value))
            return
    raise InputError("figure", told, "write a number with its unit: 35 Nm, 2.4 bar, 60 lb, 3/8 in")


BENCH = Bench(
    key="thread",
    words="Threads and bushes",
    questions=(
        Question(
            key="which",
            words="Which thread is it?",
            asks=(
                "over",
                "pitch",
                "tpi",
            ),
        ),
        Question(
            key="fills",
            words="What fills the bracket?",
            asks=(
                "bracket",
                "bush",
                "stock",
            ),
        ),
        Question(
            key="torque",
            words="What torque in another state?",
            asks=(
                "torque",
                "diameter",
                "from",
                "figure",
                "to",
            ),
        ),
    ),
    asks=(
        Ask(name="over", words="Bolt, outside diameter over the crests", kind="length", needed=False),
        Ask(name="pitch", words="Pitch, crest to crest", kind="length", needed=False),
        Ask(name="tpi", words="or turns per inch", kind="count", needed=False),
        Ask(name="bracket", words="Bracket, inside width", kind="length", needed=False),
        Ask(name="bush", words="Bush, width", kind="length", needed=False),
        Ask(
            name="stock",
            words="Washers at hand, how thick: how many",
            kind="points",
            axes=("length", "count"),
            needed=False,
        ),
        Ask(name="torque", words="The table's torque", kind="torque", needed=False),
        Ask(name="diameter", words="Thread's nominal diameter", kind="length", needed=False),
        Ask(name="from", words="The table means", kind="choice", first="dry", choices=STATES),
        Ask(name="figure", words="Any figure with its unit, both ways", kind="text", needed=False),
        Ask(name="to", words="It is", kind="choice", first="oiled", choices=STATES),
    ),
    works=_answer,
    of_job=_of_job,
    places={
        "stock": "stock",
        "bush": "bush",
        "thread": "over",
        "torque": "torque",
        "bracket": "bracket",
        "pitch": "pitch",
        "state": "from",
    },
)
