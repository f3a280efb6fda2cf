"""Newton's method on the seven equilibrium equations, the wheels eliminated axle by axle.

Unknowns: ground drop u at the front axle, pitch theta, lean phi, and four wheel drops w. Each wheel's equation is
`S(z) - Q = k_t w` with `z = d - w`; the body's are force, pitch and roll moment. The tangent is analytic; each axle's two
wheel rows are eliminated by hand, leaving a symmetric 3x3. The same arithmetic serves one state and a batch.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from vantok_core.base.errors import NoEquilibriumError, UnstableBodyError
from vantok_core.base.num import Real, all_finite, anywhere, highest, largest, lowest, pick
from vantok_core.base.work import look
from vantok_core.physics.levers import Resultant
from vantok_core.physics.stance.assembly import Assembly, AxleLines

ACCEPTED = 1e-6
"""Largest residual accepted, as a share of the vehicle's weight (method section 4)."""
SOUGHT = 1e-10
LONGEST_STEP = 0.2
"""Largest change of a corner's height in one step, m."""
MOST_STEPS = 80


@dataclass(frozen=True, slots=True, kw_only=True)
class AxleStance:
    """An axle in equilibrium, left and right: ground drop d, hub drop z, tyre squash w (m), suspension force S (N)."""

    d: tuple[Real, Real]
    z: tuple[Real, Real]
    w: tuple[Real, Real]
    force: tuple[Real, Real]

    def row(self, n: int) -> AxleStance:
        """Return state n of several that were solved as rows of a batch. Source: method section 4."""
        return AxleStance(d=_row(self.d, n), z=_row(self.z, n), w=_row(self.w, n), force=_row(self.force, n))


@dataclass(frozen=True, slots=True, kw_only=True)
class Equilibrium:
    """A solved state: front drop u (m), theta, phi (rad), both axles, steps taken, residual over weight."""

    u: Real
    theta: Real
    phi: Real
    front: AxleStance
    rear: AxleStance
    steps: int
    residual: float

    @property
    def unknowns(self) -> Unknowns:
        """The seven unknowns of the equations (m, rad), to begin a state near this one from. Source: method section 4."""
        return self.u, self.theta, self.phi, *self.front.w, *self.rear.w

    def row(self, n: int) -> Equilibrium:
        """Return state n of several that were solved as rows of a batch. Source: method section 4."""
        (u, theta), (phi, _) = _row((self.u, self.theta), n), _row((self.phi, self.phi), n)
        return replace(self, u=u, theta=theta, phi=phi, front=self.front.row(n), rear=self.rear.row(n))


def _row(values: tuple[Real, Real], n: int) -> tuple[Real, Real]:
    left, right = values
    return left[n], right[n]  # type: ignore[index]


Unknowns = tuple[Real, Real, Real, Real, Real, Real, Real]


def _axle_terms(axle: AxleLines, u: Real, theta: Real, phi: Real, w_l: Real, w_r: Real) -> tuple[Real, ...]:
    """Return forces, rates and wheel residuals of one axle at the unknowns."""
    d = u + axle.station * theta
    tilt = axle.half_track * phi
    s_l, s_r, k_ll, k_lr, k_rl, k_rr = axle.press(d - tilt - w_l, d + tilt - w_r)
    over_l, over_r = s_l - axle.held_left, s_r - axle.held_right
    return (over_l, over_r, k_ll, k_lr, k_rl, k_rr, over_l - axle.tyre_rate * w_l, over_r - axle.tyre_rate * w_r)


def _condensed(axle: AxleLines, terms: tuple[Real, ...]) -> tuple[Real, ...]:
    """Eliminate an axle's two wheels: return (K + k_t)^-1 and the axle's rate to ground, entry by entry."""
    _, _, k_ll, k_lr, k_rl, k_rr, _, _ = terms
    k_t = axle.tyre_rate
    a, d = k_ll + k_t, k_rr + k_t
    det = a * d - k_lr * k_rl
    g_ll, g_lr, g_rl, g_rr = d / det, -k_lr / det, -k_rl / det, a / det
    return (
        g_ll,
        g_lr,
        g_rl,
        g_rr,
        k_t * (1.0 - k_t * g_ll),
        -k_t * k_t * g_lr,
        -k_t * k_t * g_rl,
        k_t * (1.0 - k_t * g_rr),
    )


