"""The demo shelf: invented kits with real-looking data."""

from __future__ import annotations

from typing import Any

from vantok_core.kits.registry import read_kit
from vantok_core.procedure.templates import SHEET, usual_sheet

PRESSURES = [100e3, 200e3, 300e3, 400e3, 500e3, 600e3, 690e3]
LEAF = ["leaf_solid", "two_stage_leaf_solid", "parabolic_solid"]


def _table(heights: list[float], areas: list[float]) -> list[list[float]]:
    """Return a load table from mean areas (m2) by height; the bag stiffens a little with pressure."""
    return [[round(p * a * (1.0 + 0.03 * (p - 300e3) / 300e3), 0) for p in PRESSURES] for a in areas]


def _bellows(
    code: str, name: str, scale: float, gross: tuple[float, float], price: float, **more: Any
) -> dict[str, Any]:
    heights = [0.09, 0.12, 0.15, 0.18, 0.21, 0.24]
    areas = [scale * a for a in (0.0128, 0.0124, 0.0116, 0.0106, 0.0094, 0.0076)]
    return {
        "code": code,
        "name": name,
        "maker": "Ferrywell Air",
        "family": "air_spring",
        "springs": LEAF,
        "gross_min_kg": gross[0],
        "gross_max_kg": gross[1],
        "place": 0.56,
        "own_stop": True,
        "replaces_stop": False,
        "side_space_m": 0.019,
        "price": price,
        "hours": 3.5,
        "upkeep_per_year": 25,
        "p_min_pa": 35e3,
        "p_max_pa": 690e3,
        "heights_m": heights,
        "pressures_pa": PRESSURES,
        "loads_n": _table(heights, areas),
        "volume_m3": 0.0019 * scale,
        "volume_at_m": 0.165,
        "pad_min_m": 0.14,
        "pad_max_m": 0.20,
        "drilling": False,
        "reversible": True,
        "notes": "Two lines, a valve each side. Mock up at ride height, not lifted, before the final tightening.",
        **more,
    }


def _insert(
    code: str, name: str, scale: float, gross: tuple[float, float], price: float, **more: Any
) -> dict[str, Any]:
    points = [[0.008, 260], [0.016, 620], [0.026, 1350], [0.038, 2700], [0.050, 5000], [0.060, 8600]]
    return {
        "code": code,
        "name": name,
        "maker": "Slipway Rubber",
        "family": "insert",
        "springs": [*LEAF, "coil_solid"],
        "gross_min_kg": gross[0],
        "gross_max_kg": gross[1],
        "place": 0.60,
        "replaces_stop": True,
        "side_space_m": 0.012,
        "price": price,
        "hours": 1.2,
        "upkeep_per_year": 0,
        "points": [[c, round(f * scale)] for c, f in points],
        "longer_m": 0.020,
        "gap_min_m": 0.0,
        "gap_max_m": 0.045,
        "spacers_m": [0.006, 0.012],
        "contact": True,
        "drilling": False,
        "reversible": True,
        "notes": "Screws in where the bump stop was. Locker only after the trial: it makes a later spacer change harder.",
        **more,
    }


def _kit(
    code: str,
    name: str,
    maker: str,
    family: str,
    springs: list[str],
    gross: tuple[float, float],
    price: float,
    hours: float,
    **more: Any,
) -> dict[str, Any]:
    """Return an entry of a family that needs no table."""
    return {
        "code": code,
        "name": name,
        "maker": maker,
        "family": family,
        "springs": springs,
        "gross_min_kg": gross[0],
        "gross_max_kg": gross[1],
        "price": price,
        "hours": hours,
        "drilling": False,
        "reversible": True,
        **more,
    }


LIGHT, MIDDLE, HEAVY = (1200, 2600), (2400, 4200), (4000, 9000)
PACK, COIL = ["leaf_solid", "two_stage_leaf_solid"], ["coil_solid", "coil_independent"]
EVERY = [*LEAF, *COIL, "torsion_bar_independent", "rubber_torsion_independent"]
STEEL, ARMS, OIL = "Causeway Springs", "Gantry Bars", "Breakwater Dampers"


def _leaf(code: str, name: str, gross: tuple[float, float], rate: float, arch: float, price: float) -> dict[str, Any]:
    return _kit(
        code,
        name,
        STEEL,
        "added_leaf",
        PACK,
        gross,
        price,
        3.0,
        rate_n_per_m=rate,
        arch_m=arch,
        width_min_m=0.058,
        width_max_m=0.072,
        life_years=12,
        access={"axle bolts": 1.0},
        notes="Longest free leaf but one. New axle bolts with it; tightened at ride height.",
    )


