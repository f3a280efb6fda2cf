"""A kit as it is typed: what every kit has, its family's own data, its curves and tables row by row."""

from __future__ import annotations

import types
from collections.abc import Callable
from copy import deepcopy
from typing import Any, Literal, Union, get_args, get_origin

from django import forms
from django.core.exceptions import ValidationError

from vantok.fields.money import NumberField
from vantok.fields.quantity import QuantityField, UnitsForm
from vantok_core.base.errors import FileFormatError
from vantok_core.base.units import System
from vantok_core.facts import Job, Kit
from vantok_core.facts.classes import SPRINGS
from vantok_core.files.kits_file import RESERVED
from vantok_core.kits.curves import read_so_far, read_typed, written
from vantok_core.kits.registry import FAMILIES, read_kit
from vantok_core.kits.sheet import (
    care_written,
    fasteners_written,
    read_care,
    read_fasteners,
    read_steps,
    steps_written,
)
from vantok_core.procedure.card import Card, card
from vantok_core.procedure.prover import faults

KINDS = {
    "_n_per_m": "rate",
    "_nm_per_rad": "roll_stiffness",
    "_ns_per_m": "damping",
    "_m": "length",
    "_n": "force",
    "_pa": "pressure",
    "_kg": "mass",
}
"""What a field's name ends in, and its kind of quantity."""
UNKNOWN = (("", "nobody has said"), ("yes", "yes"), ("no", "no"))
GENERAL: dict[str, Any] = {
    "name": forms.CharField(label="Name", max_length=120),
    "maker": forms.CharField(label="Maker", max_length=120, required=False),
    "axle": forms.ChoiceField(label="Axle", choices=(("rear", "rear"), ("front", "front"))),
    "springs": forms.MultipleChoiceField(
        label="Goes with", choices=[(key, s.words) for key, s in SPRINGS.items()], widget=forms.CheckboxSelectMultiple
    ),
    "gross_min_kg": QuantityField("mass", label="Vehicle gross, from"),
    "gross_max_kg": QuantityField("mass", label="Vehicle gross, to"),
    "axle_max_kg": QuantityField("mass", label="Heaviest axle it may stand on"),
    "rated_kg": QuantityField("mass", label="What its maker rates the pair to press with"),
    "side_space_m": QuantityField("length", label="Room it needs beside the tyre"),
    "price": NumberField(label="Price of the kit", most=1e6, required=True),
    "hours": NumberField(label="Hours, both sides, with what comes off", most=200.0, required=True),
    "upkeep_per_year": NumberField(label="Upkeep a year", most=1e5),
    "life_years": NumberField(label="Lasts, years", most=60.0),
    "drilling": forms.ChoiceField(label="Frame or axle drilled", choices=UNKNOWN, required=False),
    "reversible": forms.ChoiceField(label="Comes off without a trace", choices=UNKNOWN, required=False),
    "settling_m": QuantityField("length", label="Settles afterwards by"),
    "mass_kg": QuantityField("mass", label="Its heaviest piece weighs"),
    "maker_data": forms.ChoiceField(
        label="Its data are", choices=(("yes", "its maker’s"), ("no", "taken from a like kit: wide band"))
    ),
    "access": forms.CharField(
        label="What must come off first, with hours: a line each, like “wheels: 0.5”",
        widget=forms.Textarea,
        required=False,
    ),
    "year_from": NumberField(label="Made for model years, from", most=2100.0),
    "year_to": NumberField(label="to", most=2100.0),
    "hardware": forms.CharField(
        label="What the vehicle must have, as one looks for it, a line each", widget=forms.Textarea, required=False
    ),
    "prerequisites": forms.CharField(label="What it needs first, a line each", widget=forms.Textarea, required=False),
    "contents": forms.CharField(label="In the box, a line each", widget=forms.Textarea, required=False),
    "fasteners": forms.CharField(
        label="Fasteners, a line each: name; how many; torque or “by feel”; then oiled or locker, at ride height, crosswise, 2 stages",
        widget=forms.Textarea,
        max_length=6000,
        required=False,
    ),
    "steps": forms.CharField(
        label="Steps, an empty line between; below the words of one: on its wheels, on stands or at ride height; once for both sides; "
        "cannot be undone; one side at a time; body or axle moves; tightens: …; opens: …; closes: …; air: out, the minimum, working; "
        "spring: relieved, let go of, carries again; trial: dry, read; caution: …; check: …; if it fails: …. Left empty: the usual ones.",
        widget=forms.Textarea,
        max_length=30_000,
        required=False,
    ),
    "care": forms.CharField(
        label="Looked at later, a line each: what; 3 months; 80 km",
        widget=forms.Textarea,
        max_length=2000,
        required=False,
    ),
    "notes": forms.CharField(label="Notes", widget=forms.Textarea, max_length=2000, required=False),
    "claims": forms.CharField(label="What its label claims (kept apart, never used)", max_length=500, required=False),
}
WORDS = {
    "longer_m": "Reaches further than the stop by",
    "gap_min_m": "Smallest gap",
    "gap_max_m": "Largest gap",
    "contact": "May stand in contact",
    "screw_in": "Screws into the stop’s captive nut",
    "points": "Curve",
    "loads_n": "Load table",
    "preloads_n": "Holes",
    "clicks": "Clicks",
    "stiffness_nm_per_rad": "Holes",
    "p_min_pa": "Lowest pressure",
    "p_max_pa": "Highest pressure",
    "pad_min_m": "Pad to pad, least",
    "pad_max_m": "Pad to pad, most",
    "volume_m3": "Air of one bag, m³",
    "volume_at_m": "at a height of",
    "line": "Line",
    "shape": "Shape",
    "diameter_m": "Diameter of a bag in a coil",
    "rate_n_per_m": "Rate of one",
    "preload_n": "Preload at its least",
    "per_step_n": "More with each step",
    "steps_max": "Steps at most",
    "by": "Set by",
    "arch_m": "Free arch over the pack",
    "width_min_m": "Leaf, narrowest",
    "width_max_m": "Leaf, widest",
    "load_at_height_n": "Carries at the old height",
    "second_rate_n_per_m": "Second stage, rate",
    "second_at_m": "Second stage begins below by",
    "bush_m": "Eye, width",
    "stroke_m": "Stroke",
    "moment_nm": "Moment about the ball",
    "damping_ns_per_m": "Damping",
    "centring": "Pulls back to the centre",
    "rack": "Listed for racks",
    "shut_m": "Length shut",
    "open_m": "Length open",
    "share_max": "Gives back at most, share",
    "replaces_bar": "The factory’s bar comes off",
    "shift_max_m": "Lift at most",
    "per_turn_m": "Lift a turn",
    "blocked_coils": "Windings blocked",
    "holds_m": "Holds the windings apart by",
    "insert_rate_n_per_m": "Its own rate (none: rigid)",
}
"""What the families' own data are called where the name alone would not do."""
MOST_TYPED = 20_000
"""Letters of a curve that are plotted while they are typed."""
TYPED = ("fasteners", "steps", "care")
"""What is typed of a kit's sheet."""
LINES = ("prerequisites", "contents", "hardware")
YEARS = ("year_from", "year_to")
THREE = ("drilling", "reversible")