def _body_rows(axle: AxleLines, c: tuple[Real, ...]) -> tuple[Real, ...]:
    """Return an axle's part of the body's 3x3 tangent, rows (force, pitch, roll) by (u, theta, phi)."""
    _, _, _, _, e_ll, e_lr, e_rl, e_rr = c
    s, h = axle.station, axle.half_track
    total = e_ll + e_lr + e_rl + e_rr
    by_phi = h * (e_lr + e_rr - e_ll - e_rl)  # force gained per phi
    by_roll = h * (e_rl + e_rr - e_ll - e_lr)  # roll moment gained per u
    roll = h * h * (e_ll + e_rr - e_lr - e_rl)
    return total, s * total, by_phi, s * total, s * s * total, s * by_phi, by_roll, s * by_roll, roll


def _body_force(axle: AxleLines, terms: tuple[Real, ...]) -> tuple[Real, Real, Real]:
    """Return force, pitch and roll moment (N, N m, N m) that an axle adds to the reference's."""
    over_l, over_r = terms[0], terms[1]
    both = over_l + over_r
    return both, axle.station * both, axle.half_track * (over_r - over_l)


def _carried(axle: AxleLines, terms: tuple[Real, ...], c: tuple[Real, ...]) -> tuple[Real, Real, Real]:
    """Return the body residual that the wheels' own residuals bring when they are eliminated."""
    r_l, r_r = terms[6], terms[7]
    g_ll, g_lr, g_rl, g_rr = c[:4]
    k_t = axle.tyre_rate
    q_l = r_l - k_t * (g_ll * r_l + g_lr * r_r)
    q_r = r_r - k_t * (g_rl * r_l + g_rr * r_r)
    both = q_l + q_r
    return both, axle.station * both, axle.half_track * (q_r - q_l)


def _solve_3x3(m: tuple[Real, ...], r: tuple[Real, Real, Real]) -> tuple[Real, Real, Real, Real]:
    """Return the solution of the 3x3 and its determinant, by cofactors."""
    a, b, c, d, e, f, g, h, i = m
    c_a, c_b, c_c = e * i - f * h, f * g - d * i, d * h - e * g
    det = a * c_a + b * c_b + c * c_c
    x, y, z = r
    return (
        (x * c_a + y * (c * h - b * i) + z * (b * f - c * e)) / det,
        (x * c_b + y * (a * i - c * g) + z * (c * d - a * f)) / det,
        (x * c_c + y * (b * g - a * h) + z * (a * e - b * d)) / det,
        det,
    )


class _Problem:
    """One state's equations; kept together so that a step reads like the algebra above."""

    def __init__(self, assembly: Assembly, load: Resultant) -> None:
        self.front, self.rear, self.load = assembly.front, assembly.rear, load
        self.weight = assembly.weight
        self.lengths = (assembly.rear.station, 2.0 * assembly.front.half_track)

    def evaluate(self, x: Unknowns) -> tuple[tuple[Real, ...], tuple[Real, ...], tuple[Real, Real, Real], Real]:
        """Return both axles' terms, the body's residual, and the worst residual over the weight."""
        u, theta, phi, *w = x
        front = _axle_terms(self.front, u, theta, phi, w[0], w[1])
        rear = _axle_terms(self.rear, u, theta, phi, w[2], w[3])
        force_f, pitch_f, roll_f = _body_force(self.front, front)
        force_r, pitch_r, roll_r = _body_force(self.rear, rear)
        load = self.load
        body = (
            force_f + force_r - load.force,
            pitch_f + pitch_r - load.pitch,
            roll_f + roll_r + load.lateral - load.topple * phi,
        )
        scaled = [body[0], body[1] / self.lengths[0], body[2] / self.lengths[1], *front[6:8], *rear[6:8]]
        return front, rear, body, largest(scaled) / self.weight

    def step(
        self, front: tuple[Real, ...], rear: tuple[Real, ...], body: tuple[Real, Real, Real]
    ) -> tuple[Unknowns, Real, Real]:
        """Return the Newton step of the seven unknowns, the tangent's determinant and its roll entry."""
        c_f, c_r = _condensed(self.front, front), _condensed(self.rear, rear)
        tangent = [a + b for a, b in zip(_body_rows(self.front, c_f), _body_rows(self.rear, c_r), strict=True)]
        tangent[8] = tangent[8] - self.load.topple
        from_f, from_r = _carried(self.front, front, c_f), _carried(self.rear, rear, c_r)
        right = (from_f[0] + from_r[0] - body[0], from_f[1] + from_r[1] - body[1], from_f[2] + from_r[2] - body[2])
        u, theta, phi, det = _solve_3x3(tuple(tangent), right)
        w_f = self._wheels(self.front, front, c_f, u, theta, phi)
        w_r = self._wheels(self.rear, rear, c_r, u, theta, phi)
        return (u, theta, phi, *w_f, *w_r), det, tangent[8]

    @staticmethod
    def _wheels(
        axle: AxleLines, terms: tuple[Real, ...], c: tuple[Real, ...], u: Real, theta: Real, phi: Real
    ) -> tuple[Real, Real]:
        _, _, k_ll, k_lr, k_rl, k_rr, r_l, r_r = terms
        d = u + axle.station * theta
        tilt = axle.half_track * phi
        p_l = r_l + k_ll * (d - tilt) + k_lr * (d + tilt)
        p_r = r_r + k_rl * (d - tilt) + k_rr * (d + tilt)
        return c[0] * p_l + c[1] * p_r, c[2] * p_l + c[3] * p_r

    def longest(self, step: Unknowns) -> Real:
        """Return the largest change of height that a step makes at any corner or tyre (m)."""
        u, theta, phi, *w = step
        f, r = u, u + self.rear.station * theta
        a, b = self.front.half_track * phi, self.rear.half_track * phi
        return largest([f - a, f + a, r - b, r + b, *w])


