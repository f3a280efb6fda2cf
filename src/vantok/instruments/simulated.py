"""A simulated set of instruments: pads, axle and tongue scale, gauges, a height sensor that settle, are noisy and can drop out; a ride logger.

`run.py instruments` serves it on a socket; it speaks the line protocol that real ones speak.
"""

from __future__ import annotations

import argparse
import os
import random
import socketserver
import threading
import time
from collections.abc import Iterator
from dataclasses import dataclass, field
from math import ceil, cos, exp, pi, sqrt

from vantok.wire.line import CHANNELS, Reading, State, write_line

PORT = int(os.environ.get("VANTOK_INSTRUMENTS_PORT", "8711"))
BEAT = 0.2
"""Seconds between two readings of a channel."""
SETTLE = 1.2
"""Time constant of the settling, s."""
STEADY_AFTER = 4.0
"""Time constants after which a reading is steady."""
NOISES = {
    "PADS": (0.6, 0.5),
    "AXLE": (0.6, 0.5),
    "TONGUE": (0.6, 0.5),
    "GAUGE": (400.0, 1000.0),
    "HEIGHT": (0.0003, 0.0005),
}
"""Standard deviation of the noise of each instrument, and its step (SI)."""
RIDE_RATE, PUSHED_EVERY, PUSH = 100.0, 9.0, 1.2
"""Samples a second of the ride logger; how often the body is pushed and let go (s), and how hard (m/s2)."""
ROCK = 0.08
"""How far off, as a share, a wheel reads when it has just rolled on."""


@dataclass(slots=True, kw_only=True)
class Bench:
    """What truly stands on the instruments (kg), at the gauges (Pa) and under the sensor (m); how the body swings that is pushed down again and again
    (undamped Hz, share of critical); which channel drops out, and for how long out of how long (s)."""

    pads: tuple[float, float, float, float] = (634.0, 656.0, 1010.0, 1042.0)
    axle: float = 2052.0
    tongue: float = 168.0
    gauges: tuple[float, float] = (250e3, 250e3)
    height: float = 0.742
    swing: tuple[float, float] = (1.5, 0.22)
    drops: str = ""
    silent: float = 6.0
    every: float = 20.0
    seed: int = 1
    settle: float = SETTLE
    started: float = field(default_factory=time.monotonic)

    def readings(self, now: float) -> Iterator[Reading]:
        """Yield what every channel says at a time (monotonic seconds); one that has dropped out says nothing."""
        age = now - self.started
        dice = random.Random(self.seed + int(age / BEAT))  # noqa: S311 - noise, not a secret
        truth = dict(zip(CHANNELS["PADS"], self.pads, strict=True)) | {"PLATFORM": self.axle, "BALL": self.tongue}
        truth |= dict(zip(CHANNELS["GAUGE"], self.gauges, strict=True)) | {"SENSOR": self.height}
        for kind, channels in CHANNELS.items():
            for channel in channels if kind != "RIDE" else ():
                if channel == self.drops and age % self.every < self.silent:
                    continue
                swing = ROCK * exp(-age / self.settle)
                noise, step = NOISES[kind]
                value = truth[channel] * (1.0 + swing) + dice.gauss(0.0, noise)
                moving = age < STEADY_AFTER * self.settle
                state: State = "moving" if moving else "steady"
                yield Reading(kind=kind, channel=channel, value=round(value / step) * step, state=state)

    def ride(self, begin: float, end: float) -> Iterator[Reading]:
        """Yield the ride logger's samples between two times (monotonic seconds): pushed down every so often, and let go."""
        f, zeta = self.swing
        pulse = 2.0 * pi * f
        for n in range(ceil((begin - self.started) * RIDE_RATE), ceil((end - self.started) * RIDE_RATE)):
            age = n / RIDE_RATE
            since = age % PUSHED_EVERY
            swing = PUSH * exp(-zeta * pulse * since) * cos(pulse * sqrt(1.0 - zeta**2) * since)
            noise = random.Random(self.seed + n).gauss(0.0, 0.01)  # noqa: S311 - noise, not a secret
            yield Reading(kind="RIDE", channel="SEAT", value=swing + noise, state="moving", clock=age)


class _Talk(socketserver.BaseRequestHandler):
    """Tells whoever connects what the instruments read, until they leave."""

    def handle(self) -> None:
        bench: Bench = self.server.bench  # type: ignore[attr-defined]
        try:
            told = time.monotonic()
            while True:
                now = time.monotonic()
                lines = "".join(f"{write_line(one)}\n" for one in (*bench.readings(now), *bench.ride(told, now)))
                told = now
                self.request.sendall(lines.encode("ascii"))
                time.sleep(BEAT)
        except OSError:
            return  # the listener has gone


class Server(socketserver.ThreadingTCPServer):
    """Serves a bench to any number of listeners."""

    allow_reuse_address = True
    daemon_threads = True

    def __init__(self, bench: Bench, port: int = PORT) -> None:
        super().__init__(("127.0.0.1", port), _Talk)
        self.bench = bench

    @property
    def url(self) -> str:
        """Where it is listened to."""
        return f"socket://127.0.0.1:{self.server_address[1]}"

    def start(self) -> Server:
        """Serve in a thread of its own."""
        threading.Thread(target=self.serve_forever, daemon=True).start()
        return self


def main() -> None:
    """Serve until stopped."""
    parser = argparse.ArgumentParser(description="A simulated set of wheel pads, axle scale and tongue scale.")
    parser.add_argument("--port", type=int, default=PORT)
    parser.add_argument(
        "--pads", default="634,656,1010,1042", help="front left, front right, rear left, rear right, kg"
    )
    parser.add_argument("--axle", type=float, default=2052.0, help="on the axle scale, kg")
    parser.add_argument("--tongue", type=float, default=168.0, help="on the tongue scale, kg")
    parser.add_argument("--drops", default="RR", help="the channel that drops out now and then; empty for none")
    asked = parser.parse_args()
    pads = [float(p) for p in asked.pads.split(",")]
    if len(pads) != len(CHANNELS["PADS"]):
        parser.error("--pads takes four figures")
    bench = Bench(pads=(pads[0], pads[1], pads[2], pads[3]), axle=asked.axle, tongue=asked.tongue, drops=asked.drops)
    with Server(bench, asked.port) as server:
        print(f"Simulated instruments at {server.url}. Stop with Ctrl-C.", flush=True)
        try:
            server.serve_forever()
        except KeyboardInterrupt:
            return


if __name__ == "__main__":
    main()
