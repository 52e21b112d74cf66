"""What asks the stage: where props stand, births on them, places held there, nearest places, rays and pictures.

All are leaves: one function over whole arrays serves both engines. Everything inside is float64.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

import numpy as np

from ..running import Run
from .entry import LEAF, Entry

if TYPE_CHECKING:
    from ...plan import Operation

F64 = np.float64
# what a birth on a prop gives, in order
BORN = ("x", "y", "z", "nx", "ny", "nz", "u", "v", "face", "b1", "b2", "ox", "oy", "oz", "vx", "vy", "vz", "found")
SAMPLED = ("distance", "u", "v", "red", "green", "blue", "alpha")


def _columns(args: list[Any], n: int) -> np.ndarray:
    """Return arguments side by side, (n, k) float64, whether all particles share them or not."""
    return np.stack([np.broadcast_to(np.asarray(a, F64), (n,)) for a in args], axis=1)


def _asks(answer: Callable[[Any, Any, list[Any], np.ndarray, int], Any]) -> Callable[..., None]:
    """Return an operation's function of one that takes (stage, what is asked, arguments but the time, times, n)."""

    def numpy(run: Run, op: Operation, args: list[Any], outs: list[Any]) -> None:
        asked, stage, n = run.values.props[int(op.attrs[0])], run.values.stage, len(outs[0])
        assert stage is not None, "a plan that asks the stage runs in a `Playing`"
        time = run.exact.get(op.args[-1], args[-1])  # where props stand is asked at the very time, not at the float32 next to it
        times = np.broadcast_to(np.asarray(time, F64), (n,)) if isinstance(time, np.ndarray) and len(time) == n else np.full(1, time, F64)
        for out, value in zip(outs, answer(stage, asked, args[:-1], times, n), strict=True):
            out[...] = value

    return numpy


def _reach(stage: Any, asked: Any, args: list[Any], times: np.ndarray, n: int) -> list[np.ndarray]:
    given = _columns(args, n)
    return [stage.reach(asked.prop, given[:, :3], given[:, 3:], times)]


OPERATIONS: dict[str, Entry] = {
    "prop_matrix": Entry(1, _asks(lambda stage, asked, args, times, n: stage.matrices(asked.prop, times)[:, :3].reshape(-1, 12).T),
                         LEAF, outs=12, whole=True),
    "prop_born": Entry(5, _asks(lambda stage, asked, args, times, n: stage.born(asked, _columns(args[:3], n), times, _columns(args[3:], n)[:, 0])),
                       LEAF, outs=len(BORN), whole=True),
    "prop_bound": Entry(7, _asks(lambda stage, asked, args, times, n: stage.bound(asked, _columns(args[:3], n), _columns(args[3:], n), times)),
                        LEAF, outs=len(BORN), whole=True),
    "prop_held": Entry(7, _asks(lambda stage, asked, args, times, n: stage.held(asked.prop, _columns(args[:3], n), _columns(args[3:], n), times).T),
                       LEAF, outs=3, whole=True),
    "prop_sample": Entry(4, _asks(lambda stage, asked, args, times, n: stage.sample(asked.prop, _columns(args, n), times)),
                         LEAF, outs=len(SAMPLED), whole=True),
    "prop_reach": Entry(7, _asks(_reach), LEAF, whole=True),
    "prop_picture": Entry(3, _asks(lambda stage, asked, args, times, n: stage.picture(asked.prop, _columns(args, n), times).T),
                          LEAF, outs=4, whole=True),
}  # fmt: skip
