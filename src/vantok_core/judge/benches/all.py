"""Every bench, in the order they stand on the page."""

from __future__ import annotations

from vantok_core.judge.benches import air, bar, damper, insert, leaf, stabilizer, thread, tongue, tyre, valves, yaw
from vantok_core.judge.benches.bench import Bench

BENCHES: dict[str, Bench] = {
    one.key: one
    for one in (
        leaf.BENCH,
        air.BENCH,
        insert.BENCH,
        damper.BENCH,
        valves.BENCH,
        bar.BENCH,
        stabilizer.BENCH,
        tyre.BENCH,
        tongue.BENCH,
        yaw.BENCH,
        thread.BENCH,
    )
}
