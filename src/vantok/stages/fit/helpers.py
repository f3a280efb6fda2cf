"""Small helps at the card: the same clamp in another thread state, the washers that fill a bracket, which thread a bolt is."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from vantok.desk.stage import StageView
from vantok_core.base.errors import InputError, UnitError
from vantok_core.base.say import Quantity, Say, length
from vantok_core.base.units import UNITS, parse
from vantok_core.benches.air import air_line
from vantok_core.benches.thread import NUT_FACTORS, find_thread, torque_in_state, washers

STATES = {"dry": "dry", "oiled": "oiled", "locker": "with locker, wet", "anti_seize": "with anti-seize"}


class Helpers(StageView):
    """The helps, each a form whose answer stands below it."""

    stage = "fit"

    def get_template_names(self) -> list[str]:
        """Return their page."""
        return ["fit/helpers.html"]

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add what was asked and what it comes to."""
        told = {
            name: self.request.GET.get(name, "").strip()
            for name in (
                "t",
                "d",
                "from",
                "to",
                "bracket",
                "bush",
                "stock",
                "over",
                "pitch",
                "tpi",
                "route",
                "travel",
                "hot",
            )
        }
        return super().get_context_data(
            told=told, states=STATES.items(), torque=self._answer(self._torque, told, "t", "d"),
            washers=self._answer(self._washers, told, "bracket", "bush", "stock"),
            thread=self._answer(self._thread, told, "over"), line=self._answer(self._line, told, "route", "travel"), **kwargs,
        )  # fmt: skip

    def _answer(
        self, work: Callable[[dict[str, str]], list[Say]], told: dict[str, str], *needed: str
    ) -> dict[str, Any]:
        """Return what a help comes to, or what is wrong with what was asked; nothing while something is not entered."""
        if not all(told[name] for name in needed):
            return {}
        try:
            return {"said": work(told)}
        except UnitError as error:
            return {"wrong": str(error)}
        except InputError as error:
            return {"wrong": str(error)}

    def _length(self, text: str) -> float:
        return parse("length", text, self.units).value

    def _torque(self, told: dict[str, str]) -> list[Say]:
        first, other = (told[name] if told[name] in NUT_FACTORS else "dry" for name in ("from", "to"))
        found = torque_in_state(parse("torque", told["t"], self.units).value, self._length(told["d"]), first, other)
        values = {
            "clamp": Quantity(found.clamp, "force"),
            "torque": Quantity(found.torque, "torque"),
            "wrong": Quantity(found.clamp_at_table_torque, "force"),
        }
        said = [
            Say(f"The table means a clamp of {{clamp}} {STATES[first]}; {STATES[other]} that takes {{torque}}.", values)
        ]
        if found.warn:
            said.append(
                Say(
                    "The table's figure in that state would clamp {wrong}. The maker's figure stands for the maker's state: ask before another is used.",
                    values,
                )
            )
        return said

    def _washers(self, told: dict[str, str]) -> list[Say]:
        stock = []
        for one in told["stock"].replace(";", ",").split(","):
            thick, _, count = one.partition("x")
            stock.append((self._length(thick.strip()), int(count) if count.strip().isdigit() else 4))
        found = washers(self._length(told["bracket"]), self._length(told["bush"]), stock)
        values = {"gap": length(found.gap), "play": Quantity(1000.0 * found.play, "ratio"), "l": Quantity(1000.0 * found.left, "ratio"),
                  "r": Quantity(1000.0 * found.right, "ratio")}  # fmt: skip
        return [
            Say(
                f"{found.count} washers: {{l}} mm on one side, {{r}} mm on the other; {{play}} mm of play is left.",
                values,
            )
        ]

    def _line(self, told: dict[str, str]) -> list[Say]:
        hot = self._length(told["hot"]) if told["hot"] else 0.0
        found = air_line(self._length(told["route"]), self._length(told["travel"]), hot=hot)
        values = {"length": length(found.length), "travel": length(self._length(told["travel"]))}
        return [
            Say(
                f"Cut {{length}}: the route and {{travel}} of slack for the axle's full travel; {found.ties} ties.",
                values,
            ),
            Say(
                "Off the bag's top, clear of exhaust, shaft and sharp edges; the valve where a hand reaches it, out of stones and of the towing gear's way."
            ),
        ]

    def _thread(self, told: dict[str, str]) -> list[Say]:
        if told["tpi"]:
            turns = parse("count", told["tpi"], self.units).value
            pitch = UNITS["length"]["in"] / turns if turns > 0 else 0.0
        else:
            pitch = self._length(told["pitch"]) if told["pitch"] else 0.0
        found = find_thread(self._length(told["over"]), pitch)
        if found.runner_up != "none":
            return [Say(f"{found.name}. It might be {found.runner_up} too: measure again.")]
        doubt = "" if found.sure else " Measure again: it is near, not sure."
        return [Say(f"{found.name}.{doubt}")]
