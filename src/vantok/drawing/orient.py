"""Which way round a part goes, as a small drawing for each way: the marked end, the flat side, the washer, the taper, the groove.

Our own; not to scale. What is right is drawn whole, what is wrong beside it, crossed out.
"""

from __future__ import annotations

from django.utils.safestring import SafeString, mark_safe

INK, STEEL, RUBBER, MARK, WRONG = "#14231d", "#8a948d", "#3d4a43", "#f2c318", "#b3261e"


def _line(*points: tuple[float, float], width: float = 3.0, colour: str = INK, fill: str = "none") -> str:
    told = " ".join(f"{x:g},{y:g}" for x, y in points)
    return f'<polyline points="{told}" fill="{fill}" stroke="{colour}" stroke-width="{width:g}" stroke-linejoin="round" stroke-linecap="round"/>'


def _box(x: float, y: float, w: float, h: float, colour: str = STEEL, radius: float = 2.0) -> str:
    return f'<rect x="{x:g}" y="{y:g}" width="{w:g}" height="{h:g}" rx="{radius:g}" fill="{colour}" stroke="{INK}" stroke-width="2"/>'


def _ring(x: float, y: float, r: float, colour: str = "none") -> str:
    return f'<circle cx="{x:g}" cy="{y:g}" r="{r:g}" fill="{colour}" stroke="{INK}" stroke-width="2.5"/>'


def _says(x: float, y: float, text: str, anchor: str = "middle") -> str:
    return f'<text x="{x:g}" y="{y:g}" font-size="13" text-anchor="{anchor}" fill="{INK}">{text}</text>'


def _arrow(x: float, y: float, length: float) -> str:
    """Return an arrow to the left: to the front, as every drawing here has it."""
    return _line((x, y), (x - length, y)) + _line((x - length + 8, y - 7), (x - length, y), (x - length + 8, y + 7))


def _front() -> str:
    return _arrow(62, 16, 40) + _says(84, 20, "front")


def _cross(x: float, y: float, size: float = 26) -> str:
    return _line((x - size, y - size), (x + size, y + size), colour=WRONG, width=4) + _line(
        (x - size, y + size), (x + size, y - size), colour=WRONG, width=4
    )


def _arrow_front() -> str:
    plate = (
        _box(40, 60, 120, 26)
        + _line((118, 73), (82, 73), colour=MARK, width=5)
        + _line((92, 64), (82, 73), (92, 82), colour=MARK, width=5)
    )
    return _front() + plate + _says(150, 112, "arrow to the front; left and right plates differ")


def _bag_straight() -> str:
    def bag(x: float, twist: float) -> str:
        sides = _line((x - 24, 34), (x - 30 + twist, 60), (x - 24 + 2 * twist, 88), width=4, colour=RUBBER) + _line(
            (x + 24, 34), (x + 30 + twist, 60), (x + 24 + 2 * twist, 88), width=4, colour=RUBBER
        )
        return _box(x - 34, 26, 68, 8) + sides + _box(x - 34 + 2 * twist, 88, 68, 8)

    return bag(70, 0) + bag(215, 13) + _cross(228, 62) + _says(12, 120, "straight, centred, no twist", "start")


def _crosswise() -> str:
    bolts = ((70, 40, "1"), (150, 92, "2"), (150, 40, "3"), (70, 92, "4"))
    path = (
        _line((78, 45), (142, 87), colour=MARK)
        + _line((150, 80), (150, 54), colour=MARK)
        + _line((142, 45), (78, 87), colour=MARK)
    )
    return (
        _box(50, 24, 120, 86, "#e9e2cf")
        + path
        + "".join(_ring(x, y, 12, "#fffdf6") + _says(x, y + 5, n) for x, y, n in bolts)
        + _says(225, 70, "in rounds")
    )


def _groove_down() -> str:
    winding = _ring(70, 34, 11, STEEL) + _ring(70, 98, 11, STEEL)
    block = f'<path d="M46 46 Q70 54 94 46 L98 86 Q70 66 42 86 Z" fill="{RUBBER}" stroke="{INK}" stroke-width="2"/>'
    return (
        winding
        + block
        + _says(112, 40, "shallow groove up", "start")
        + _says(112, 92, "deep groove down,", "start")
        + _says(112, 110, "on the lower winding", "start")
    )


def _leaf_order() -> str:
    leaves = ((30, 36, 240), (42, 50, 216), (58, 64, 184), (90, 78, 120))
    drawn = "".join(_box(x, y, w, 9, MARK if n == 1 else STEEL) for n, (x, y, w) in enumerate(leaves))
    return drawn + _box(146, 28, 8, 68, INK) + _says(150, 116, "under a longer one; centre bolt through all")


