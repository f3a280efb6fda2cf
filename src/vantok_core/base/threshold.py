"""A figure from which something is said, with its kind, where it comes from and why it is this one; each room of judgement has them in one table."""

from __future__ import annotations

from vantok_core.base.units import SHOWN, UNITS, System, show


class Threshold(float):
    """A figure (SI) that is used like any other, and can be read: `kind` of `base.units`, or the unit itself where readers' units are alike."""

    kind: str
    source: str
    why: str

    def __new__(cls, value: float, kind: str, source: str, why: str) -> Threshold:
        """Return the figure. value: SI."""
        one = super().__new__(cls, value)
        one.kind, one.source, one.why = kind, source, why
        return one

    def __reduce__(self) -> tuple[type[float], tuple[float]]:
        """Copy as the plain figure: what is reckoned with it is no threshold."""
        return float, (float(self),)

    @property
    def words(self) -> str:
        """It with its unit, in both of the trade's systems where they differ."""
        if self.kind == "ratio":
            return f"× {float(self):g}"
        if self.kind == "percent":
            return f"{100.0 * self:g}\u00a0%"
        told = [self._in(system) for system in SYSTEMS] if self.kind in SHOWN else [f"{float(self):g}\u00a0{self.kind}"]
        return " or ".join(dict.fromkeys(told))

    def _in(self, system: System) -> str:
        """Return it as the system shows it; finer where that would round more than a tenth of it off."""
        unit, digits = SHOWN[self.kind][system]
        size, step = float(self) / UNITS[self.kind][unit], TAPE if unit == "in" and not digits else 10.0**-digits
        return (
            show(self.kind, self, system)
            if step / 2.0 <= size / 10.0
            else f"{size:.2g}{'' if unit == '°' else SPACE}{unit}"
        )


TAPE, SPACE = 1.0 / 16.0, "\u00a0"
"""What inches are shown to, and what stands before a unit."""
SYSTEMS: tuple[System, ...] = ("metric", "us")
