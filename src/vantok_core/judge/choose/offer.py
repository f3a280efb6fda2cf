"""What a quote is made of: the kits' parts and work, what must be cured first, and what the customer wishes besides.

Source: method section 17. What nobody has priced stays open and is said to be: it is never nought.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from vantok_core.base.say import Say
from vantok_core.facts import Job, Kit
from vantok_core.facts.quote import QuoteLine, QuoteSheet
from vantok_core.judge.listen.inspect import AREAS
from vantok_core.kits.quote import RESERVE, SECOND_SIDE, Labour, Part, Quote, quote
from vantok_core.kits.registry import family_of
from vantok_core.upkeep.learning import Taught


def lines_for(job: Job, kits: Sequence[Kit], hours: Mapping[str, Taught] | None = None) -> tuple[QuoteLine, ...]:
    """Return the lines of a job with some kits: faults first, then each kit as part and work, what must come off once, then wishes.

    Arguments: hours: what the shop's own finished cards taught of a kit's, by code.
    """
    found = [
        _of_area(one.area, one.note, "fix_first") for one in job.inspection if one.now == "fault" and not one.overruled
    ]
    access: dict[str, float] = {}
    for kit in kits:
        sides = 2 if family_of(kit).both_sides else 1
        taught = (hours or {}).get(kit.code)
        in_all = kit.hours * (taught.factor if taught else 1.0)
        own = max(in_all - sum(kit.access.values()), 0.0) / (1.0 + SECOND_SIDE if sides == 2 else 1.0)
        found.append(QuoteLine(kind="part", what=kit.name, amount=1.0, price=kit.price))
        found.append(QuoteLine(kind="work", what=f"fit {kit.name}"[:120], amount=own, sides=2 if sides == 2 else 1))
        for name, each in kit.access.items():
            access[name] = max(access.get(name, 0.0), each)
    found += [QuoteLine(kind="access", what=name, amount=each) for name, each in access.items()]
    if kits:
        found.append(QuoteLine(kind="consumables", what="consumables"))
    return (*found, *(_of_area(one.area, one.note, "wish") for one in job.inspection if one.grade == "wish"))


def _of_area(area: str, note: str, why: str) -> QuoteLine:
    """Return a line for an area of the inspection, with nothing priced yet."""
    words = AREAS[area].words.split(":")[0] if area in AREAS else area.replace("_", " ")
    return QuoteLine(
        kind="work", what=f"{words}: {note}"[:120] if note else words, why="wish" if why == "wish" else "fix_first"
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class Offer:
    """A quote's sums, of the lines the customer has not said no to; open: lines nobody has priced, which are in no sum; lines: each with
    what it comes to before tax (None: not priced); told: what the customer is told of it; said: what the shop is told besides."""

    sums: Quote
    open: tuple[QuoteLine, ...]
    lines: tuple[tuple[QuoteLine, float | None], ...]
    told: tuple[Say, ...]
    said: tuple[Say, ...]


def offer(sheet: QuoteSheet) -> Offer:
    """Return what a quote comes to. Source: method section 17."""
    wanted = [line for line in sheet.lines if line.answer != "no"]
    unpriced = tuple(line for line in wanted if _unpriced(line))
    return Offer(
        sums=_sums(sheet, [line for line in wanted if not _unpriced(line)]),
        open=unpriced,
        lines=tuple((line, None if _unpriced(line) else _comes_to(sheet, line)) for line in sheet.lines),
        told=tuple(_told(unpriced)),
        said=tuple(_said(sheet)),
    )


def _sums(sheet: QuoteSheet, lines: Sequence[QuoteLine]) -> Quote:
    """Return what priced lines come to."""
    by: dict[str, list[tuple[QuoteLine, float, float]]] = {"part": [], "work": [], "access": [], "consumables": []}
    for line in lines:
        by[line.kind].append((line, line.amount or 0.0, line.price or 0.0))
    work = [Labour(name=line.what, hours=hours, sides=line.sides) for line, hours, _ in by["work"]]
    off = [Labour(name=line.what, hours=0.0, sides=1, access={line.what: hours}) for line, hours, _ in by["access"]]
    return quote(
        [Part(price=price, count=count) for _, count, price in by["part"]],
        [*work, *off],
        rate=sheet.rate,
        reserve_share=RESERVE[sheet.corrosion],
        tax=sheet.tax,
        consumables=sum(price for _, _, price in by["consumables"]),
    )


def _unpriced(line: QuoteLine) -> bool:
    if line.kind == "part":
        return line.price is None or line.amount is None
    return line.price is None if line.kind == "consumables" else line.amount is None


def _comes_to(sheet: QuoteSheet, line: QuoteLine) -> float:
    """Return what a priced line comes to before tax, in the shop's currency: the second side of a work counts as in the sums."""
    amount, price = line.amount or 0.0, line.price or 0.0
    if line.kind in ("part", "consumables"):
        return price * amount if line.kind == "part" else price
    return sheet.rate * amount * (1.0 + SECOND_SIDE if line.kind == "work" and line.sides == 2 else 1.0)


def _told(unpriced: Sequence[QuoteLine]) -> list[Say]:
    if not unpriced:
        return []
    return [
        Say(
            "Not in the sum, since nobody has priced it yet: {unpriced}.",
            {"unpriced": "; ".join(line.what for line in unpriced)},
        )
    ]


def _said(sheet: QuoteSheet) -> list[Say]:
    found = []
    refused = [line.what for line in sheet.lines if line.why == "fix_first" and line.answer == "no"]
    if refused:
        text = "The customer does not want cured what must be cured first"
        found.append(
            Say(
                "{text}: {refused}. Nothing is fitted on top of it unless the lead overrules it with a reason.",
                {"text": text, "refused": "; ".join(refused)},
            )
        )
    if sheet.corrosion == "none":
        found.append(Say("No reserve for stuck fasteners: say how they look underneath, and the quote is a range."))
    return found
