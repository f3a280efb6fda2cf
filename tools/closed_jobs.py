"""Write the demo's closed jobs of three years: vehicles drawn from life, read, fitted and read again by the practice bay's best run, and what each taught.

Run it again only when the models change what a job teaches: `python3 -m tools.closed_jobs`.
"""

from __future__ import annotations

import json
from datetime import date, timedelta
from math import log
from pathlib import Path
from typing import Any

import numpy as np

from vantok.shop.starter_kits import KITS
from vantok_core.base.errors import VantokError
from vantok_core.judge.prove.proving import prove
from vantok_core.kits.family import KIT_ELEMENT
from vantok_core.kits.registry import family_of, read_kit
from vantok_core.kits.staged import at_other_settings, refitted, staged
from vantok_core.kits.target import target_state
from vantok_core.model import build_model
from vantok_core.physics.vehicle import AXLES
from vantok_core.practice.bay.scripted import best_run
from vantok_core.practice.bay.templates import case_by_code
from vantok_core.upkeep.lessons import class_of, rates_told, strength_told

OUT = Path(__file__).resolve().parent.parent / "src" / "vantok" / "demo" / "closed.json"
COUNT, FIRST, DAYS = 60, date(2023, 11, 20), 17
FACTS = (
    "body",
    "wheelbase_m",
    "hitch_overhang_m",
    "track_front_m",
    "track_rear_m",
    "front_spring",
    "rear_spring",
    "tyres",
    "year",
)
RATINGS = ("front_axle_kg", "rear_axle_kg", "gross_kg")


def closed(seed: int, shelf: list[Any], rng: np.random.Generator) -> dict[str, Any] | None:
    """Return a closed job by its seed; None for a case that ends without a kit that lifts."""
    case = case_by_code(f"G-{seed}")
    run = best_run(case, shelf)
    fitting = run.job.fitting
    if fitting is None or not family_of(fitting.kit).lifts:
        return None
    model = build_model(run.job)
    before = staged(model)
    proof = prove(at_other_settings(before))
    if proof is None:
        return None
    usual = {class_of(run.job, a): float(model.prior.axle(a).spring.k + model.prior.axle(a).spring.k2) for a in AXLES}
    v = run.job.vehicle
    kind = f"{v.body} {v.rear_spring}"
    lessons = [
        ["rate", one.key, round(one.value, 4), round(one.sigma, 4), round(usual[one.key])] for one in rates_told(model)
    ]
    strength = strength_told(refitted(before, fitting), KIT_ELEMENT, "", fitting.kit.strength_sigma)
    if strength is not None:
        lessons.append(
            ["strength", f"{fitting.kit.code} on {kind}", round(strength.value, 4), round(strength.sigma, 4), 1.0]
        )
    factor = float(np.exp(rng.normal(0.12, 0.18)))
    lessons.append(["hours", f"{fitting.kit.code} on {kind}", round(log(factor), 4), 0.0, fitting.kit.hours])
    cause = case.causes[0]
    if cause in ("tired", "behind", "side", "struck", "overload"):
        lessons.append(["cause", f"{case.complaint} {cause}", 0.0, 0.0, 0.0])
    rows = proof.rows.get(target_state(model), ())
    return {
        "vehicle": {n: _plain(getattr(v, n)) for n in (*FACTS, *RATINGS)},
        "complaint": case.complaint,
        "words": case.told.words,
        "code": fitting.kit.code,
        "klass": class_of(run.job, "front" if fitting.kit.axle == "front" else "rear"),
        "lessons": lessons,
        "foretold": [
            [r.corner, round(r.predicted.value, 4), round(r.read, 4), round(r.predicted.band, 4)]
            for r in rows
            if r.read is not None
        ],
    }


def _plain(value: Any) -> Any:
    """Return a fact as somebody would have typed it."""
    return round(value, 2) if isinstance(value, float) else value


def main() -> None:
    """Write them."""
    shelf, rng, found = [read_kit(data) for data in KITS], np.random.default_rng(2023), list[dict[str, Any]]()
    seed = 100
    while len(found) < COUNT:
        seed += 1
        try:
            one = closed(seed, shelf, rng)
        except VantokError:
            continue  # a vehicle whose sheet cannot be worked out: another is drawn
        if one is not None:
            found.append(
                one | {"closed": (FIRST + timedelta(days=DAYS * len(found) + int(rng.integers(9)))).isoformat()}
            )
    OUT.write_text("[\n" + ",\n".join(json.dumps(one) for one in found) + "\n]\n", encoding="utf-8")
    print(f"{len(found)} closed jobs, {OUT.stat().st_size // 1024} KB")


if __name__ == "__main__":
    main()
