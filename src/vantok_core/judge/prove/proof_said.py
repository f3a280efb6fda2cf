"""What Prove says, in its order: the height wanted, the prediction, how strong the kit is, then what to do. Limits go before all of it.

"Proved" takes the height wanted and the limits; a prediction that did not hold does not undo it, a reading in doubt does. Source: method section 26.
"""

from __future__ import annotations

from collections.abc import Mapping

from vantok_core.base.names import CORNERS, PLACES
from vantok_core.base.say import Quantity, Say, Tone, Verdict, length
from vantok_core.facts import Job
from vantok_core.judge.grounds.shown import main_datum
from vantok_core.judge.prove.after_causes import Cause
from vantok_core.judge.prove.proof import NextSetting, Proof, Strength, Suspect
from vantok_core.judge.prove.thresholds import MISS_WORTH
from vantok_core.kits.family import SettingField
from vantok_core.kits.odds import TOLERANCE
from vantok_core.kits.registry import family_of

AGAIN = ("read", "settled")
"""Causes that reading again, settled, answers."""
READ_AGAIN = "First read it again, settled, with the same load."


def proof_said(job: Job, proof: Proof, *, limits: bool) -> Verdict:
    """Return the verdict of a proof. limits: whether any limit is known."""
    names = {s.key: s.name for s in job.states}
    if proof.inside is None:
        return Verdict(tone="act", sentences=(_unread(job, proof, names),))
    strength = proof.strength if proof.strength and (proof.strength.told or proof.suspect) else None
    said = [*_target(proof, names), *_prediction(proof, names), *strength_said(strength)]
    doubt = _doubt(job, proof)
    if doubt:
        return Verdict(tone="act", sentences=(*said, *doubt))
    if proof.reached is not None and not proof.reached.met:
        return Verdict(tone="act", sentences=(*said, *_next(job, proof, names)))
    tone, end = _end(job, proof, names, limits=limits)
    return Verdict(tone=tone, sentences=(*said, end))


def _target(proof: Proof, names: Mapping[str, str]) -> list[Say]:
    """Return whether the height wanted is there, by the tape."""
    reached = proof.reached
    if reached is None:
        return []
    values = {"a": length(abs(reached.above)), "t": length(TOLERANCE), "b": length(reached.band)}
    side = "above" if reached.above > 0.0 else "below"
    if reached.met:
        by = "the rear {a} {side} it" if abs(reached.above) >= MISS_WORTH else "the rear on it"
        return [
            Say(
                "{name}: the height wanted is met, {by} (aim ± {t}, tape ± {b}).",
                {**values, "name": names[reached.state], "by": Say(by, {"a": values["a"], "side": side})},
            )
        ]
    return [
        Say(
            "{name}: the height wanted is missed by {a}, the rear is {side} it (aim ± {t}, tape ± {b}).",
            {**values, "name": names[reached.state], "side": side},
        )
    ]


def _prediction(proof: Proof, names: Mapping[str, str]) -> list[Say]:
    """Return whether the prediction held: all that was read in its joint band, else what stands off most."""
    if proof.suspect is not None:
        return [_stands_off(proof.suspect, names)]
    read = [row for rows in proof.rows.values() for row in rows if row.miss is not None]
    worst = max(read, key=lambda row: abs(row.miss or 0.0) / row.predicted.sigma)
    values = {"miss": length(abs(worst.miss or 0.0)), "band": worst.predicted.width}
    return [Say("The prediction held (furthest out {miss}, its own band ± {band}).", values)]


def _stands_off(suspect: Suspect, names: Mapping[str, str]) -> Say:
    side = "high" if suspect.miss > 0 else "low"
    values = {"miss": length(abs(suspect.miss)), "band": length(suspect.band)}
    what = {"corner": PLACES.get(suspect.corner, ""), "rear": "the rear", "front": "the front"}[suspect.named]
    return Say(
        "{name}: {what} stands {miss} {side} against the prediction (band ± {band}).",
        {**values, "name": names[suspect.state], "what": what, "side": side},
    )


