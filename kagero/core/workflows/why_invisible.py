"""The reason why nothing of an emitter is visible at a frame, in words, with the row to look at."""

from __future__ import annotations

from typing import Any

import numpy as np

from ..engine import Faults
from ..errors import BudgetError, GeometryProblem
from ..plan import Plan
from ..rows.view import find_thing
from ..simulation import Population, ShownParticles

LOOKED_AT = 500  # births, whether any of them came to be


def explain_invisible(
    emitter: Any, parent: Any, run: Any, plan: Plan, number: int, population: Population, shown: ShownParticles | None
) -> tuple[str, str] | None:
    """Return why no particle of an emitter is visible, and the address of the row to look at; None where one is.

    parent: the emitter whose particles emit these, if any. shown: the look's values; without them only the number of
    living particles is judged.
    """
    if len(population):
        return None if shown is None else _not_drawn(emitter, shown)
    births, rate = emitter.births, "births.rate"
    if births.limit == 0:
        return "It may have no births at all: at most 0.", rate
    if shut := run.closing_cue(number):
        gate = find_thing(emitter.cues, shut)
        words = "stopped at" if gate.births == "stop" else "begin only at"
        return (
            f"Its births {'are ' if gate.births == 'stop' else ''}{words} its cue {gate.name}.",
            f"cues.{shut}.{gate.compares()}",
        )
    if parent is not None and births.place.cue_of() is not None:
        cue = find_thing(parent.cues, births.place.cue_of())
        if cue is not None and _constant_zero(cue.bears):
            return (
                f"It is born at {parent.name}'s cue {cue.name}, which gives birth to none: say there to how many.",
                "births.place",
            )
        return f"It is born at a cue of {parent.name}, and nobody of those births lives now.", "births.place"
    if parent is not None:
        return f"It is born from particles of {parent.name}, and none of these gives births now.", rate
    now, times = plan.seconds(number), run.schedule.times
    if not len(times) and births.place.counted:
        return f"{_frames_stored(run)}", "births.rate"
    if not len(times):
        if births.rate.muted or _constant_zero(births.rate):
            return "It has no births: the rate is nought, and there are no bursts.", rate
        return "It has no births in this clip: its rate never gives one.", rate
    born = int(np.searchsorted(times, now, side="right"))
    if not born:
        return (
            f"Its first birth comes at {times[0] - plan.seconds(plan.first_frame):.2f} s, frame "
            f"{_frame(plan, times[0])}.",
            rate,
        )
    if "comes to be" in run.emitter.birth.outputs and not len(
        run.born(slice(max(0, born - LOOKED_AT), born), Faults())
    ):
        if plan.preview < 1:
            return (
                f"None of its births comes to be: a preview shows {plan.preview:.0%} of births. Show all of them over "
                "the stage.",
                "births.rate",
            )
        if getattr(births.place, "on", "") == "inside" and not (births.keep.responses or _constant_zero(births.keep)):
            return (
                "None of its births comes to be: what they are born inside has no inside. It is flat, or open.",
                "births.place",
            )
        return "None of its births comes to be: the share of kept births is nought where they would be.", "births.keep"
    frame = 1 / float(plan.frame_rate)
    if isinstance(births.lifespan.base, float) and not births.lifespan.responses and births.lifespan.base < frame:
        return f"They live {births.lifespan.base * 1000:.0f} ms, less than a frame.", "births.lifespan"
    return (
        f"All of its particles have ended; the last was born at frame {_frame(plan, times[born - 1])}.",
        "births.lifespan",
    )


def _frames_stored(run: Any) -> str:
    """Return why a prop cannot be broken into the parts that an emitter's particles are."""
    place = next(query.detail for query in run.emitter.values.queries if getattr(query.detail, "counted", False))
    try:
        run.emitter.values.stage.broken_mesh(place)
    except (GeometryProblem, BudgetError) as problem:
        return f"{problem.findings[0].message} {problem.findings[0].remedy}"
    return "It falls into no parts."


def _not_drawn(emitter: Any, shown: ShownParticles) -> tuple[str, str] | None:
    n = len(shown.population)
    if all(look.muted for look in (emitter.look, *emitter.also)):
        return f"All {n:,} live, and none of their looks is drawn: open its eye.", "look.size"
    size, opacity = (np.broadcast_to(shown.column(name), (n,)) for name in ("size", "opacity"))
    if (size > 0).any() and (opacity > 0).any() and ((size > 0) & (opacity > 0)).any():
        return None
    if emitter.thinning is not None:
        return f"All {n:,} are thinned out: nobody is near enough, or in view.", "thinning.outer"
    if not (opacity > 0).any():
        return f"All {n:,} are see-through: their opacity is nought.", "look.opacity"
    if not (size > 0).any():
        return f"All {n:,} have no size.", "look.size"
    return f"Each of the {n:,} has either no size or no opacity.", "look.opacity"


def _constant_zero(row: Any) -> bool:
    return (
        isinstance(row.base, float)
        and row.base == 0
        and not any(r.operation in ("add", "set", "at_least") and not r.muted for r in row.responses)
    )


def _frame(plan: Plan, seconds: float) -> int:
    """Return the first frame at which a birth at a time exists."""
    return int(np.ceil(seconds * float(plan.frame_rate) - 1e-6)) + plan.first_frame
