"""The demo's customers: what each came with, and the truth their readings are made from. All invented."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any


@dataclass(frozen=True, kw_only=True)
class Story:
    """One customer's job: facts, loads, true rates (N/m), empty heights (m), and how far the job has come; first: a kit fitted, read and left
    on before the other went on top; proposed: a kit that a trainee put forward."""

    number: str
    customer: str
    label: str
    facts: dict[str, Any]
    complaints: list[str] = field(default_factory=list)
    inspected: dict[str, tuple[str, ...]] = field(default_factory=dict)
    words: str = ""
    use: list[str] = field(default_factory=list)
    empty: tuple[float, float] | None = None
    loaded: dict[str, Any] = field(default_factory=dict)
    items: list[tuple[str, float, float, float]] = field(default_factory=list)
    carried: list[dict[str, Any]] = field(default_factory=list)
    towed: list[tuple[str, float, float]] = field(default_factory=list)
    true: tuple[float, float] | None = None
    heights: dict[str, float] = field(default_factory=dict)
    extra: dict[str, tuple[float, float]] = field(default_factory=dict)
    read: tuple[str, ...] = ("empty", "loaded")
    first: str = ""
    kit: str = ""
    proposed: str = ""
    after: tuple[str, ...] = ()
    leak: float = 0.0
    school: str = "share_of_sag"
    inches: bool = False
    done: bool = False
    fitted: bool = False
    driven: bool = False
    half_card: bool = False
    never_empty: bool = False
    already: dict[str, Any] = field(default_factory=dict)
    raise_m: tuple[float, float] | None = None
    typed: dict[tuple[str, str, str], dict[str, float]] = field(default_factory=dict)
    """Heights (m) by phase, state and datum, as they were read: of a vehicle whose truth nobody knows."""

    @property
    def things(self) -> list[dict[str, Any]]:
        """What is on board as its record takes it; what is loose can be moved."""
        loose = ("name", "mass_kg", "station_m", "lateral_m")
        return [dict(zip(loose, one, strict=True)) | {"movable": True} for one in self.items] + self.carried


PICKUP = {
    "body": "pickup",
    "front_spring": "coil_independent",
    "tyres": "light_truck",
    "track_front_m": 1.70,
    "track_rear_m": 1.70,
}


STORIES = [
    Story(
        number="2026-041",
        customer="Hallig Oyster Beds",
        label="Skerry 35 pickup, grey",
        facts={
            **PICKUP,
            "rear_spring": "leaf_solid",
            "wheelbase_m": 3.55,
            "hitch_overhang_m": 1.25,
            "gross_kg": 3250,
            "front_axle_kg": 1600,
            "rear_axle_kg": 1950,
            "hitch_kg": 350,
            "towed_kg": 3000,
            "combination_kg": 5600,
        },
        complaints=["sags", "nose_up", "bottoms"],
        inspected={"dampers": ("watch", "misted with oil", "RL"), "leaf_cracks": ("fine", "")},
        words="On the causeway with the boat everybody flashes at me.",
        use=["sometimes_loaded", "tows"],
        empty=(1240, 910),
        loaded={"name": "Boat on", "tongue_kg": 210, "trailer_kg": 1680, "trailer_axle_m": 4.1},
        items=[("baskets and ropes", 330, 3.7, 0.12), ("outboard fuel", 45, 4.1, -0.3)],
        true=(46e3, 60e3),
        heights={"FL": 0.874, "FR": 0.872, "RL": 0.952, "RR": 0.951},
        extra={"stop_gap": (0.072, 0.071), "pad_to_pad": (0.172, 0.171)},
    ),
    Story(
        number="2026-042",
        customer="Lantern & String Puppet Theatre",
        label="Corvane high-roof, the stage van",
        facts={
            "body": "high_roof_van",
            "front_spring": "coil_independent",
            "rear_spring": "parabolic_solid",
            "tyres": "light_truck",
            "track_front_m": 1.74,
            "track_rear_m": 1.72,
            "wheelbase_m": 3.665,
            "gross_kg": 3500,
            "front_axle_kg": 1850,
            "rear_axle_kg": 2070,
            "hitch_overhang_m": 1.1,
            "hitch_kg": 100,
            "towed_kg": 2000,
        },
        complaints=["leans", "rolls"],
        words="It leans to the side where the batteries are, and gets pushed about by lorries.",
        use=["always_loaded", "tall"],
        empty=(1290, 1060),
        loaded={"name": "On tour"},
        items=[
            ("stage and lights", 420, 3.8, 0.1),
            ("batteries", 160, 4.3, 0.55),
            ("puppet trunks", 280, 2.6, -0.1),
            ("generator on the back", 190, 4.8, 0.2),
        ],
        true=(52e3, 80e3),
        heights={"FL": 0.742, "FR": 0.741, "RL": 0.812, "RR": 0.812},
        extra={"stop_gap": (0.085, 0.085)},
    ),
    Story(
        number="2026-043",
        customer="Heathercomb Bees",
        label="Tormac 40 crew, two hive trailers",
        facts={
            **PICKUP,
            "rear_spring": "two_stage_leaf_solid",
            "wheelbase_m": 3.86,
            "hitch_overhang_m": 1.3,
            "gross_kg": 4000,
            "front_axle_kg": 1900,
            "rear_axle_kg": 2500,
            "hitch_kg": 400,
            "towed_kg": 3500,
            "combination_kg": 7000,
        },
        complaints=["harsh"],
        words="Somebody told me I need air bags for the hives.",
        use=["sometimes_loaded", "tows", "off_road"],
        empty=(1420, 1150),
        loaded={"name": "One hive trailer", "tongue_kg": 80, "trailer_kg": 720},
        true=(58e3, 52e3),
        heights={"FL": 0.91, "FR": 0.909, "RL": 1.004, "RR": 1.004},
        inches=True,
    ),
    Story(
        number="2026-044",
        customer="The Ondine family",
        label="Wagon with the caravan",
        facts={
            "body": "wagon",
            "front_spring": "coil_independent",
            "rear_spring": "coil_independent",
            "tyres": "car",
            "track_front_m": 1.56,
            "track_rear_m": 1.58,
            "wheelbase_m": 2.80,
            "hitch_overhang_m": 1.10,
            "gross_kg": 2250,
            "front_axle_kg": 1150,
            "rear_axle_kg": 1250,
            "hitch_kg": 100,
            "towed_kg": 1600,
            "hitch_kind": "caravan",
        },
        complaints=["sags", "nose_up"],
        words="The caravan drags us down at the back.",
        use=["tows", "long_trips"],
        empty=(960, 770),
        loaded={
            "name": "Caravan hitched",
            "tongue_kg": 90,
            "trailer_kg": 1350,
            "trailer_axle_m": 4.6,
            "trailer_axle_rating_kg": 1400,
        },
        items=[("luggage", 110, 3.1, 0.0)],
        carried=[{"kind": "people", "name": "two in the back", "count": 2, "mass_kg": 70, "station_m": 1.9}],
        towed=[
            ("caravan, empty", 1180, 4.3),
            ("awning and stove", 95, 3.0),
            ("fresh water", 45, 4.0),
            ("bikes at its back", 30, 7.1),
        ],
        true=(36e3, 43e3),
        heights={"FL": 0.668, "FR": 0.667, "RL": 0.676, "RR": 0.675},
        read=("empty",),
    ),
    Story(
        number="2026-038",
        customer="Harbour Mobile Dental Clinic",
        label="Clinic on a Brigg coach chassis",
        facts={
            "body": "coach",
            "front_spring": "leaf_solid",
            "rear_spring": "leaf_solid",
            "tyres": "medium_duty",
            "dual_rear": True,
            "track_front_m": 1.95,
            "track_rear_m": 1.80,
            "wheelbase_m": 4.60,
            "rear_overhang_m": 2.5,
            "gross_kg": 8200,
            "front_axle_kg": 3200,
            "rear_axle_kg": 5600,
        },
        complaints=["sags", "rolls"],
        words="With the chair and the water in she squats, and rolls at the roundabout.",
        use=["always_loaded", "tall"],
        empty=(2350, 3300),
        loaded={
            "name": "Clinic fitted out",
            "front_kg": 2480,
            "rear_kg": 4870,
            "fl_kg": 1225,
            "fr_kg": 1255,
            "rl_kg": 2490,
            "rr_kg": 2380,
        },
        true=(124e3, 178e3),
        heights={"FL": 0.905, "FR": 0.904, "RL": 0.968, "RR": 0.965},
        extra={"stop_gap": (0.095, 0.094), "pad_to_pad": (0.185, 0.184)},
        kit="FW-H",
        after=("empty", "loaded"),
        school="share_of_sag",
        fitted=True,
    ),
    Story(
        number="2026-039",
        customer="Fenmark Glider Club",
        label="Tow wagon of the club",
        facts={
            **PICKUP,
            "rear_spring": "leaf_solid",
            "wheelbase_m": 3.20,
            "hitch_overhang_m": 1.15,
            "gross_kg": 2950,
            "front_axle_kg": 1500,
            "rear_axle_kg": 1750,
            "hitch_kg": 250,
            "towed_kg": 2500,
        },
        complaints=["sags"],
        words="Needs to stand level with the glider trailer on.",
        use=["tows"],
        empty=(1180, 840),
        loaded={"name": "Glider trailer", "tongue_kg": 160, "trailer_kg": 1150},
        items=[("winch and cable", 260, 3.3, 0.05)],
        true=(43e3, 52e3),
        heights={"FL": 0.862, "FR": 0.861, "RL": 0.931, "RR": 0.930},
        extra={"stop_gap": (0.070, 0.070), "pad_to_pad": (0.166, 0.166)},
        kit="FW-M",
        after=("loaded",),
        leak=0.5,
        fitted=True,
        driven=True,
        inches=True,
    ),
    Story(
        number="2026-045",
        customer="Marl Pit Fossil Dig",
        label="Expedition truck, the bone wagon",
        facts={"body": "box_truck", "front_spring": "leaf_solid", "rear_spring": None, "tyres": "medium_duty"},
        complaints=["bottoms", "harsh"],
        inspected={"leaf_cracks": ("fault", "third leaf, behind the axle", "RL"), "bushes": ("watch", "", "RL", "RR")},
        words="Throws our heads about on the pit track.",
        use=["off_road", "always_loaded"],
    ),
    Story(
        number="2026-040",
        customer="Three Villages Library",
        label="Library bus",
        facts={
            "body": "coach",
            "front_spring": "leaf_solid",
            "rear_spring": "leaf_solid",
            "tyres": "medium_duty",
            "track_front_m": 1.90,
            "track_rear_m": 1.78,
            "dual_rear": True,
            "wheelbase_m": 4.2,
            "rear_overhang_m": 2.2,
            "gross_kg": 7200,
            "front_axle_kg": 2900,
            "rear_axle_kg": 4900,
        },
        complaints=["sags", "leans"],
        words="The shelves are all on one side.",
        use=["always_loaded"],
        empty=(2150, 2800),
        loaded={"name": "Full shelves", "front_kg": 2300, "rear_kg": 4010},
        true=(112e3, 150e3),
        heights={"FL": 0.89, "FR": 0.889, "RL": 0.95, "RR": 0.949},
        extra={"stop_gap": (0.09, 0.09), "pad_to_pad": (0.186, 0.186)},
        proposed="FW-M",
    ),
    Story(
        number="2026-046",
        customer="Lantern Quay Nursery",
        label="Skerry 35, white, young trees",
        facts={
            **PICKUP,
            "rear_spring": "leaf_solid",
            "wheelbase_m": 3.55,
            "hitch_overhang_m": 1.25,
            "gross_kg": 3200,
            "front_axle_kg": 1600,
            "rear_axle_kg": 1950,
            "hitch_kg": 350,
            "towed_kg": 3000,
        },
        complaints=["sags"],
        words="It drags its tail with the trees on.",
        use=["sometimes_loaded"],
        empty=(1210, 900),
        loaded={"name": "Trees aboard"},
        items=[("young trees in tubs", 520, 3.3, 0.05)],
        true=(112e3, 39e3),
        heights={"FL": 0.871, "FR": 0.870, "RL": 0.949, "RR": 0.948},
        extra={"stop_gap": (0.070, 0.069), "pad_to_pad": (0.166, 0.166)},
        kit="FW-M",
        half_card=True,
    ),
    Story(
        number="2026-035",
        customer="Saltmarsh Thatchers",
        label="Skerry 35, green, reed aboard",
        facts={
            **PICKUP,
            "rear_spring": "leaf_solid",
            "wheelbase_m": 3.55,
            "hitch_overhang_m": 1.25,
            "gross_kg": 3250,
            "front_axle_kg": 1600,
            "rear_axle_kg": 1950,
        },
        complaints=["sags", "tail_drags"],
        words="It is always full of reed; nobody knows what it weighs.",
        use=["always_loaded"],
        empty=(1240, 910),
        loaded={"name": "Reed aboard"},
        typed={
            ("before", "empty", "ground_arch"): {"FL": 0.874, "FR": 0.872, "RL": 0.952, "RR": 0.951},
            ("before", "loaded", "ground_arch"): {"FL": 0.885, "FR": 0.884, "RL": 0.889, "RR": 0.888},
            ("before", "empty", "ground_hitch"): {"hitch": 0.545},
            ("before", "loaded", "ground_hitch"): {"hitch": 0.458},
        },
    ),
    Story(
        number="2026-036",
        customer="Samphire Soup Kitchen",
        label="Corvane high-roof, the soup van",
        facts={
            "body": "high_roof_van",
            "front_spring": "coil_independent",
            "rear_spring": "parabolic_solid",
            "tyres": "light_truck",
            "track_front_m": 1.74,
            "track_rear_m": 1.72,
            "wheelbase_m": 3.665,
            "gross_kg": 3500,
            "front_axle_kg": 1850,
            "rear_axle_kg": 2100,
        },
        complaints=["leans", "sags"],
        words="The kitchen is all on the left, and it never comes out.",
        use=["always_loaded", "tall"],
        never_empty=True,
        school="raise_by",
        raise_m=(0.035, 0.02),
        typed={("before", "empty", "ground_arch"): {"FL": 0.742, "FR": 0.741, "RL": 0.735, "RR": 0.757}},
    ),
    Story(
        number="2026-037",
        customer="Kelp Row Rowing Club",
        label="Tormac 40, the eight’s tow car",
        facts={
            **PICKUP,
            "rear_spring": "leaf_solid",
            "wheelbase_m": 3.4,
            "hitch_overhang_m": 1.2,
            "gross_kg": 3100,
            "front_axle_kg": 1550,
            "rear_axle_kg": 1800,
            "hitch_kg": 300,
            "towed_kg": 2500,
            "equipment": [
                {"kind": "bags", "fitted": "later", "note": ""},
                {"kind": "stops", "fitted": "factory", "note": ""},
            ],
        },
        complaints=["sags"],
        words="It came with air bags; do they do anything?",
        use=["tows"],
        empty=(1200, 880),
        loaded={"name": "Boats on", "tongue_kg": 150, "trailer_kg": 1200},
        items=[("oars and trestles", 180, 3.4, 0.0)],
        already={"what": "air bags", "condition": "worn"},
        typed={
            ("before", "empty", "ground_arch"): {"FL": 0.868, "FR": 0.867, "RL": 0.944, "RR": 0.943},
            ("before", "loaded", "ground_arch"): {"FL": 0.876, "FR": 0.875, "RL": 0.909, "RR": 0.908},
            ("off", "loaded", "ground_arch"): {"FL": 0.878, "FR": 0.877, "RL": 0.888, "RR": 0.886},
            ("before", "loaded", "ground_hitch"): {"hitch": 0.472},
            ("off", "loaded", "ground_hitch"): {"hitch": 0.445},
        },
    ),
    Story(
        number="2026-034",
        customer="Tideline Boat Joinery",
        label="Skerry 35, blue, with the mast rack",
        facts={
            **PICKUP,
            "rear_spring": "leaf_solid",
            "wheelbase_m": 3.55,
            "hitch_overhang_m": 1.25,
            "gross_kg": 3200,
            "front_axle_kg": 1600,
            "rear_axle_kg": 1950,
            "hitch_kg": 350,
            "towed_kg": 2800,
        },
        complaints=["sags"],
        words="One thing at a time, so that I know what each of them does.",
        use=["tows"],
        empty=(1220, 900),
        loaded={"name": "Hull on the trailer", "tongue_kg": 170, "trailer_kg": 1400},
        items=[("planks and tools", 240, 3.45, 0.0)],
        true=(47e3, 39e3),
        heights={"FL": 0.874, "FR": 0.873, "RL": 0.951, "RR": 0.950},
        extra={"stop_gap": (0.068, 0.068), "pad_to_pad": (0.166, 0.165)},
        first="CH-4",
        kit="FW-M",
        after=("empty", "loaded"),
        fitted=True,
        school="empty_height",
    ),
]