def _helper(
    code: str,
    name: str,
    gross: tuple[float, float],
    price: float,
    hours: float,
    rate: float,
    preloads: list[float],
    **told: Any,
) -> dict[str, Any]:
    springs = told.pop("springs", PACK)
    more = {"notes": "Rollers in the same hole on both sides.", "place": 0.60, "upkeep_per_year": 5} | told
    return _kit(
        code, name, STEEL, "helper_leaf", springs, gross, price, hours, rate_n_per_m=rate, preloads_n=preloads, **more
    )


def _block(
    code: str, name: str, coils: float, gap: tuple[float, float], rubber: float | None, price: float, **told: Any
) -> dict[str, Any]:
    more = {"insert_rate_n_per_m": rubber} if rubber else {}
    return _kit(
        code,
        name,
        "Slipway Rubber",
        "coil_block",
        COIL,
        (1000, 3000),
        price,
        0.8,
        blocked_coils=coils,
        gap_min_m=gap[0],
        gap_max_m=gap[1],
        holds_m=gap[1],
        life_years=8,
        notes="The same winding on both sides. A coil may never close on it in full bump.",
        **more,
        **told,
    )


def _bar(
    code: str, name: str, axle: str, gross: tuple[float, float], stiff: list[float], price: float
) -> dict[str, Any]:
    return _kit(
        code,
        name,
        ARMS,
        "anti_roll_bar",
        EVERY,
        gross,
        price,
        2.5,
        axle=axle,
        stiffness_nm_per_rad=stiff,
        upkeep_per_year=5,
        life_years=10,
        notes="Links loose until it stands at ride height. Clear of lines at bump, droop and both locks.",
    )


def _stabilizer(code: str, name: str, stroke: float, damping: float, price: float, **more: Any) -> dict[str, Any]:
    return _kit(
        code,
        name,
        OIL,
        "steering_stabilizer",
        EVERY,
        (1500, 9000),
        price,
        1.5,
        axle="front",
        stroke_m=stroke,
        damping_ns_per_m=damping,
        life_years=8,
        notes="Lock to lock by hand first, wheels off the ground, then with the engine running.",
        **more,
    )


def _dampers(
    code: str, name: str, axle: str, gross: tuple[float, float], hard: float, clicks: int, price: float
) -> dict[str, Any]:
    curves = [
        {
            "bump": [[0.1, round(h * 120)], [0.3, round(h * 260)], [0.9, round(h * 560)]],
            "rebound": [[0.1, round(h * 260)], [0.3, round(h * 560)], [0.9, round(h * 1150)]],
        }
        for h in (hard * (1.0 + 0.22 * n) for n in range(clicks))
    ]
    return _kit(
        code,
        name,
        OIL,
        "damper",
        EVERY,
        gross,
        price,
        1.6,
        axle=axle,
        shut_m=0.36,
        open_m=0.57,
        clicks=curves,
        life_years=7,
        notes="The same click on both sides of an axle. New bushes tightened at ride height.",
    )


TRAILER_NOTES = "For trailers on rubber axles, by axle mass. Its ends swivel: the mounts need not be parallel."


def _hitch_damper(code: str, name: str, moment: float, trailer: tuple[float, float], price: float) -> dict[str, Any]:
    return _kit(
        code,
        name,
        OIL,
        "hitch_damper",
        EVERY,
        (1000, 9000),
        price,
        0.8,
        moment_nm=moment,
        trailer_min_kg=trailer[0],
        trailer_max_kg=trailer[1],
        upkeep_per_year=20,
        life_years=6,
        notes="Ball bare and dry. Off in snow and for reversing.",
    )


