"""Matched loops, in which each life continues over the seam: particles that live beyond the end are present at the
beginning, and those born before the beginning are present at the end."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from ..rows.turn import ROTATION_STATE
from ..simulation import CARRIED, POSITION, VELOCITY, Population
from .looped import EVEN, Looped, Part

F32, F64 = np.float32, np.float64


@dataclass(frozen=True)
class Births:
    """The births that a loop is made from: those of one window's length from frame `since` on whose lives end within
    the available frames. longest: the longest such life, in frames. stays: keys of particles that live throughout the
    window, in order."""

    since: float
    longest: float
    stays: np.ndarray


class Matched(Looped):
    """Every life that began within one window's length continues to its end, also in the next repetition. A particle
    that lives too long for that and is present at both ends glides back to where it was; one present at only one end is
    faded."""

    def births(self, stopped: Callable[[], None]) -> Births:
        """Return the births that the loop is made from: the window's own, where enough frames follow it; otherwise
        those from so long before that their lives are over."""
        if "_births" not in self.__dict__:
            window = self.window
            room = float(window.high - window.length - window.low)
            longest = 0.0
            for k in range(window.low, window.high + 1):
                stopped()
                frames = self.run.frame_at(k, stopped).population.lifespan.astype(F64) * self.rate
                longest = max(longest, frames.max(initial=0, where=frames <= room + EVEN))
            since = max(min(float(window.first), window.high - window.length - longest), float(window.low))
            ends = [self.run.frame_at(k, stopped).population for k in (window.first, window.last)]
            keys = [self._long(each, room, True).key for each in ends]
            self._births = Births(since, room, np.intersect1d(keys[0], keys[1]))
        return self._births

    def parts(self, within: float, stopped: Callable[[], None]) -> list[Part]:
        births, window = self.births(stopped), self.window
        parts = []
        begun, over = self.seconds(births.since), self.seconds(births.since + window.length)
        for k in self._turns(births, within):
            living = self._long(self.at_simulated(within - k * window.length, stopped), births.longest, False)
            of = (living.birth_time >= begun - EVEN) & (living.birth_time < over - EVEN)
            parts.append(Part(living.where(of), k))
        long = self._long(self.at_simulated(within, stopped), births.longest, True)
        stays = np.isin(long.key, births.stays)
        if stays.any():
            parts.append(Part(self._gliding(long.where(stays), within, stopped), None))
        if not stays.all():
            rest = long.where(~stays)
            parts.append(Part(rest, 0, self._faded(rest, within)))
        return parts

    def lacks(self, stopped: Callable[[], None]) -> tuple[int, int]:
        births, window = self.births(stopped), self.window
        keys, longest = [], 0.0
        for k, end in ((window.first, window.first), (window.last, window.last + 1)):
            long = self._long(self.at_simulated(k, stopped), births.longest, True)
            over = long.birth_time + long.lifespan.astype(F64) > self.seconds(end) + EVEN
            cut = long.where(~np.isin(long.key, births.stays) & over & (long.birth_time < self.seconds(end) - EVEN))
            keys.append(cut.key)
            longest = max(longest, float(cut.lifespan.max(initial=0)) * self.rate)
        total = len(np.union1d(*keys))
        return total, math.ceil(longest - births.longest - EVEN) if total else 0

    def needs(self, frames: float) -> list[int]:
        return list(range(self.window.low, self.window.high + 1))

    def _turns(self, births: Births, within: float) -> range:
        """Return the possible numbers of repetitions of particles shown at a time of the window: how many windows
        earlier they were simulated."""
        length = self.window.length
        first = math.ceil((within - self.window.high) / length - EVEN)
        return range(first, math.floor((within - births.since) / length + EVEN) + 1)

    def _long(self, living: Population, longest: float, longer: bool) -> Population:
        """Return the particles whose lives are longer than fits, or the others."""
        return living.where((living.lifespan.astype(F64) * self.rate > longest + EVEN) == longer)

    def _faded(self, living: Population, within: float) -> np.ndarray:
        """Return the visible share of particles that cannot be continued, (n,): zero at an end of the window beyond
        which they live."""
        window = self.window
        first, end = self.seconds(window.first), self.seconds(window.last + 1)
        over = max(window.over, EVEN)
        share = np.ones(len(living))
        before = living.birth_time < first - EVEN
        share[before] = min((within - window.first) / over, 1.0)
        beyond = living.birth_time + living.lifespan.astype(F64) > end + EVEN
        share[beyond] = np.minimum(share[beyond], min((window.last + 1 - within) / over, 1.0))
        return share

    def _gliding(self, living: Population, within: float, stopped: Callable[[], None]) -> Population:
        """Return the particles that live throughout the window, brought over its end to where they were a window
        earlier: positions, velocities, ages and carried columns. Where nothing is known from then, they are taken to
        have moved straight."""
        window = self.window
        gone = (within - (window.last + 1 - window.over)) / window.over if window.over > EVEN else 0.0
        if gone <= 0:
            return living
        u, du = gone * gone * (3 - 2 * gone), 6 * gone * (1 - gone) / window.over * self.rate
        time = within - window.length
        ago = self.run.frame_at(window.first, stopped).population
        first = self._of(living.key, ago).floats.astype(F64)
        back = (time - window.first) / self.rate
        first[POSITION:VELOCITY] += first[VELOCITY:CARRIED] * back
        first[0] += back
        if time >= window.low:
            then = self.at_simulated(time, stopped)
            there = np.isin(living.key, then.key)
            first[:, there] = self._of(living.key[there], then).floats
        floats = living.floats.astype(F64)
        names = living.names
        smooth = [CARRIED + i for i, name in enumerate(names) if name in ROTATION_STATE or name.startswith("own.")]
        turns = [CARRIED + names.index(name) for name in ROTATION_STATE if name in names]
        gap = first - floats
        if turns:  # the same turn, told with the nearer sign
            gap[turns] = (
                first[turns] * np.where((floats[turns] * first[turns]).sum(axis=0) < 0, -1.0, 1.0) - floats[turns]
            )
        floats[POSITION:VELOCITY] += gap[POSITION:VELOCITY] * u
        floats[VELOCITY:CARRIED] += gap[VELOCITY:CARRIED] * u + gap[POSITION:VELOCITY] * du
        floats[0] = np.maximum(floats[0] + gap[0] * u, 0)
        for row in smooth:
            floats[row] += gap[row] * u
        if "rotation" in names:  # on to the nearest turn that looks alike
            row = CARRIED + names.index("rotation")
            floats[row] += (np.remainder(gap[row] + np.pi, 2 * np.pi) - np.pi) * u
        if turns:
            floats[turns] /= np.maximum(np.linalg.norm(floats[turns], axis=0), 1e-12)
        return living.with_floats(np.ascontiguousarray(floats.astype(F32)))

    @staticmethod
    def _of(keys: np.ndarray, among: Population) -> Population:
        """Return the particles with some keys, all of them present, in their order."""
        order = np.argsort(among.key, kind="stable")
        return among.where(order[np.searchsorted(among.key[order], keys)])
