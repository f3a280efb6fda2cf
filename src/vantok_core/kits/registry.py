"""The families of kits there are, and kits read by them. To add a family, write its module and list it here."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from pydantic import ValidationError

from vantok_core.base.check import in_words, read_form
from vantok_core.base.errors import FileFormatError
from vantok_core.facts import Kit
from vantok_core.kits.families import (
    added_leaf,
    air_spring,
    anti_roll_bar,
    coil_assist,
    coil_block,
    damper,
    helper_leaf,
    hitch_damper,
    insert,
    replacement_spring,
    rubber_shackle,
    steering_stabilizer,
    torsion_adjuster,
    weight_hitch,
)
from vantok_core.kits.family import Family

FAMILIES: Mapping[str, Family[Any]] = {
    module.FAMILY.key: module.FAMILY
    for module in (
        air_spring,
        insert,
        helper_leaf,
        coil_assist,
        added_leaf,
        coil_block,
        replacement_spring,
        rubber_shackle,
        torsion_adjuster,
        anti_roll_bar,
        steering_stabilizer,
        hitch_damper,
        damper,
        weight_hitch,
    )
}


SETTINGS = {field.name: field for family in FAMILIES.values() for field in family.settings}
"""What kits are set by, by name."""


def family_of(kit: Kit) -> Family[Any]:
    """Return a kit's family. Raises FileFormatError for one this program does not know."""
    found = FAMILIES.get(kit.family)
    if found is None:
        raise FileFormatError(
            "kit.family", f"“{kit.family}” is no family this program knows; known are {', '.join(FAMILIES)}"
        )
    return found


def checked(kit: Kit, place: str = "kit") -> Kit:
    """Return a kit whose own data its family has read. Raises FileFormatError naming the place (like `kit.points`)."""
    if kit.family not in FAMILIES:
        raise FileFormatError(
            f"{place}.family", f"“{kit.family}” is no family this program knows; known are {', '.join(FAMILIES)}"
        )
    family = family_of(kit)
    try:
        family.of(kit)
    except ValidationError as error:
        first = error.errors()[0]
        path = ".".join(str(part) for part in first["loc"])
        raise FileFormatError(f"{place}.{path}" if path else place, in_words(first)) from error
    return kit


def read_kit(data: Mapping[str, Any], place: str = "kit") -> Kit:
    """Return the kit of a catalogue entry. Raises FileFormatError naming the place."""
    return checked(read_form(Kit, own_fields(data), place), place)


ONE_FORM = ("air_spring", "insert")
"""Families that once shared one form, so that entries of either carry the other's fields, empty."""


def own_fields(data: Mapping[str, Any]) -> dict[str, Any]:
    """Return an entry without the fields of other families that it carries empty, as it did when all shared one form."""
    own = FAMILIES.get(str(data.get("family", "")))
    mine = set(own.data.model_fields) if own else set()
    shared = (FAMILIES[key].data.model_fields for key in ONE_FORM)
    empty = {n: f.default for fields in shared for n, f in fields.items() if n not in mine}
    return {
        name: value for name, value in data.items() if name not in empty or value not in (None, [], (), empty[name])
    }
