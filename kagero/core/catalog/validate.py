"""What a schema cannot say: values outside their rows' ranges, broken links, sources that do not fit, doubled uids."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from ..effect import Effect, SourcedBase
from ..errors import CircleProblem, EffectError, Finding, FormulaProblem, LinkProblem, RangeProblem
from ..formula import figure
from .formulas import check_formula
from .links import Links, act, refusal
from .placing import mask_findings, placed_findings
from .rows import MOST_NESTED, PlacedRow, RowSpec, rows_of
from .scope import Scope
from .sources import source_facts


def check_effect(effect: Effect) -> list[Finding]:
    """Return everything wrong with a well-formed effect, each with its place; empty when it can be played."""
    findings = list(_doubled("emitters", [emitter.uid for emitter in effect.emitters]))
    findings += _doubled("dials", [dial.uid for dial in effect.dials])
    findings += _props(effect)
    for index, emitter in enumerate(effect.emitters):
        where = f"emitters.{index}"
        links = Links(Scope(emitter, effect))
        findings += placed_findings(effect, emitter, where)
        for part in ("draws", "own", "forces"):
            findings += _doubled(f"{where}.{part}", [thing.uid for thing in getattr(emitter, part)])
        findings += _doubled(f"{where}.births.bursts", [burst.uid for burst in emitter.births.bursts])
        rows = list(links.rows.values())
        sources = [source for placed in rows for source in _sources(placed) if hasattr(source, "uid")]
        findings += _doubled(where, [response.uid for placed in rows for response in placed.row.responses])
        findings += _doubled(where, [source.uid for source in sources])
        for placed in rows:
            findings += _row(links, placed, f"{where}.{placed.path}")
    return findings


def _props(effect: Effect) -> Iterator[Finding]:
    yield from _doubled("props", [prop.uid for prop in effect.props])
    by_uid = {prop.uid: prop for prop in effect.props}
    for index, prop in enumerate(effect.props):
        where = f"props.{index}"
        links = Links(Scope(prop, effect))
        rows = list(links.rows.values())
        yield from _doubled(where, [response.uid for placed in rows for response in placed.row.responses])
        yield from _doubled(where, [source.uid for placed in rows for source in _sources(placed) if hasattr(source, "uid")])
        for placed in rows:
            yield from _row(links, placed, f"{where}.{placed.path}")
        yield from mask_findings(effect, prop, where)
        if prop.kind == "path" and prop.formula:
            for problem in figure(prop.formula)[1]:
                yield Finding("formula", f"{where}.formula", str(problem).removesuffix(problem.remedy).strip(), problem.remedy)
        way, here = [prop.name], prop
        while here.follow is not None:
            after = by_uid.get(here.follow.prop)
            if after is None:
                words = f"{here.name} follows a prop that is not there."
                yield Finding("link", f"{where}.follow.prop", words, "Choose another, or let it stand by itself.")
                break
            way.append(after.name)
            if after is prop or len(way) > len(by_uid) + 1:
                words = f"Props follow each other in a circle: {' <- '.join(way)}."
                yield Finding("circle", f"{where}.follow.prop", words, "Let one stand by itself.")
                break
            if here.follow.at != "place" and after.kind in ("camera", "path", "mask"):
                words = f"{after.name} has no surface for {here.name} to follow."
                yield Finding("link", f"{where}.follow.at", words, "Follow its place.")
            here = after


def require_valid(effect: Effect) -> Effect:
    """Return the effect, or raise EffectError (its subclass when all findings are of one kind) with all findings."""
    return _refuse(effect, check_effect(effect))


def no_worse(before: Effect, after: Effect) -> Effect:
    """Return `after`, or raise EffectError with what is wrong with it and was not with `before`: what could not be played before can
    be worked on all the same."""
    findings = check_effect(after)
    if findings:
        known = {(finding.code, finding.message) for finding in check_effect(before)}
        findings = [finding for finding in findings if (finding.code, finding.message) not in known]
    return _refuse(after, findings)


def _refuse(effect: Effect, findings: list[Finding]) -> Effect:
    if findings:
        kinds = {finding.code for finding in findings}
        error = _ERRORS[next(iter(kinds))] if len(kinds) == 1 else EffectError
        raise error("", findings=findings)
    return effect


_ERRORS: dict[str, type[EffectError]] = {"range": RangeProblem, "link": LinkProblem, "circle": CircleProblem, "formula": FormulaProblem}


def shown(spec: RowSpec, value: float) -> str:
    """Return a stored value as the interface shows it, with its unit."""
    return f"{value * spec.unit.scale:,.12g} {spec.unit.symbol}".strip()


def out_of_range(placed: PlacedRow) -> list[float]:
    """Return those numbers of a row's base that lie outside what the row allows."""
    base, spec = placed.row.base, placed.spec
    if isinstance(base, SourcedBase):
        return []
    return [value for value in (base if isinstance(base, tuple) else (base,)) if not spec.lowest <= value <= spec.highest]


def _sources(placed: PlacedRow) -> Iterator[Any]:
    if isinstance(placed.row.base, SourcedBase):
        yield placed.row.base.source
    for response in placed.row.responses:
        yield response.source


