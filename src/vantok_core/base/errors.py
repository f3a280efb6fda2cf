"""The errors a technician can be shown: facts as attributes, the message made from them."""

from __future__ import annotations

from typing import TYPE_CHECKING

from vantok_core.base.names import PLACES

if TYPE_CHECKING:
    from vantok_core.base.say import Say
    from vantok_core.base.units import System


class VantokError(Exception):
    """Anything the core refuses. `field` names the thing, `str(error)` is fit to show."""

    def __init__(self, message: str, *, field: str = "") -> None:
        super().__init__(message)
        self.field = field


class InputError(VantokError, ValueError):
    """A figure that cannot be right: says which one, what came, and what was expected (a sentence where it has quantities in it,
    told in both systems: an error knows no reader)."""

    def __init__(self, field: str, value: object, expected: str | Say) -> None:
        plain = expected if isinstance(expected, str) else expected.in_both()
        given = f"{value:.6g}" if isinstance(value, float) else value
        super().__init__(f"{field}: {given!s} was given, but {plain}.", field=field)
        self.value = value
        self.expected = expected

    def in_units(self, system: System) -> str:
        """Return what was expected, as a sentence of its own in the reader's units: for a page that shows what came beside it."""
        told = self.expected if isinstance(self.expected, str) else self.expected.in_units(system)
        return f"{told[:1].upper()}{told[1:].removesuffix('.')}."


class UnitError(VantokError, ValueError):
    """A text that does not read as a quantity of the asked kind."""


class StateError(VantokError, ArithmeticError):
    """A load state that has no honest solution; names the state."""

    def __init__(self, state: str, message: str, *, field: str = "") -> None:
        super().__init__(f"State “{state}”: {message}", field=field or state)
        self.state = state


class NoEquilibriumError(StateError):
    """The equations of a state did not close to the required residual."""


class WheelOffGroundError(StateError):
    """A static wheel load came out below zero: the tyre would have to pull."""

    def __init__(self, state: str, wheel: str, load: float) -> None:
        super().__init__(
            state,
            f"the {PLACES.get(wheel, wheel)} wheel would have to pull; it would leave the ground. "
            "Check the loads, their places and the corner loads.",
            field=wheel,
        )
        self.wheel = wheel
        self.load = load


class UnstableBodyError(StateError):
    """The body would fall over: the overturning moment grows faster than the roll stiffness."""

    def __init__(self, state: str) -> None:
        super().__init__(
            state,
            "the body is not stable: leaning, it gains more overturning moment than the springs, bars and tyres "
            "give back. Check the height of the centre of mass and the roll stiffness.",
        )


def _pressure(pascal: float) -> str:
    return f"{pascal / 1e5:.2f}\u00a0bar ({pascal / 6894.757:.0f}\u00a0psi)"


class PressureLimitError(StateError):
    """A pressure past the air spring's hard limits."""

    def __init__(self, state: str, element: str, pressure: float, limit: float) -> None:
        side = "over the maximum" if pressure > limit else "under the minimum"
        super().__init__(
            state, f"{element} would need {_pressure(pressure)}, {side} of {_pressure(limit)}.", field=element
        )
        self.pressure = pressure
        self.limit = limit


class MixedDatumError(VantokError, ValueError):
    """Readings on different datums were about to be subtracted."""

    def __init__(self, one: str, other: str) -> None:
        super().__init__(
            f"A reading “{one}” cannot be compared with a reading “{other}”: they are taken from different places.",
            field="datum",
        )


class IncompatibleSpringError(VantokError, ValueError):
    """A part that this kind of spring cannot take."""


class FileFormatError(VantokError, ValueError):
    """A file that is not what it should be; `place` is the path of the faulty field, `reason` what is wrong there."""

    def __init__(self, place: str, message: str) -> None:
        super().__init__(f"{place}: {message}", field=place)
        self.place, self.reason = place, message