def not_reserved(code: str) -> None:
    """Raise ValidationError for a code that is an address of the shelf's own."""
    if code.lower() in RESERVED:
        raise ValidationError(f"“{code}” is a page of the shelf: give the kit another code.")


class KitForm(UnitsForm):
    """A kit as it is typed. `made` is the kit once the form holds; a fault of its data stands at the field it belongs to."""

    def __init__(self, *args: Any, family: str, kit: Kit | None, **kwargs: Any) -> None:
        self.family, self.kit = FAMILIES[family], kit
        self.made: Kit | None = None
        self.told_in: System = kwargs.get("units", "metric")
        super().__init__(*args, initial=self._told() if kit else {"maker_data": "yes", "axle": "rear"}, **kwargs)

    @property
    def _ticks(self) -> tuple[str, ...]:
        """The family's own data that are yes or no."""
        return tuple(name for name, info in self.family.data.model_fields.items() if info.annotation is bool)

    def _told(self) -> dict[str, Any]:
        """Return what the fields show of the kit there is."""
        assert self.kit is not None
        told = {
            name: value
            for name, value in (self.kit.model_dump() | self.family.of(self.kit).model_dump()).items()
            if not isinstance(value, (dict, tuple, list))
        }
        told |= {
            name: {True: "yes", False: "no"}.get(told[name], "")
            for name in (*THREE, "maker_data", *self._ticks)
            if name in told
        }
        told |= {name: "\n".join(getattr(self.kit, name)) for name in LINES}
        told["springs"] = list(self.kit.springs)
        told |= dict(zip(YEARS, self.kit.years or (), strict=False))
        told |= {
            "fasteners": fasteners_written(self.kit.fasteners, self.told_in),
            "steps": steps_written(self.kit.steps),
            "care": care_written(self.kit.care),
        }
        told["access"] = "\n".join(f"{name}: {hours:g}" for name, hours in self.kit.access.items())
        return told | {name: written(self.kit, name, typed, self.told_in) for name, typed in self.family.typed.items()}

    def settle(self) -> None:
        """Make the fields: those of every kit, then the family's own."""
        if self.kit is None:
            self.fields["code"] = forms.SlugField(
                label="Code",
                max_length=40,
                help_text="Letters, figures, dashes; it names the kit for good.",
                error_messages={"invalid": "Letters, figures, - and _ only, please."},
                validators=[not_reserved],
            )
        for name, field in GENERAL.items():
            self.fields[name] = deepcopy(field)
        edges = {edge for typed in self.family.typed.values() for edge in typed.with_}
        for name, info in self.family.data.model_fields.items():
            if name not in edges:
                self.fields[name] = self._own_field(name, info.annotation, required=info.is_required())
        for name, field in self.fields.items():
            curve = name in self.family.typed or name in TYPED
            if isinstance(field.widget, forms.Textarea):
                field.widget.attrs |= {
                    "class": "form-control typed" if curve else "form-control",
                    "rows": 7 if curve else 2,
                }
            elif not isinstance(field.widget, (forms.CheckboxInput, forms.CheckboxSelectMultiple)):
                field.widget.attrs.setdefault(
                    "class", "form-select" if isinstance(field, forms.ChoiceField) else "form-control"
                )
        super().settle()

    def _own_field(self, name: str, kind: Any, *, required: bool) -> forms.Field:
        """Return the field of one of the family's own data, by its type and the ending of its name."""
        words = words_of(name)
        if name in self.family.typed:
            columns = "; ".join(w for w, _ in self.family.typed[name].columns)
            return forms.CharField(label=f"{words}: a row a line ({columns})", widget=forms.Textarea, required=required)
        bare = (
            next((a for a in get_args(kind) if a is not type(None)), kind)
            if get_origin(kind) in (Union, types.UnionType)
            else kind
        )
        while get_origin(bare) is not None and get_origin(bare) is not Literal and get_args(bare):
            bare = get_args(bare)[0]
        if get_origin(bare) is Literal:
            return forms.ChoiceField(
                label=words, choices=[(v, str(v).replace("_", " ")) for v in get_args(bare)], required=required
            )
        if bare is bool:
            return forms.ChoiceField(label=words, choices=(("no", "no"), ("yes", "yes")), required=False)
        for ending, quantity in KINDS.items():
            if name.endswith(ending):
                return QuantityField(quantity, label=words, required=required, negative=True)
        return NumberField(label=words, most=1e6, required=required)

    def clean(self) -> dict[str, Any]:
        """Make the kit of what was typed; what cannot be stands at its field."""
        data = super().clean() or {}
        if self.errors:
            return data
        try:
            self.made = read_kit(self._entry(data))
        except FileFormatError as error:
            self._place(error)
            return data
        for fault in proved(self.made):
            self.add_error("steps", fault)
        return data

    @property
    def so_far(self) -> dict[str, Any]:
        """The points of its curves and tables as far as they are typed (SI)."""
        found: dict[str, Any] = {}
        for name, typed in self.family.typed.items():
            found |= read_so_far(str(self.data.get(name, ""))[:MOST_TYPED], name, typed, self.told_in)
        return found

    def _place(self, error: FileFormatError) -> None:
        """Put what is wrong with the kit at the field it names, by its place or by the words it begins with; else at the head of the form."""
        place = error.place.removeprefix("kit.").split(".")[0].split(",")[0]
        named, _, rest = error.reason.partition(": ")
        if place not in self.fields and named in self.fields:
            self.add_error(named, rest.rpartition(" was given, but ")[2])
        else:
            self.add_error(place if place in self.fields else None, _at(error))

    def _entry(self, data: dict[str, Any]) -> dict[str, Any]:
        """Return the catalogue entry of what was typed. Raises FileFormatError naming the field."""
        before = (
            self.kit.model_dump(mode="json", exclude_none=True)
            if self.kit
            else {"family": self.family.key, "code": data["code"]}
        )
        entry = dict(before)
        for name in self.fields.keys() - {"code"}:
            if self.kit is not None and name not in self.touched:
                continue  # as it stood, to the last digit
            value = data.get(name)
            if name in self.family.typed:
                entry |= read_typed(value or "", name, self.family.typed[name], self.told_in)
            elif name in LINES:
                entry[name] = _lines(value)
            elif name in SHEET:
                entry[name] = SHEET[name](value or "", self.told_in)
            elif name in YEARS:
                entry["years"] = _years(data)
            elif name in (*THREE, "maker_data", *self._ticks):
                entry[name] = {"yes": True, "no": False}.get(value or "")
            else:
                entry[name] = value
        return {"maker": ""} | {name: value for name, value in entry.items() if value not in (None, "")}


