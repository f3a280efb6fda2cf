"""Every bench, in the order they stand on the page."""

from __future__ import annotations

from vantok_core.judge.benches import air, bar, damper, leaf, stabilizer, thread, tyre
from vantok_core.judge.benches.bench import Bench

BENCHES: dict[str, Bench] = {
    one.key: one for one in (leaf.BENCH, air.BENCH, damper.BENCH, bar.BENCH, stabilizer.BENCH, tyre.BENCH, thread.BENCH)
}