def strength_said(strength: Strength | None) -> list[Say]:
    """Return how strong the kit was read to be, as far as the heights tell it."""
    if strength is None:
        return []
    if not strength.told:
        return [Say("These heights do not tell how strong the kit is beside its data.")]
    low, high = strength.band
    values = {n: Quantity(v, "percent") for n, v in (("q", strength.q), ("low", low), ("high", high))}
    if low <= 1.0 <= high:
        return [Say("The kit is as strong as its data say ({low} to {high}).", values)]
    return [Say("The kit is {q} as strong as its data say ({low} to {high}).", values)]


def _doubt(job: Job, proof: Proof) -> list[Say]:
    """Return what is to be looked into before anything is called proved; nothing where only the kit's own strength is left to explain a miss."""
    suspect, still = proof.suspect, proof.open
    if suspect is None:
        return []
    assert job.fitting is not None
    own = job.fitting.kit.axle
    if suspect.named == "corner":
        if not still:
            return [Say("Every usual cause was looked into: ask the maker.")]
        return [_look("It read so twice. Look into: {cause}.", still[0])]
    if suspect.named != own:
        return [
            Say(
                "Not by the kit: friction, or load put back elsewhere. Read the {named} again, settled, with the same load, or "
                "weigh it.",
                {"named": suspect.named},
            )
        ]
    if still and not (proof.reached is not None and proof.reached.met):
        return [_look("Look into: {cause}.", still[0])]
    return []


def _look(words: str, cause: Cause) -> Say:
    """Return what is looked into first: whether it was read right, else a cause."""
    return Say(READ_AGAIN if cause.key in AGAIN else words, {"cause": cause.words}, act="alone")


def _next(job: Job, proof: Proof, names: Mapping[str, str]) -> list[Say]:
    """Return the setting that meets the height with the kit as strong as it was read to be, or that none does."""
    assert job.fitting is not None
    family = family_of(job.fitting.kit)
    following, reached = proof.next, proof.reached
    if following is not None:
        return [_order(field, following, names) for field in family.settings if field.name in following.setting]
    if not family.spans(job.fitting.kit):
        return [Say("It has no setting: another part, or less load, answers that.")]
    if reached is not None and reached.above < 0.0:
        return [Say("It is too weak for that even at its maximum, within every limit: less load, or another kit.")]
    return [Say("Even at its least it stands so: less of a kit, or the height as it is.")]


def _order(field: SettingField, following: NextSetting, names: Mapping[str, str]) -> Say:
    """Return what to set, and where, in words."""
    left, right = following.setting[field.name]
    values = {"left": Quantity(left, field.kind), "right": Quantity(right, field.kind)}
    order = Say(field.order, values)
    return Say("In “{name}”, {order}, and read again.", {"name": names[following.state], "order": order})


def _end(job: Job, proof: Proof, names: Mapping[str, str], *, limits: bool) -> tuple[Tone, Say]:
    """Return what is still lacking for a proof, else that it is one."""
    unread = [names[key] for key, row in proof.rows.items() if any(r.read is None for r in row)]
    if unread:
        return "act", Say("Still to read at this setting: {unread}.", {"unread": ", ".join(unread)})
    datum = main_datum(job)
    rough = [
        names[key] for key in proof.rows if any((r := job.at(key, c, datum, "after")) and r.unsettled for c in CORNERS)
    ]
    if rough:
        return "act", Say(
            "Not settled when read: {rough}. Roll it, bounce it and read again before it is called proved.",
            {"rough": ", ".join(rough)},
        )
    if not limits:
        return "act", Say("No limit is known: take the ratings off the plate and weigh it before it goes.")
    return "level", Say("The heights are proved at this setting.", act="alone")


def _unread(job: Job, proof: Proof, names: Mapping[str, str]) -> Say:
    """Return why nothing is judged yet: nothing read, read at another setting, or nothing to hold it against."""
    if not proof.rows:
        which = "The vehicle as it stands" if job.never_empty else "The empty vehicle"
        return Say(
            "{which} was not read on this datum, so nothing is predicted that these heights could be held against.",
            {"which": which},
        )
    stale = [names[key] for key, row in proof.rows.items() if any(r.stale for r in row)]
    if stale:
        return Say(
            "What was read in {stale} was read at another setting and is not judged: settle it and read again.",
            {"stale": ", ".join(stale)},
        )
    again = "." if job.never_empty else ", empty as well."
    return Say(
        "Nothing has been read since the kit was fitted. Settle it and walk round again{again}", {"again": again}
    )