def _row(links: Links, placed: PlacedRow, where: str) -> Iterator[Finding]:
    spec, row = placed.spec, placed.row
    if placed.depth > MOST_NESTED and (row.responses or isinstance(row.base, SourcedBase)):
        yield Finding("link", where, f"{spec.label} is driven {placed.depth} levels deep; {MOST_NESTED} are allowed.",
                      "Drive a row with it instead, and read that row.")  # fmt: skip
    if isinstance(row.base, SourcedBase):
        yield from _source(links, placed, row.base.source, row.base.read, f"{where}.base", whole=spec.kind)
    else:
        for value in out_of_range(placed):
            yield Finding(
                "range", f"{where}.base" if placed.depth == 0 else where, f"{spec.label} is {shown(spec, value)}.",
                f"Give a value from {shown(spec, spec.lowest)} to {shown(spec, spec.highest)}.",
            )  # fmt: skip
    for number, response in enumerate(row.responses):
        place = f"{where}.responses.{number}"
        for finding in _source(links, placed, response.source, response.read, place, whole="number"):
            if finding.code != "circle" or act(links.emitter, placed, response):
                yield finding
        if response.kind == "gradient" and spec.kind != "colour":
            yield Finding("link", f"{place}.kind", f"{spec.label} is no colour and cannot take a gradient.", "Use a curve.")
        if response.kind != "gradient" and response.component != "all" and spec.kind != "vector":
            yield Finding("link", f"{place}.component", f"{spec.label} has no {response.component} component.", 'Use "all".')


def _source(links: Links, placed: PlacedRow, source: Any, read: str, place: str, whole: str) -> Iterator[Finding]:
    spec = placed.spec
    if source.kind == "formula":
        yield from _formula(links, placed, source, read, place, whole)
        return
    missing = _missing(links.scope, source)
    if missing:
        yield Finding("link", f"{place}.source.{source.kind}", f"{spec.label} reads {missing}.", "Add it, or choose another source.")
        return
    facts = source_facts(links.scope, source)
    reason = refusal(links, placed, source, read) if facts.shape == whole else ""
    if facts.shape != whole:
        remedy = f"Choose a part of {facts.label}." if whole == "number" else f"Choose a source that is a {whole}."
        yield Finding("link", f"{place}.source", f"{spec.label} needs a {whole}; {facts.label} is a {facts.shape}.", remedy)
    elif reason.startswith("It would"):
        yield Finding("circle", place, f"Rows drive each other in a circle: {reason.partition(': ')[2]}", "Mute or remove one of these responses.")
    elif reason:
        yield Finding("link", f"{place}.source", reason, "Choose another source, or drive another row with this one.")
    expected = {"emitter": "live", "birth": "once"}.get(spec.stage)
    if expected and read != expected:
        yield Finding("link", f"{place}.read", f"{spec.label} can only read {facts.label} {expected}.", f'Set read to "{expected}".')


def _formula(links: Links, placed: PlacedRow, source: Any, read: str, place: str, whole: str) -> Iterator[Finding]:
    for problem in check_formula(links, placed, source.text, read, whole).problems:
        yield Finding("formula", f"{place}.source.text", f"Line {problem.span.line}, column {problem.span.column}: {problem.message}", problem.remedy)
    expected = {"emitter": "live", "birth": "once"}.get(placed.spec.stage)
    if expected and read != expected:
        yield Finding("link", f"{place}.read", f"{placed.spec.label} can only read a formula {expected}.", f'Set read to "{expected}".')


def _missing(scope: Scope, source: Any) -> str:
    emitter = scope.emitter
    if source.kind == "mask" and source.mask not in {mask.uid for mask in scope.masks}:
        return f"a mask that is not there: {source.mask!r}"
    if source.kind in ("surface", "picture") and source.prop not in {
        prop.uid for prop in (scope.solid if source.kind == "surface" else scope.pictured)
    }:
        return f"a prop that is not there, or has no {source.kind}: {source.prop!r}"
    if source.kind == "parent" and not scope.has_parent:
        return "a parent; particles of this emitter have none"
    if source.kind == "prop" and source.prop not in {prop.uid for prop in scope.props}:
        return f"a prop that is not there: {source.prop!r}"
    if source.kind == "dial" and source.dial not in {dial.uid for dial in scope.dials}:
        return f"a dial that is not there: {source.dial!r}"
    if source.kind == "draw" and source.draw not in {draw.uid for draw in emitter.draws}:
        return f"a draw that is not there: {source.draw!r}"
    if source.kind == "own" and source.own not in {own.uid for own in emitter.own}:
        return f"an attribute that is not there: {source.own!r}"
    if source.kind == "row" and source.row not in {placed.address for placed in rows_of(emitter)}:
        return f"a row that is not there: {source.row!r}"
    return ""


def _doubled(where: str, uids: list[str]) -> Iterator[Finding]:
    for uid in sorted({uid for uid in uids if uids.count(uid) > 1}):
        yield Finding("link", where, f"The uid {uid!r} is used more than once.", "Give each its own uid; duplicates need new ones.")
