"""Operations that query the stage: prop transforms, births on props, bindings, nearest points, rays and pictures.

All are array leaves: one function serves both engines. Everything inside is float64.
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
    """Return arguments side by side, (n, k) float64, shared ones repeated."""
    return np.stack([np.broadcast_to(np.asarray(a, F64), (n,)) for a in args], axis=1)


def _stage_query(answer: Callable[[Any, Any, list[Any], np.ndarray, int], Any]) -> Callable[..., None]:
    """Return an operation's function from one that takes (stage, query, arguments without the time, times, n)."""

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


def _place_on_surface(stage: Any, query: Any, args: list[Any], times: np.ndarray, n: int) -> list[np.ndarray]:
    return stage.surface_ride_places(query, _columns(args[:2], n), _columns(args[2:], n), times)


def _place_on_path(stage: Any, query: Any, args: list[Any], times: np.ndarray, n: int) -> list[np.ndarray]:
    return stage.path_ride_places(query, *_columns(args, n).T, times)


def _place_on_mesh(stage: Any, query: Any, args: list[Any], times: np.ndarray, n: int) -> list[np.ndarray]:
    given = _columns(args, n)
    return stage.places_of_footing(query.prop, given[:, :3], given[:, 3], times)


def _walk_on_mesh(stage: Any, query: Any, args: list[Any], times: np.ndarray, n: int) -> list[np.ndarray]:
    given = _columns(args, n)
    return stage.walk(query, given[:, :3], given[:, 3], given[:, 4:7], given[:, 7:10], given[:, 10], times)


def _carried_by_prop(stage: Any, query: Any, args: list[Any], times: np.ndarray, n: int) -> list[np.ndarray]:
    given = _columns(args, n)
    return stage.carried_by_prop(query.prop, given[:, :3], given[:, 3:6], given[:, 6], times)


def _resolve_contacts(run: Run, op: Operation, args: list[Any], outs: list[Any]) -> None:
    """Move particles through contacts: arguments of `kernels.contacts`, then keys, the length of the whole step and its
    end."""
    query, stage = run.values.queries[int(op.attrs[0])], run.values.stage
    assert stage is not None, "a plan that asks the stage runs in a `Playing`"
    *given, keys, length, _ = args
    # a length is one number; where things stand is asked at the very time
    until = run.exact.get(op.args[-1], args[-1])
    step, end = (float(value[0]) if isinstance(value, np.ndarray) else float(value) for value in (length, until))
    stage.resolve_contacts(query, given, np.asarray(keys, np.uint64), step, end, outs)


def _contact_colour(run: Run, op: Operation, args: list[Any], outs: list[Any]) -> None:
    query, stage = run.values.queries[int(op.attrs[0])], run.values.stage
    assert stage is not None, "a plan that asks the stage runs in a `Playing`"
    given = _columns(args, len(outs[0]))
    for out, value in zip(outs, stage.contact_colours(query, given[:, 0], given[:, 1], given[:, 2:]).T, strict=True):
        out[...] = value


OPERATIONS: dict[str, Entry] = {
    "prop_matrix": Entry(
        _stage_query(lambda stage, query, args, times, n: stage.matrices(query.prop, times)[:, :3].reshape(-1, 12).T),
        LEAF,
        whole=True,
    ),
    "prop_velocity": Entry(
        _stage_query(lambda stage, query, args, times, n: stage.velocities(query.prop, times).T), LEAF, whole=True
    ),
    "prop_travelled": Entry(
        _stage_query(lambda stage, query, args, times, n: [stage.travelled(query.prop, times)]), LEAF, whole=True
    ),
    "prop_born": Entry(
        _stage_query(
            lambda stage, query, args, times, n: stage.births_on(
                query, _columns(args[:3], n), times, _columns(args[3:], n)[:, 0]
            )
        ),
        LEAF,
        whole=True,
    ),
    "prop_bound": Entry(
        _stage_query(
            lambda stage, query, args, times, n: stage.births_bound_to(
                query, _columns(args[:3], n), _columns(args[3:], n), times
            )
        ),
        LEAF,
        whole=True,
    ),
    "prop_held": Entry(
        _stage_query(
            lambda stage, query, args, times, n: (
                stage.binding_positions(query.prop, _columns(args[:3], n), _columns(args[3:], n), times).T
            )
        ),
        LEAF,
        whole=True,
    ),
    "prop_part": Entry(
        _stage_query(lambda stage, query, args, times, n: stage.part_facts(query.detail, _columns(args, n)[:, 0])),
        LEAF,
        whole=True,
    ),
    "prop_turned": Entry(
        _stage_query(
            lambda stage, query, args, times, n: stage.binding_rotations(query.prop, _columns(args[:3], n), times).T
        ),
        LEAF,
        whole=True,
    ),
    "prop_sample": Entry(
        _stage_query(lambda stage, query, args, times, n: stage.sample(query.prop, _columns(args, n), times)),
        LEAF,
        whole=True,
    ),
    "prop_nearest": Entry(
        _stage_query(lambda stage, query, args, times, n: stage.nearest(query.prop, _columns(args, n), times)),
        LEAF,
        whole=True,
    ),
    "prop_middle": Entry(
        _stage_query(lambda stage, query, args, times, n: stage.bounds_middle(query.prop, times).T), LEAF, whole=True
    ),
    "prop_ridden": Entry(_stage_query(_place_on_surface), LEAF, whole=True),
    "prop_along": Entry(_stage_query(_place_on_path), LEAF, whole=True),
    "prop_field": Entry(
        _stage_query(lambda stage, query, args, times, n: stage.field(query, _columns(args, n), times).T),
        LEAF,
        whole=True,
    ),
    "prop_footing": Entry(
        _stage_query(lambda stage, query, args, times, n: stage.nearest_footing(query.prop, _columns(args, n), times)),
        LEAF,
        whole=True,
    ),
    "prop_footed": Entry(_stage_query(_place_on_mesh), LEAF, whole=True),
    "prop_walked": Entry(_stage_query(_walk_on_mesh), LEAF, whole=True),
    "prop_carried": Entry(_stage_query(_carried_by_prop), LEAF, whole=True),
    "met": Entry(_resolve_contacts, LEAF, whole=True),
    "met_cued": Entry(_resolve_contacts, LEAF, whole=True),
    "met_often": Entry(_resolve_contacts, LEAF, whole=True),
    "met_colour": Entry(_contact_colour, LEAF, whole=True),
    "prop_painted": Entry(
        _stage_query(lambda stage, query, args, times, n: [stage.painted_share(query.prop, _columns(args, n), times)]),
        LEAF,
        whole=True,
    ),
    "prop_reach": Entry(_stage_query(_reach), LEAF, whole=True),
    "prop_picture": Entry(
        _stage_query(lambda stage, query, args, times, n: stage.picture(query.prop, _columns(args, n), times).T),
        LEAF,
        whole=True,
    ),
}
