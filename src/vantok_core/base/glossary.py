"""One name, meaning, sign and unit per quantity. `docs/glossary.md` is made from this table, and a test holds them together."""

from __future__ import annotations

TERMS: tuple[tuple[str, str, str, str], ...] = (
    ("station", "s", "m", "distance behind the front axle, positive rearward"),
    ("lateral place", "y", "m", "distance from the centre line, positive to the left facing forward"),
    ("wheelbase", "L", "m", "front axle to rear axle, or to the load centre of the rear group"),
    ("hitch overhang", "o", "m", "rear axle to ball; negative for a pin ahead of the axle"),
    ("track", "t", "m", "wheel centre to wheel centre; for dual wheels between the centres of the pairs"),
    ("drop", "d", "m", "how far a body point has come down from the empty vehicle, positive down"),
    ("ground drop", "d", "m", "drop at a wheel, tyre squash included"),
    ("hub drop", "z", "m", "drop of the body above the wheel's hub, suspension only"),
    ("tyre squash", "w", "m", "what the tyre gives more than empty, positive down"),
    ("sag", "", "m", "drop at a wheel station as read: empty height less height now, one datum"),
    ("rake", "", "m", "rear height less front height on one datum; negative is nose up"),
    ("pitch", "theta", "rad", "pitch change from empty, nose-up positive"),
    ("lean", "phi", "rad", "left higher positive (ISO 8855 roll)"),
    ("stop gap", "", "m", "bump stop or insert to the pad it will strike"),
    ("wheel rate", "k_w", "N/m", "suspension force per metre at one wheel, hub datum"),
    ("tyre rate", "k_t", "N/m", "tyre force per metre at one corner"),
    ("motion ratio", "i", "", "element travel over wheel travel"),
    ("preload", "P", "N", "an element's force in the reference state"),
    ("ride frequency", "f", "Hz", "undamped frequency of the sprung mass on its wheel rate"),
    ("tongue load", "T", "kg", "what the trailer's tongue puts on the ball"),
    ("spring-bar moment", "M", "N m", "moment of a weight-distributing hitch, both bars together"),
    ("margin", "", "kg", "limit less load; negative is over"),
    ("set pressure", "p_set", "Pa", "gauge pressure at which the valve is shut"),
    ("band", "", "", "90 % band: plus and minus 1.645 sigma, nine times in ten"),
    ("headlamp rise", "", "m", "how far the beam moves up at a stated distance ahead of the lamp"),
    ("roll stiffness", "K", "N m/rad", "roll moment per lean at an axle"),
    ("damping ratio", "zeta", "", "wheel damping over critical damping of the sprung mass"),
    ("reference state", "", "", "the empty vehicle as measured, without any kit"),
    ("camber gain", "", "deg/m", "camber an independent wheel gains per metre of hub sag, top out positive"),
    ("toe gain", "", "deg/m", "toe an independent wheel gains per metre of hub sag, toe in positive"),
    ("friction band", "", "m", "half the difference of a height read pressed and lifted"),
    ("floor", "", "m", "what a bay's floor adds to a tape's figure at a wheel's spot"),
    ("derived height", "", "m", "a height worked out from the reading on the other arch datum; not measured"),
    ("bump travel to the stop", "", "", "stop gap now over stop gap empty"),
    ("overhang ratio", "", "", "body behind the rear axle over wheelbase"),
    ("tongue share", "", "", "tongue load over the trailer's mass"),
    ("tag axle", "", "", "the last axle of a rear group; its load is a part of the rear's"),
    ("helper", "", "", "anything added that carries load beside the main spring"),
)


ARGUMENTS: tuple[tuple[str, str, str], ...] = (
    ("d_f, d_r", "m", "ground drops at the front and rear axle, positive down"),
    ("z_l, z_r", "m", "hub drops at the left and right wheel"),
    ("c, c_left, c_right", "m", "an element's own compression"),
    ("h, h_from, h_ref", "m", "a bag's height"),
    ("p, p_set, p_left, p_right, pressure", "Pa", "gauge pressure"),
    ("v_left, v_right, volume_1, volume_2", "m3", "air volume"),
    ("n", "1", "exponent of the gas law"),
    ("wheelbase, station, lateral, overhang, place", "m", "places as in the table above"),
    ("track, track_front, track_rear, rear_overhang", "m", "widths and lengths of the vehicle"),
    ("drop, height, front_height, rear_height, left_height, right_height", "m", "a drop, or a height read"),
    ("wheel_rate, k_w, k_t", "N/m", "rates at the wheel and of the tyre"),
    ("sprung_mass", "kg", "mass a corner or axle carries on its springs"),
    ("ratio", "1", "motion ratio: element travel over wheel travel"),
    ("theta, phi", "rad", "pitch and lean"),
    ("strength, times, factor", "1", "how many times"),
)
"""Arguments that mean the same wherever they stand; a docstring need not repeat them."""


def as_markdown() -> str:
    """Return the glossary as the document's text."""
    rows = "\n".join(f"| {name} | {symbol} | {unit} | {meaning} |" for name, symbol, unit, meaning in TERMS)
    shared = "\n".join(
        f"| `{names.replace(', ', '`, `')}` | {unit} | {meaning} |" for names, unit, meaning in ARGUMENTS
    )
    tail = f"\n## Arguments that mean the same everywhere\n\n| name | unit | meaning |\n| --- | --- | --- |\n{shared}\n"
    return f"# Glossary\n\nMade from `vantok_core/base/glossary.py`.\n\n| term | symbol | unit | meaning and sign |\n| --- | --- | --- | --- |\n{rows}\n{tail}"
