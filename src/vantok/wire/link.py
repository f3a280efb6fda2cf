"""Listening to an instrument: one thread a line, started when somebody looks and ended when nobody has looked for a while."""

from __future__ import annotations

import threading
import time
from collections import deque
from dataclasses import dataclass, field, replace

import serial

from vantok.wire.line import LineError, Reading, read_line

LOST = 3.0
"""Seconds of silence after which a channel is lost."""
UNWATCHED = 20.0
"""Seconds without a look after which the line is let go."""
RETRY = 1.0
MOST_SAMPLES = 6000
"""Samples of a trace that are kept: half a minute and more at a hundred a second."""
WAIT, CHUNK = 0.15, 65_536
"""How long a look at the wire lasts (s), and how much it takes at once (bytes)."""


@dataclass(frozen=True, slots=True)
class Seen:
    """A channel's last reading and when it came (monotonic seconds)."""

    load: Reading
    at: float

    def lost(self, now: float) -> bool:
        """Whether the channel has been silent for too long."""
        return now - self.at > LOST


@dataclass(slots=True)
class Link:
    """A line to an instrument: what was last read of each channel, of those with a clock their last samples (s, SI); what is wrong with it (empty: nothing)."""

    url: str
    seen: dict[str, Seen] = field(default_factory=dict)
    traces: dict[str, deque[tuple[float, float]]] = field(default_factory=dict)
    problem: str = "connecting"
    garbled: int = 0
    looked: float = field(default_factory=time.monotonic)
    alive: bool = True

    def listen(self) -> None:
        """Read the line until nobody looks any more; a lost one is tried again."""
        while time.monotonic() - self.looked < UNWATCHED:
            try:
                with serial.serial_for_url(self.url, timeout=WAIT) as port:
                    self.problem = ""
                    self._read(port)
            except (serial.SerialException, OSError, ValueError) as error:
                self.problem = f"not reached ({_short(error)})"
                time.sleep(RETRY)
        self.alive = False

    def _read(self, port: serial.SerialBase) -> None:
        pending = b""
        while time.monotonic() - self.looked < UNWATCHED:
            pending += port.read(CHUNK)
            *lines, pending = pending.split(b"\n")
            pending = pending[-200:]
            self._take(lines)

    def _take(self, lines: list[bytes]) -> None:
        """Keep the newest line of each channel; of an instrument that talks faster than anybody looks the others are passed over."""
        newest: dict[bytes, bytes] = {}
        for line in lines:
            if line.strip():  # one with a clock is a sample of a trace: each of them counts
                newest[line if b"@" in line else b" ".join(line.split()[:2])] = line
        for line in newest.values():
            try:
                load = read_line(line.decode("ascii", errors="replace"))
            except LineError:
                self.garbled += 1
                continue
            self.seen = self.seen | {load.channel: Seen(load, time.monotonic())}
            if load.clock is not None and load.value is not None:
                self._sampled(load.channel, load.clock, load.value)

    def _sampled(self, channel: str, clock: float, value: float) -> None:
        """Keep a sample; a clock that went back begins anew."""
        trace = self.traces.setdefault(channel, deque(maxlen=MOST_SAMPLES))
        if trace and clock <= trace[-1][0]:
            trace.clear()
        trace.append((clock, value))

    def trace(self, channel: str, seconds: float) -> tuple[list[float], list[float]]:
        """Return the last so many seconds of a channel's samples: times (s) and figures (SI)."""
        kept = list(self.traces.get(channel, ()))
        last = [(t, v) for t, v in kept if t >= kept[-1][0] - seconds]
        return [t for t, _ in last], [v for _, v in last]

    def as_it_stands(self) -> Link:
        """Return a copy that nothing is added to any more."""
        return replace(self, traces={channel: deque(list(told)) for channel, told in list(self.traces.items())})

    def latest(self) -> dict[str, Reading]:
        """Return each channel's reading; one that has been silent for too long has no figure and is a fault."""
        now = time.monotonic()
        return {
            channel: replace(seen.load, value=None, state="fault") if seen.lost(now) or self.problem else seen.load
            for channel, seen in self.seen.items()
        }


def _short(error: Exception) -> str:
    text = str(error)
    return (
        "nobody answers there"
        if "refused" in text.lower()
        else text.splitlines()[0][:80]
        if text
        else type(error).__name__
    )


_LINKS: dict[str, Link] = {}
_LOCK = threading.Lock()


def look(url: str) -> Link:
    """Return the line to an address, listening to it from now on."""
    with _LOCK:
        link = _LINKS.get(url)
        if link is None or not link.alive:
            link = _LINKS[url] = Link(url)
            threading.Thread(target=link.listen, name=f"instrument {url}", daemon=True).start()
        link.looked = time.monotonic()
        return link


def let_go() -> None:
    """Let every line go (for tests and for a changed address)."""
    with _LOCK:
        for link in _LINKS.values():
            link.looked = -UNWATCHED
        _LINKS.clear()