BY_SPACER = [
    {
        "name": f"insert bolt, {name}",
        "torque_nm": 25,
        "state": "locker",
        "head_m": 0.017,
        "only": [{"by": "spacer_m", "low": low, "high": high}],
    }
    for name, low, high in (("short", 0.0, 0.008), ("long", 0.009, 0.03))
]
"""The bolt of an insert by the spacers under it, m."""
BY_YEAR = [
    {"name": "frame bracket bolt", "count": 4, "torque_nm": 45, "head_m": 0.017},
    *(
        {
            "name": f"link bolt, {washer} washer",
            "count": 2,
            "torque_nm": 50,
            "at_ride_height": True,
            "head_m": 0.019,
            "only": [{"by": "year", "low": low, "high": high}],
        }
        for washer, low, high in (("plain", 1900, 2014), ("stepped", 2015, 2100))
    ),
]
"""The fasteners of a bar whose links take other washers by the model year."""
KITS: list[dict[str, Any]] = [
    _bellows("FW-L", "Ferrywell bellows, light", 0.75, (1500, 2900), 420),
    _bellows("FW-M", "Ferrywell bellows, middle", 1.0, (2500, 4200), 480),
    _bellows("FW-H", "Ferrywell bellows, heavy", 1.75, (4000, 9000), 690, hours=4.5, pad_min_m=0.13, pad_max_m=0.22),
    {
        **_bellows("FW-C", "Ferrywell sleeve in the coil", 0.34, (1200, 2800), 190),
        "springs": ["coil_solid", "coil_independent"],
        "place": 0.6,
        "own_stop": False,
        "shape": "in_coil",
        "through": "windings",
        "sleeved": True,
        "diameter_m": 0.09,
        "hours": 1.8,
        "upkeep_per_year": 15,
        "notes": "Goes inside the coil. Lifts nothing where the coil is already extended; keep the minimum pressure.",
    },
    {
        **_bellows("FW-B", "Ferrywell bare bag in the coil", 0.30, (1200, 2400), 140),
        "springs": ["coil_solid", "coil_independent"],
        "place": 0.6,
        "own_stop": False,
        "hours": 1.8,
        "upkeep_per_year": 15,
        "shape": "in_coil",
        "diameter_m": 0.08,
        "p_max_pa": 350e3,
        "life_years": 6,
        "notes": "Empty the bag before it goes in; line first through the seat. Keep the minimum pressure.",
    },
    {
        **_bellows("FW-T", "Ferrywell tee bellows, middle", 1.0, (2500, 4200), 430),
        "line": "tee",
        "hours": 3.1,
        "notes": "One valve for both bags. No side trim.",
    },
    _insert("SR-20", "Slipway rubber 20", 1.0, (1500, 3000), 170, screw_in=True),
    _insert("SR-35", "Slipway rubber 35", 1.7, (2400, 4600), 210, screw_in=True, fasteners=BY_SPACER),
    {
        "code": "CH-4",
        "name": "Causeway helper leaf",
        "maker": "Causeway Springs",
        "family": "helper_leaf",
        "springs": ["leaf_solid", "two_stage_leaf_solid"],
        "gross_min_kg": 1800,
        "gross_max_kg": 4200,
        "place": 0.61,
        "side_space_m": 0.010,
        "price": 260,
        "hours": 1.8,
        "upkeep_per_year": 5,
        "rate_n_per_m": 21_000,
        "preloads_n": [350, 700, 1050, 1400],
        "drilling": True,
        "reversible": False,
        "notes": "Marked end forward; rollers in the same hole on both sides. It floats: never clamp it to the pack.",
    },
    {
        "code": "CA-8",
        "name": "Causeway coil assist",
        "maker": "Causeway Springs",
        "family": "coil_assist",
        "springs": ["leaf_solid", "two_stage_leaf_solid", "parabolic_solid"],
        "gross_min_kg": 1500,
        "gross_max_kg": 3500,
        "place": 0.60,
        "side_space_m": 0.008,
        "price": 190,
        "hours": 1.1,
        "upkeep_per_year": 5,
        "rate_n_per_m": 16_000,
        "preload_n": 300,
        "per_step_n": 260,
        "steps_max": 4,
        "by": "disc",
        "drilling": False,
        "reversible": True,
        "notes": "Straight on the leaf, as close to the axle as it goes. The same discs on both sides.",
    },
    _insert("SR-60", "Slipway rubber 60, heavy", 3.2, (4000, 9000), 330),
    {
        **_bellows("FW-2", "Ferrywell double bellows, light", 0.9, (1800, 3000), 520),
        "pad_min_m": 0.17,
        "pad_max_m": 0.24,
        "life_years": 8,
    },
    {
        **_insert("SF-25", "Slipway foam 25", 0.8, (1500, 3200), 190),
        "springs": [*LEAF, *COIL],
        "life_years": 6,
        "notes": "Foam: soft at first, hard at the end. Never oil on it.",
    },
    {**_insert("SF-45", "Slipway foam 45", 2.4, (3800, 9000), 300), "springs": [*LEAF, *COIL], "life_years": 6},
    _helper("CH-2", "Causeway helper leaf, light", (1200, 2300), 220, 1.6, 14_000, [200, 450, 700, 950], place=0.61),
    _helper(
        "CH-T",
        "Causeway floating helper, for tapered leaves",
        (2400, 4200),
        330,
        2.2,
        16_000,
        [250, 500, 750],
        notes="Floats on its rollers; never clamped into the spring.",
        springs=["parabolic_solid"],
    ),
    _helper("CH-9", "Causeway helper leaf, heavy", (4200, 9000), 380, 2.4, 46_000, [900, 1800, 2700]),
    _kit(
        "CT-6",
        "Causeway coil assist, threaded",
        STEEL,
        "coil_assist",
        LEAF,
        (1500, 2800),
        240,
        1.3,
        place=0.60,
        rate_n_per_m=13_000,
        preload_n=200,
        per_step_n=90,
        steps_max=10,
        step=0.5,
        by="turn",
        upkeep_per_year=5,
        notes="Turned with the axle hanging, never under load.",
    ),
    _kit(
        "CA-12",
        "Causeway coil assist, heavy",
        STEEL,
        "coil_assist",
        LEAF,
        HEAVY,
        310,
        1.6,
        place=0.60,
        rate_n_per_m=34_000,
        preload_n=600,
        per_step_n=520,
        steps_max=4,
        upkeep_per_year=5,
    ),
    _leaf("AL-1", "Causeway added leaf, light", LIGHT, 9_000, 0.030, 150),
    _leaf("AL-2", "Causeway added leaf, middle", MIDDLE, 14_000, 0.035, 190),
    _leaf("AL-4", "Causeway added leaf, heavy", HEAVY, 38_000, 0.030, 320),
    _block("SB-1", "Slipway winding insert, one coil", 1.0, (0.014, 0.024), 45_000, 45),
    _block("SB-2", "Slipway winding insert, one and a half", 1.5, (0.022, 0.036), 60_000, 55),
    _block("SB-R", "Slipway coil block, rigid", 1.0, (0.016, 0.030), None, 40),
    _block("SB-F", "Slipway winding insert, front", 1.0, (0.016, 0.026), 60_000, 50, axle="front"),
    _kit(
        "CP-3",
        "Causeway pack, load",
        STEEL,
        "replacement_spring",
        PACK,
        MIDDLE,
        780,
        5.0,
        rate_n_per_m=52_000,
        load_at_height_n=5_600,
        second_rate_n_per_m=24_000,
        second_at_m=0.05,
        width_min_m=0.058,
        width_max_m=0.072,
        reversible=True,
        life_years=15,
        access={"axle bolts": 1.0},
    ),
    _kit(
        "CP-7",
        "Causeway pack, heavy load",
        STEEL,
        "replacement_spring",
        PACK,
        HEAVY,
        1_450,
        7.0,
        rate_n_per_m=190_000,
        load_at_height_n=17_500,
        second_rate_n_per_m=70_000,
        second_at_m=0.05,
        width_min_m=0.07,
        width_max_m=0.10,
        life_years=15,
        access={"axle bolts": 1.5},
    ),
    _kit(
        "CC-2",
        "Causeway coil, load",
        STEEL,
        "replacement_spring",
        ["coil_solid"],
        (1300, 3000),
        340,
        3.0,
        rate_n_per_m=42_000,
        load_at_height_n=4_300,
        life_years=15,
    ),
    _kit(
        "CC-F",
        "Causeway front coil, firm",
        STEEL,
        "replacement_spring",
        ["coil_independent"],
        (1800, 3600),
        420,
        3.5,
        axle="front",
        rate_n_per_m=150_000,
        load_at_height_n=11_500,
        life_years=15,
        notes="Springs by a compressor in good order only.",
    ),
    _kit(
        "RS-1",
        "Slipway rubber shackle, light",
        "Slipway Rubber",
        "rubber_shackle",
        PACK,
        LIGHT,
        260,
        2.0,
        rate_n_per_m=160_000,
        life_years=8,
    ),
    _kit(
        "RS-2",
        "Slipway rubber shackle",
        "Slipway Rubber",
        "rubber_shackle",
        PACK,
        (2500, 4500),
        310,
        2.0,
        rate_n_per_m=260_000,
        life_years=8,
        bush_m=0.06,
    ),
    _kit(
        "TA-1",
        "Gantry torsion-bar keys",
        ARMS,
        "torsion_adjuster",
        ["torsion_bar_independent"],
        (1500, 3500),
        120,
        1.5,
        axle="front",
        shift_max_m=0.05,
        per_turn_m=0.004,
        notes="Alignment and headlamps afterwards.",
    ),
    _kit(
        "TA-2",
        "Gantry torsion-bar keys, rear",
        ARMS,
        "torsion_adjuster",
        ["torsion_bar_independent"],
        (900, 2500),
        110,
        1.5,
        shift_max_m=0.04,
        per_turn_m=0.003,
    ),
    _bar("GB-R2", "Gantry rear bar, middle", "rear", (2000, 4500), [9_000, 12_500, 16_000], 390),
    {
        **_bar("GB-R7", "Gantry rear bar, heavy", "rear", (4500, 9000), [26_000, 34_000, 43_000], 690),
        "fasteners": BY_YEAR,
    },
    _bar("GB-F2", "Gantry front bar, middle", "front", (2000, 4500), [14_000, 18_000], 360),
    _bar("GB-F7", "Gantry front bar, heavy", "front", (4500, 9000), [30_000, 39_000], 640),
    _stabilizer("BS-N", "Breakwater stabilizer, neutral", 0.20, 1_600, 160),
    _stabilizer("BS-C", "Breakwater stabilizer, centring", 0.20, 1_400, 210, centring=True),
    _stabilizer(
        "BS-6",
        "Breakwater stabilizer, six clicks",
        0.20,
        1_300,
        260,
        clicks_ns_per_m=[700, 1_000, 1_300, 1_700, 2_200, 2_800],
        hardware=["a bracket for a stabilizer on the drag link"],
    ),
    _stabilizer("BS-R", "Breakwater stabilizer for racks", 0.16, 1_100, 190, rack=True),
    _dampers("BD-R", "Breakwater rear dampers", "rear", (1800, 4500), 1.0, 1, 240),
    _dampers("BD-R8", "Breakwater rear dampers, eight clicks", "rear", (1800, 4500), 0.8, 8, 520),
    _dampers("BD-F8", "Breakwater front dampers, eight clicks", "front", (1800, 4500), 0.9, 8, 540),
    _kit(
        "WH-1",
        "Gantry spring-bar hitch, light",
        ARMS,
        "weight_hitch",
        EVERY,
        (1000, 9000),
        520,
        1.5,
        tongue_min_kg=40,
        tongue_max_kg=180,
        trailer_max_kg=2200,
        share_max=0.6,
        upkeep_per_year=10,
        life_years=12,
        notes="Set loaded, by its maker's sheet; chains alike.",
    ),
    _kit(
        "WH-2",
        "Gantry spring-bar hitch",
        ARMS,
        "weight_hitch",
        EVERY,
        (1500, 9000),
        690,
        1.8,
        tongue_min_kg=120,
        tongue_max_kg=380,
        trailer_max_kg=4500,
        share_max=0.7,
        upkeep_per_year=10,
        life_years=12,
        notes="Set loaded, by its maker's sheet; chains alike.",
    ),
    _hitch_damper("HF-1", "Breakwater hitch damper, light", 220, (500, 1500), 230),
    _hitch_damper("HF-2", "Breakwater hitch damper", 340, (1200, 3000), 310),
    _dampers("BD-H", "Breakwater rear dampers, heavy", "rear", (4500, 9000), 2.2, 1, 410),
    {
        **_dampers("BD-T1", "Breakwater trailer dampers, welded mounts", "rear", (700, 1800), 0.6, 1, 290),
        **{"springs": ["rubber_torsion_independent"], "mounts": "welded", "shut_m": 0.24, "open_m": 0.35},
        **{"axle_max_kg": 1500, "drilling": True, "reversible": False, "hours": 4.0, "notes": TRAILER_NOTES},
    },
    {
        **_dampers("BD-T2", "Breakwater trailer dampers, bolted mounts", "rear", (1600, 3000), 1.0, 1, 340),
        **{"springs": ["rubber_torsion_independent"], "mounts": "bolted", "shut_m": 0.24, "open_m": 0.35},
        **{"axle_max_kg": 2700, "drilling": True, "reversible": False, "hours": 3.5, "notes": TRAILER_NOTES},
    },
]
for _entry in KITS:
    _usual = usual_sheet(read_kit(_entry))
    _entry |= {name: _usual[name] for name in SHEET if name not in _entry}