def words_of(name: str) -> str:
    """Return what a field is called: its name without its unit."""
    if name in WORDS:
        return WORDS[name]
    ending = next((e for e in KINDS if name.endswith(e)), "")
    return name.removesuffix(ending).replace("_", " ").capitalize()


def _at(error: FileFormatError) -> str:
    """Return what is wrong at a field, with the row where there is one."""
    row = error.place.partition(", ")[2]
    return f"{row.capitalize()}: {error.reason}" if row else error.reason


def _years(data: dict[str, Any]) -> list[int] | None:
    """Return the years as typed, none where neither is. Raises FileFormatError for one without the other, or a part of a year."""
    first, last = (data.get(name) for name in YEARS)
    if first is None and last is None:
        return None
    if first is None or last is None or first % 1 or last % 1:
        raise FileFormatError("year_from", "both years in four figures, or neither")
    return [int(first), int(last)]


def _lines(text: str | None) -> list[str]:
    return [line.strip() for line in (text or "").splitlines() if line.strip()]


def _hours(text: str | None) -> dict[str, float]:
    """Return what must come off with its hours. Raises FileFormatError for a line without them."""
    found = {}
    for n, line in enumerate(_lines(text), 1):
        name, _, hours = line.rpartition(":")
        try:
            found[name.strip()] = float(hours.strip().removesuffix("h").replace(",", "."))
        except ValueError:
            raise FileFormatError(f"access, row {n}", f"“{line}” needs a name, a colon and hours") from None
    return found


def proved(kit: Kit) -> list[str]:
    """Return what of a kit's own steps makes a card that cannot be followed, each at its step."""
    made = card(Job(number="1"), kit) if kit.steps else None
    found = dict.fromkeys((f.rule, f.words, _numbered(made, f.key)) for f in faults(made)) if made else {}
    return [f"{where}{words}" for _, words, where in found]


def _numbered(made: Card, key: str) -> str:
    """Return where a fault of a card stands: at which of the kit's own steps, or at a gate between them."""
    if key.startswith("kit-"):
        return f"Step {int(key.split('-')[1]) + 1}: "
    step = made.step(key)
    return f"At the gate “{step.words}” " if step is not None and step.gate else ""


SHEET: dict[str, Callable[[str, System], Any]] = {
    "access": lambda text, _: _hours(text),
    "fasteners": read_fasteners,
    "steps": lambda text, _: read_steps(text),
    "care": lambda text, _: read_care(text),
}
"""What is typed line by line of a kit's sheet, and how each is read."""
