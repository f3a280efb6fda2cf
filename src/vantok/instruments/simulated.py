"""A simulated set of instruments: wheel pads, an axle scale and a tongue scale that settle, are noisy, and can drop out.

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
from math import exp

from vantok.instruments.line import CHANNELS, Load, write_line

PORT = int(os.environ.get("VANTOK_INSTRUMENTS_PORT", "8711"))
BEAT = 0.2
"""Seconds between two readings of a channel."""
SETTLE = 1.2
"""Time constant of the settling, s."""
STEADY_AFTER = 4.0
"""Time constants after which a reading is steady."""
NOISE = 0.6
"""Standard deviation of the noise, kg."""
ROCK = 0.08
"""How far off, as a share, a wheel reads when it has just rolled on."""


@dataclass(slots=True, kw_only=True)
class Bench:
    """What truly stands on the instruments (kg), which channel drops out, and for how long out of how long (s)."""

    pads: tuple[float, float, float, float] = (634.0, 656.0, 1010.0, 1042.0)
    axle: float = 2052.0
    tongue: float = 168.0
    drops: str = ""
    silent: float = 6.0
    every: float = 20.0
    seed: int = 1
    settle: float = SETTLE
    started: float = field(default_factory=time.monotonic)

    def readings(self, now: float) -> Iterator[Load]:
        """Yield what every channel says at a time (monotonic seconds); one that has dropped out says nothing."""
        age = now - self.started
        dice = random.Random(self.seed + int(age / BEAT))  # noqa: S311 - noise, not a secret
        truth = dict(zip(CHANNELS["PADS"], self.pads, strict=True)) | {"PLATFORM": self.axle, "BALL": self.tongue}
        for kind, channels in CHANNELS.items():
            for channel in channels:
                if channel == self.drops and age % self.every < self.silent:
                    continue
                swing = ROCK * exp(-age / self.settle)
                kg = truth[channel] * (1.0 + swing) + dice.gauss(0.0, NOISE)
                moving = age < STEADY_AFTER * self.settle
                yield Load(kind=kind, channel=channel, kg=round(kg * 2.0) / 2.0, state="moving" if moving else "steady")


class _Talk(socketserver.BaseRequestHandler):
    """Tells whoever connects what the instruments read, until they leave."""

    def handle(self) -> None:
        bench: Bench = self.server.bench  # type: ignore[attr-defined]
        try:
            while True:
                lines = "".join(f"{write_line(load)}\n" for load in bench.readings(time.monotonic()))
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
