"""Moments as edits of an effect: taken away, what hung on them stays where it is."""

from __future__ import annotations

from ..document import Effect, moment_times, read_effect
from ..errors import LinkProblem
from ..formula import identifier
from ..rows.responses import sources_of
from ..rows.view import find_thing
from .naming import names_of
from .scope import Scope
from .validate import check_no_worse


def delete_moment(effect: Effect, uid: str) -> Effect:
    """Return the effect without a moment: births and moments that hung on it begin and end as they did, by themselves,
    bursts at the nearest frame; props are seen from the beginning and to the end. Raises LinkProblem where a row reads
    it, and names that row."""
    moment = find_thing(effect.moments, uid)
    if moment is None:
        raise LinkProblem(f"There is no moment {uid!r}.", where="uid", remedy="Choose one that is there.")
    things = effect.holders()
    name = f"moments.{identifier(moment.name)}"
    for thing in things:
        scope = Scope(thing, effect)
        for placed in scope.rows.values():
            for source, *_ in sources_of(placed.row):
                if getattr(source, "moment", None) == uid or name in names_of(source):
                    raise LinkProblem(
                        f"{scope.row_label(scope.rows.get(placed.host, placed))} of {thing.name} reads {moment.name}.",
                        where=placed.address,
                        remedy="Let it read something else first.",
                    )
    times, rate, first = moment_times(effect), float(effect.clip.rate), effect.clip.first_frame
    frame = first + round(times[uid] * rate)
    document = effect.model_dump(mode="json")
    document["moments"] = [each for each in document["moments"] if each["uid"] != uid]
    for each in document["moments"]:
        if each["after"] == uid:
            whole = round(times[each["uid"]] * rate)
            each |= {
                "after": None,
                "frame": first + whole,
                "seconds": times[each["uid"]] - effect.clip.seconds(first + whole),
            }
    for emitter in document["emitters"]:
        births = emitter["births"]
        start = births["start"] + times.get(births["after"] or "", 0.0)
        if births["until"] == uid:
            births |= {"until": None, "duration": max(times[uid] - start, 1 / rate)}
        if births["after"] == uid:
            births |= {"after": None, "start": max(start, 0.0)}
        for burst in births["bursts"]:
            if burst["after"] == uid:
                burst |= {"after": None, "frame": frame + burst["frame"]}
    for prop in document["props"]:
        prop |= {key: None for key in ("seen_from", "seen_until") if prop.get(key) == uid}
    return check_no_worse(effect, read_effect(document))
