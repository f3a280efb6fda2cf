"""What a bench found, handed on: to the kit on the job, its fitting card, the quote, or the tongue at Weigh."""

from __future__ import annotations

from collections.abc import Mapping

from django.utils import timezone
from simple_history.utils import update_change_reason

from vantok.desk.readings import stamp_loads, stamp_settings
from vantok.records.choose.models import Fitting
from vantok.records.jobs.models import Job
from vantok.records.weigh.models import LoadState
from vantok_core.base.errors import InputError
from vantok_core.facts.quote import MOST_LINES, QuoteLine, QuoteSheet
from vantok_core.kits.fit import kept_within
from vantok_core.kits.registry import family_of, read_kit


def handed(record: Job, bench: str, said: str, to: str, gives: Mapping[str, float]) -> str:
    """Hand an answer on, and return what was done besides keeping it, in words; gives: a setting by name (SI). Raises InputError where it cannot be."""
    if to == "quote":
        return _to_quote(record, bench, said)
    if to == "weigh":
        return _to_weigh(record, bench, gives)
    if to not in ("kit", "card"):
        return ""
    fitting = Fitting.objects.filter(job=record).last()
    if fitting is None:
        raise InputError("kit", bench, "there is no kit on the job to hand it to")
    if to == "card":
        return ", and the fitting card shows it"
    kit = read_kit(fitting.kit)
    spans = family_of(kit).spans(kit)
    told = kept_within(kit, {name: (value, value) for name, value in gives.items() if name in spans})
    if not told:
        return ", and Set shows it beside the kit"
    stamp_settings(record)
    fitting.setting = {**fitting.setting, **{name: list(pair) for name, pair in told.items()}}
    fitting.done = False
    fitting.save()
    update_change_reason(fitting, f"from the bench: {bench}"[:100])
    return ", and the kit is to be set so: confirm it on Set when it is done"


def _to_weigh(record: Job, bench: str, gives: Mapping[str, float]) -> str:
    """Enter a tongue that was weighed in the state that tows; heights read so far keep the load of then."""
    if TONGUE not in gives:
        raise InputError("tongue", bench, "this bench weighs no tongue")
    states = list(LoadState.objects.filter(job=record, empty=False))
    state = next((s for s in states if s.tongue_kg or s.trailer_kg or s.trailer_items.exists()), None)
    if state is None:
        raise InputError("tongue", bench, "no load state of the job tows anything: say at Weigh which does")
    stamp_loads(record, state)
    state.tongue_kg, state.changed_at = round(gives[TONGUE], 1), timezone.now()
    state.save()
    return f", and the tongue of “{state.name}” is entered at Weigh"


TONGUE = "tongue_kg"


def _to_quote(record: Job, bench: str, said: str) -> str:
    """Add a line to the quote whose price is still to be said."""
    if not record.quote:
        raise InputError("quote", bench, "there is no quote yet: make one on Choose first")
    sheet = QuoteSheet.model_validate(record.quote)
    if len(sheet.lines) >= MOST_LINES:
        raise InputError("quote", bench, f"a quote has {MOST_LINES} lines at most")
    line = QuoteLine(kind="work", what=f"{bench}: {said}"[:120], why="fix_first")
    told = sheet.model_copy(update={"lines": (*sheet.lines, line), "answer": "", "answered": "", "by": ""})
    record.quote = told.model_dump(mode="json", exclude_none=True)
    record.save()
    return ", and the quote has a line for it, not priced yet"