def _link_level() -> str:
    arm = _line((40, 50), (190, 50), width=8, colour=STEEL) + _ring(190, 50, 8, "#fffdf6")
    link = _line((190, 50), (190, 104), width=5) + _ring(190, 104, 8, "#fffdf6")
    return (
        arm
        + link
        + _line((30, 122), (270, 122))
        + _says(110, 38, "arm level")
        + _says(236, 82, "link upright")
        + _says(90, 112, "on the ground")
    )


def _long_above() -> str:
    leaf = _line((30, 80), (150, 68), (270, 80), width=8, colour=STEEL)
    return (
        _front()
        + leaf
        + _box(150, 44, 70, 12, MARK)
        + _box(165, 88, 40, 10)
        + _says(185, 36, "long bracket above")
        + _says(185, 116, "short one below")
    )


def _marked_end_forward() -> str:
    leaf = (
        _line((30, 84), (150, 66), (270, 84), width=8, colour=STEEL)
        + _ring(30, 84, 9, "#fffdf6")
        + _ring(270, 84, 9, "#fffdf6")
    )
    return _front() + leaf + _box(44, 68, 22, 10, MARK) + _says(80, 112, "marked end")


def _roll_plate() -> str:
    plate = f'<path d="M40 38 L164 38 L164 42 Q164 54 152 54 L52 54 Q40 54 40 42 Z" fill="{STEEL}" stroke="{INK}" stroke-width="2"/>'
    wrong = f'<path d="M190 54 L288 54 L288 50 Q288 38 276 38 L202 38 Q190 38 190 50 Z" fill="{STEEL}" stroke="{INK}" stroke-width="2"/>'
    bag = _line((52, 56), (44, 84), (52, 104), width=5, colour=RUBBER) + _line(
        (140, 56), (150, 84), (140, 104), width=5, colour=RUBBER
    )
    return (
        plate
        + bag
        + wrong
        + _line((200, 56), (278, 56), width=4, colour=RUBBER)
        + _cross(240, 48, 20)
        + _says(14, 124, "rounded edge to the bag", "start")
    )


def _taper() -> str:
    pin = f'<path d="M64 30 L96 30 L90 84 L70 84 Z" fill="{STEEL}" stroke="{INK}" stroke-width="2"/>'
    seat = f'<path d="M40 44 L65 44 L68 74 L40 74 Z M120 44 L95 44 L92 74 L120 74 Z" fill="#e9e2cf" stroke="{INK}" stroke-width="2"/>'
    wrong = f'<path d="M200 84 L232 84 L226 30 L206 30 Z" fill="{STEEL}" stroke="{INK}" stroke-width="2"/>'
    return (
        seat
        + pin
        + _box(68, 84, 24, 12, MARK)
        + wrong
        + _cross(216, 58)
        + _says(14, 120, "thin end through, nut on it", "start")
    )


def _thick_rearward() -> str:
    body = f'<path d="M120 34 L152 34 L176 60 L152 100 L120 100 Z" fill="{RUBBER}" stroke="{INK}" stroke-width="2"/>'
    return (
        _front()
        + body
        + _ring(134, 44, 7, "#fffdf6")
        + _ring(134, 90, 7, "#fffdf6")
        + _says(190, 66, "thick side", "start")
        + _says(190, 84, "to the rear", "start")
    )


def _washer() -> str:
    stack = _box(60, 26, 60, 16, RUBBER) + _box(52, 42, 76, 7, MARK) + _box(40, 49, 100, 10) + _box(82, 59, 16, 44, INK)
    return stack + _says(156, 50, "washer flat on", "start") + _says(156, 68, "its own seat", "start")


DRAWN = {
    "arrow_front": (_arrow_front, "Arrow to the front"),
    "bag_straight": (_bag_straight, "Bag straight, without twist"),
    "crosswise": (_crosswise, "Crosswise, in rounds"),
    "groove_down": (_groove_down, "Deeper groove down"),
    "leaf_order": (_leaf_order, "Under a longer one, centre bolt through all"),
    "link_level": (_link_level, "Arm level, link upright, on the ground"),
    "long_above": (_long_above, "Long bracket above the leaf, one way only"),
    "marked_end_forward": (_marked_end_forward, "Marked end forward"),
    "roll_plate": (_roll_plate, "Rounded edge to the bag"),
    "taper": (_taper, "Taper the right way round"),
    "thick_rearward": (_thick_rearward, "Thick side to the rear"),
    "washer": (_washer, "Washer flat on its seat"),
}
"""Every way round that a step may be drawn with, and its words."""


def orient_svg(name: str) -> SafeString:
    """Return the drawing of a way round, with its words for those who do not see it; empty for a name that is not drawn."""
    if name not in DRAWN:
        return SafeString("")
    draw, words = DRAWN[name]
    return mark_safe(  # noqa: S308 - made of this module's own parts
        f'<svg class="orient" viewBox="0 0 300 130" role="img" aria-label="{words}"><title>{words}</title>{draw()}</svg>'
    )