def _moved(x: Unknowns, step: Unknowns, share: Real) -> Unknowns:
    a, b, c, d, e, f, g = (p + share * q for p, q in zip(x, step, strict=True))
    return a, b, c, d, e, f, g


def equilibrium(assembly: Assembly, load: Resultant, state: str, start: Unknowns | None = None) -> Equilibrium:
    """Return where the body comes to rest under a load.

    Arguments: assembly: the vehicle ready to solve; load: resultant on the body (N, N m); state: its name for messages;
    start: the unknowns to begin from (m, rad). Result: Equilibrium, floats or batch arrays as the inputs are.
    Raises NoEquilibriumError when the residual stays above 1e-6 of the weight, UnstableBodyError when the solution
    found would not hold itself up. Source: method section 4.
    """
    look()
    problem = _Problem(assembly, load)
    x = start or (0.0,) * 7
    with np.errstate(all="ignore"):  # a diverging variant is caught below by its residual
        x, terms, worst, steps, stable = _iterate(problem, x)
    if not all_finite([worst, *x]) or highest(worst) > ACCEPTED:
        raise NoEquilibriumError(
            state, f"no resting place was found (residual {highest(worst):.1e} of the weight); check loads and springs."
        )
    if not stable:
        raise UnstableBodyError(state)
    return _as_equilibrium(problem, x, terms, steps, highest(worst))


def _iterate(
    problem: _Problem, x: Unknowns
) -> tuple[Unknowns, tuple[tuple[Real, ...], tuple[Real, ...]], Real, int, bool]:
    front, rear, body, worst = problem.evaluate(x)
    steps, stale = 0, 0
    while True:
        step, det, roll = problem.step(front, rear, body)
        far = problem.longest(step)
        share = pick(far > LONGEST_STEP, LONGEST_STEP / pick(far > 0.0, far, 1.0), 1.0)
        before = worst
        x_next = _moved(x, step, share)
        front, rear, body, worst = problem.evaluate(x_next)
        for _ in range(12):  # halve the step wherever it made things worse
            worse = worst > before * (1.0 - 1e-4 * share) + SOUGHT
            if not anywhere(worse):
                break
            share = pick(worse, 0.5 * share, share)
            x_next = _moved(x, step, share)
            front, rear, body, worst = problem.evaluate(x_next)
        stale = stale + 1 if not highest(worst) < 0.999 * highest(before) else 0
        x = x_next
        steps += 1
        if highest(worst) < SOUGHT or steps >= MOST_STEPS or stale >= 3:
            # The tangent of the last step is that of the solution to within the step's own smallness.
            return x, (front, rear), worst, steps, lowest(det) > 0.0 and lowest(roll) > 0.0


def _as_equilibrium(
    problem: _Problem, x: Unknowns, terms: tuple[tuple[Real, ...], tuple[Real, ...]], steps: int, residual: float
) -> Equilibrium:
    u, theta, phi, *w = x

    def stance(axle: AxleLines, own: tuple[Real, ...], w_l: Real, w_r: Real) -> AxleStance:
        d = u + axle.station * theta
        tilt = axle.half_track * phi
        left, right = d - tilt, d + tilt
        force = (own[0] + axle.held_left, own[1] + axle.held_right)
        return AxleStance(d=(left, right), z=(left - w_l, right - w_r), w=(w_l, w_r), force=force)

    return Equilibrium(
        u=u,
        theta=theta,
        phi=phi,
        front=stance(problem.front, terms[0], w[0], w[1]),
        rear=stance(problem.rear, terms[1], w[2], w[3]),
        steps=steps,
        residual=residual,
    )
