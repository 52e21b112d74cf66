"""Thinning: which particles of an emitter are shown."""

from __future__ import annotations

from typing import Any

from ..formula import Values
from ..program import Builder
from ..rows.reader import weighted
from ..rows.slots import CameraValue, OfProp
from ..rows.view import find_thing
from .contexts import EmitterContext
from .living_contexts import FrameContext


def is_shown(at: FrameContext) -> int:
    """Return 1 for particles that are shown, otherwise 0: by the distance to a camera or prop, and by a camera's view.
    A particle's own draw decides, so that those shown at a lower density are among those shown at a higher one."""
    b, thinning = at.builder, at.thing.thinning
    ruler = EmitterContext(at.view, b)  # its rows are the same for all particles at a time
    b.row = "thinning.outer"
    place, time = at.state("position"), at.clip_time()
    axes, field = _viewpoint(at, b, thinning.prop, time)
    gap = tuple(b.op("sub", p, axes[4 * i + 3]) for i, p in enumerate(place))
    (outer,), (inner,) = ruler.row("thinning.outer"), ruler.row("thinning.inner")
    near = b.op("neg", b.op("mul", outer, inner))
    density = b.op("clamp", b.op("share", b.op("neg", b.op("length", *gap)), b.op("neg", outer), near))
    shown = b.op("less", at.hash("thinning"), density)
    if not thinning.view or field is None:
        return shown
    across, up, back = (weighted(b, gap, (axes[k], axes[4 + k], axes[8 + k])) for k in range(3))
    (margin,) = ruler.row("thinning.margin")
    half = b.op("mul", field, b.const(0.5))
    reach = b.op(
        "mul",
        b.op("div", b.op("sin", half), b.op("cos", half)),
        b.op("add", b.const(1), b.op("mul", margin, b.const(2))),
    )
    ahead = b.op("neg", back)
    wide = b.op("mul", reach, b.const(thinning.aspect))
    inside = b.op(
        "mul",
        b.op("less", b.op("abs", up), b.op("mul", ahead, reach)),
        b.op("less", b.op("abs", across), b.op("mul", ahead, wide)),
    )
    return b.op("mul", shown, inside)


def _viewpoint(at: FrameContext, b: Builder, uid: str | None, time: int) -> tuple[Values, int | None]:
    """Return the transform of a prop or of the effect's camera, as `prop_matrix` gives it, and a camera's field of
    view."""
    prop: Any = find_thing(at.effect.props, uid or "")
    if prop is not None:
        seen = at.prop_row(prop.uid, "field_of_view", time)[0] if prop.camera else None
        return b.multi("prop_matrix", time, attrs=(OfProp(prop.uid),)), seen
    values = tuple(b.param(CameraValue(i)) for i in range(13))
    return values[:12], values[12]
