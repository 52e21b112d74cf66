"""What asks the stage: where props stand, births on them, places held there, nearest places, rays and pictures.

All are leaves: one function over whole arrays serves both engines. Everything inside is float64.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

import numpy as np

from ..run_state import Run
from .entry import LEAF, Entry

if TYPE_CHECKING:
    from ...program import Operation

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
        query, stage, n = run.values.queries[int(op.attrs[0])], run.values.stage, len(outs[0])
        assert stage is not None, "a plan that asks the stage runs in a `Playing`"
        time = run.exact.get(
            op.args[-1], args[-1]
        )  # where props stand is asked at the very time, not at the float32 next to it
        times = (
            np.broadcast_to(np.asarray(time, F64), (n,))
            if isinstance(time, np.ndarray) and len(time) == n
            else np.full(1, time, F64)
        )
        for out, value in zip(outs, answer(stage, query, args[:-1], times, n), strict=True):
            out[...] = value

    return numpy


def _reach(stage: Any, query: Any, args: list[Any], times: np.ndarray, n: int) -> list[np.ndarray]:
    given = _columns(args, n)
    return [stage.reach(query.prop, given[:, :3], given[:, 3:], times)]


def _ridden(stage: Any, query: Any, args: list[Any], times: np.ndarray, n: int) -> list[np.ndarray]:
    return stage.ridden(query, _columns(args[:2], n), _columns(args[2:], n), times)


def _along(stage: Any, query: Any, args: list[Any], times: np.ndarray, n: int) -> list[np.ndarray]:
    return stage.along(query, *_columns(args, n).T, times)


def _footed(stage: Any, query: Any, args: list[Any], times: np.ndarray, n: int) -> list[np.ndarray]:
    given = _columns(args, n)
    return stage.footed(query.prop, given[:, :3], given[:, 3], times)


def _walked(stage: Any, query: Any, args: list[Any], times: np.ndarray, n: int) -> list[np.ndarray]:
    given = _columns(args, n)
    return stage.walked(query, given[:, :3], given[:, 3], given[:, 4:7], given[:, 7:10], given[:, 10], times)


def _carried(stage: Any, query: Any, args: list[Any], times: np.ndarray, n: int) -> list[np.ndarray]:
    given = _columns(args, n)
    return stage.carried(query.prop, given[:, :3], given[:, 3:6], given[:, 6], times)


def _met(run: Run, op: Operation, args: list[Any], outs: list[Any]) -> None:
    """Take particles through contacts: arguments of `kernels.contacts`, then keys, the length of the whole step and its end."""
    query, stage = run.values.queries[int(op.attrs[0])], run.values.stage
    assert stage is not None, "a plan that asks the stage runs in a `Playing`"
    *given, keys, length, _ = args
    # a length is one number; where things stand is asked at the very time
    until = run.exact.get(op.args[-1], args[-1])
    step, end = (float(value[0]) if isinstance(value, np.ndarray) else float(value) for value in (length, until))
    stage.met(query, given, np.asarray(keys, np.uint64), step, end, outs)


def _met_colour(run: Run, op: Operation, args: list[Any], outs: list[Any]) -> None:
    query, stage = run.values.queries[int(op.attrs[0])], run.values.stage
    assert stage is not None, "a plan that asks the stage runs in a `Playing`"
    given = _columns(args, len(outs[0]))
    for out, value in zip(outs, stage.met_colour(query, given[:, 0], given[:, 1], given[:, 2:]).T, strict=True):
        out[...] = value


OPERATIONS: dict[str, Entry] = {
    "prop_matrix": Entry(
        _asks(lambda stage, query, args, times, n: stage.matrices(query.prop, times)[:, :3].reshape(-1, 12).T),
        LEAF,
        whole=True,
    ),
    "prop_velocity": Entry(
        _asks(lambda stage, query, args, times, n: stage.velocities(query.prop, times).T), LEAF, whole=True
    ),
    "prop_travelled": Entry(
        _asks(lambda stage, query, args, times, n: [stage.travelled(query.prop, times)]), LEAF, whole=True
    ),
    "prop_born": Entry(
        _asks(
            lambda stage, query, args, times, n: stage.born(
                query, _columns(args[:3], n), times, _columns(args[3:], n)[:, 0]
            )
        ),
        LEAF,
        whole=True,
    ),
    "prop_bound": Entry(
        _asks(
            lambda stage, query, args, times, n: stage.bound(query, _columns(args[:3], n), _columns(args[3:], n), times)
        ),
        LEAF,
        whole=True,
    ),
    "prop_held": Entry(
        _asks(
            lambda stage, query, args, times, n: (
                stage.held(query.prop, _columns(args[:3], n), _columns(args[3:], n), times).T
            )
        ),
        LEAF,
        whole=True,
    ),
    "prop_part": Entry(
        _asks(lambda stage, query, args, times, n: stage.part_facts(query.detail, _columns(args, n)[:, 0])),
        LEAF,
        whole=True,
    ),
    "prop_turned": Entry(
        _asks(lambda stage, query, args, times, n: stage.turned(query.prop, _columns(args[:3], n), times).T),
        LEAF,
        whole=True,
    ),
    "prop_sample": Entry(
        _asks(lambda stage, query, args, times, n: stage.sample(query.prop, _columns(args, n), times)), LEAF, whole=True
    ),
    "prop_nearest": Entry(
        _asks(lambda stage, query, args, times, n: stage.nearest(query.prop, _columns(args, n), times)),
        LEAF,
        whole=True,
    ),
    "prop_middle": Entry(
        _asks(lambda stage, query, args, times, n: stage.middle(query.prop, times).T), LEAF, whole=True
    ),
    "prop_ridden": Entry(_asks(_ridden), LEAF, whole=True),
    "prop_along": Entry(_asks(_along), LEAF, whole=True),
    "prop_field": Entry(
        _asks(lambda stage, query, args, times, n: stage.field(query, _columns(args, n), times).T), LEAF, whole=True
    ),
    "prop_footing": Entry(
        _asks(lambda stage, query, args, times, n: stage.footing(query.prop, _columns(args, n), times)),
        LEAF,
        whole=True,
    ),
    "prop_footed": Entry(_asks(_footed), LEAF, whole=True),
    "prop_walked": Entry(_asks(_walked), LEAF, whole=True),
    "prop_carried": Entry(_asks(_carried), LEAF, whole=True),
    "met": Entry(_met, LEAF, whole=True),
    "met_cued": Entry(_met, LEAF, whole=True),
    "met_often": Entry(_met, LEAF, whole=True),
    "met_colour": Entry(_met_colour, LEAF, whole=True),
    "prop_painted": Entry(
        _asks(lambda stage, query, args, times, n: [stage.painted(query.prop, _columns(args, n), times)]),
        LEAF,
        whole=True,
    ),
    "prop_reach": Entry(_asks(_reach), LEAF, whole=True),
    "prop_picture": Entry(
        _asks(lambda stage, query, args, times, n: stage.picture(query.prop, _columns(args, n), times).T),
        LEAF,
        whole=True,
    ),
}
