"""The practice bay's own instruments: simulated ones under the case's vehicle, live like any other, for its job alone."""

from __future__ import annotations

import time
from collections.abc import Mapping

from django.utils import timezone

from vantok.desk.practising import on_scales
from vantok.instruments.simulated import Bench
from vantok.records.instruments.models import Instrument
from vantok.wire.line import Reading

FIRST = 10**12
"""The bay's instruments are in no table: their ids begin here."""
KINDS = ("PADS", "TONGUE")
NAMES = {"PADS": "Pads under the practice vehicle", "TONGUE": "Tongue scale of the bay"}
OF_THE_BAY = tuple(Instrument(pk=FIRST + n, name=NAMES[kind], kind=kind, url="") for n, kind in enumerate(KINDS))


def latest_of(job_id: int) -> Mapping[str, dict[str, Reading]] | None:
    """Return what each of the bay's instruments reads now, by kind and channel; None for a job of the shop's."""
    found = on_scales(job_id)
    if found is None:
        return None
    age = max((timezone.now() - found.since).total_seconds(), 0.0)
    now = time.monotonic()
    bench = Bench(pads=found.pads, tongue=found.tongue, seed=job_id, started=now - age)
    read: dict[str, dict[str, Reading]] = {kind: {} for kind in KINDS}
    for one in bench.readings(now):
        if one.kind in read:
            read[one.kind][one.channel] = one
    return read
