"""What a schema cannot say: values outside their rows' ranges, broken links, sources that do not fit, doubled uids."""

from __future__ import annotations

from collections.abc import Iterator

from ..effect import Effect, Emitter
from ..errors import EffectError, Finding, LinkProblem, RangeProblem
from .rows import PlacedRow, RowSpec, rows_of
from .sources import refusal, source_label


def check_effect(effect: Effect) -> list[Finding]:
    """Return everything wrong with a well-formed effect, each with its place; empty when it can be played."""
    findings = list(_doubled("emitters", [emitter.uid for emitter in effect.emitters]))
    for index, emitter in enumerate(effect.emitters):
        where = f"emitters.{index}"
        findings += _doubled(f"{where}.draws", [draw.uid for draw in emitter.draws])
        findings += _doubled(f"{where}.forces", [force.uid for force in emitter.forces])
        findings += _doubled(f"{where}.births.bursts", [burst.uid for burst in emitter.births.bursts])
        findings += _doubled(where, [response.uid for placed in rows_of(emitter) for response in placed.row.responses])
        for placed in rows_of(emitter):
            findings += _row(emitter, placed, f"{where}.{placed.address}")
    return findings


def require_valid(effect: Effect) -> Effect:
    """Return the effect, or raise EffectError (its subclass when all findings are of one kind) with all findings."""
    findings = check_effect(effect)
    if findings:
        kinds = {finding.code for finding in findings}
        error = {frozenset({"range"}): RangeProblem, frozenset({"link"}): LinkProblem}.get(frozenset(kinds), EffectError)
        raise error("", findings=findings)
    return effect


def shown(spec: RowSpec, value: float) -> str:
    """Return a stored value as the interface shows it, with its unit."""
    return f"{value * spec.unit.scale:,.12g} {spec.unit.symbol}".strip()


def _row(emitter: Emitter, placed: PlacedRow, where: str) -> Iterator[Finding]:
    spec, row = placed.spec, placed.row
    for value in row.base if isinstance(row.base, tuple) else (row.base,):
        if not spec.lowest <= value <= spec.highest:
            yield Finding(
                "range", f"{where}.base", f"{spec.label} is {shown(spec, value)}.",
                f"Give a value from {shown(spec, spec.lowest)} to {shown(spec, spec.highest)}.",
            )  # fmt: skip
    draws = {draw.uid for draw in emitter.draws}
    for number, response in enumerate(row.responses):
        place = f"{where}.responses.{number}"
        if response.source.kind == "draw" and response.source.draw not in draws:
            yield Finding("link", f"{place}.source.draw", f"{spec.label} reads a draw that is not there: {response.source.draw!r}.",
                          "Add the draw to this emitter, or choose another source.")  # fmt: skip
        reason = refusal(spec, response.source.kind)
        if reason:
            yield Finding("link", f"{place}.source", reason, "Choose another source, or drive another row with this one.")
        expected = {"emitter": "live", "birth": "once"}.get(spec.stage)
        if expected and response.read != expected:
            label = source_label(emitter, response.source)
            yield Finding("link", f"{place}.read", f"{spec.label} can only read {label} {expected}.", f'Set read to "{expected}".')
        if response.kind == "gradient" and spec.kind != "colour":
            yield Finding("link", f"{place}.kind", f"{spec.label} is no colour and cannot take a gradient.", "Use a curve.")
        if response.kind == "curve" and response.component != "all" and spec.kind != "vector":
            yield Finding("link", f"{place}.component", f"{spec.label} has no {response.component} component.", 'Use "all".')


def _doubled(where: str, uids: list[str]) -> Iterator[Finding]:
    for uid in sorted({uid for uid in uids if uids.count(uid) > 1}):
        yield Finding("link", where, f"The uid {uid!r} is used more than once.", "Give each its own uid; duplicates need new ones.")
