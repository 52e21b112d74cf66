"""What a schema cannot say: values outside their rows' ranges, broken links, sources that do not fit, doubled uids."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from ..document import Effect, owner_of
from ..document.moments import moment_findings
from ..errors import CircleProblem, EffectError, Finding, FormulaProblem, LinkProblem, RangeProblem
from ..parts.props import PropPart
from ..rows.model import FieldFacts, Model, Part, fields_of, references, walk
from ..rows.placed import MOST_NESTED, PlacedRow, RowSpec
from ..rows.responses import SourcedBase, sources_of
from ..rows.view import find_thing
from .links import Links, is_active
from .scope import Scope


def check_effect(effect: Effect) -> list[Finding]:
    """Return everything wrong with a well-formed effect, each with its place; empty when it can be played."""
    findings = list(_duplicate_uids("emitters", [emitter.uid for emitter in effect.emitters]))
    findings += _duplicate_uids("dials", [dial.uid for dial in effect.dials])
    findings += _duplicate_uids("moments", [moment.uid for moment in effect.moments])
    for index, moment in enumerate(effect.moments):
        findings += _named(effect, moment, f"moments.{index}")
    findings += moment_findings(effect)
    findings += _duplicate_uids("props", [prop.uid for prop in effect.props])
    for index, prop in enumerate(effect.props):
        where = f"props.{index}"
        findings += _thing(effect, prop, where)
        findings += prop.findings(effect, where)
        findings += _standing(effect, prop, where)
    findings += _duplicate_uids("finish", [item.uid for item in effect.finish])
    for thing in (*effect.finish, effect.frame):
        findings += _thing(effect, thing, effect.place_of(owner_of(thing)))
    for index, emitter in enumerate(effect.emitters):
        where = f"emitters.{index}"
        findings += emitter.births.place.findings(effect, emitter, where)
        for k, cue in enumerate(emitter.cues):
            findings += cue.wrong(effect, emitter, f"{where}.cues.{k}")
        if emitter.births.per == "metre" and emitter.births.goes_by() is None:
            words = f"{emitter.name} counts births by the metre, and of no prop's way."
            findings.append(
                Finding(
                    "link", f"{where}.births.going", words, "Choose the prop whose way counts, or count by the second."
                )
            )
        findings += _thing(effect, emitter, where)
    return _without_repeats(findings)


def _thing(effect: Effect, thing: Any, where: str) -> Iterator[Finding]:
    """Yield what is wrong with an emitter's or prop's rows, with what it names, and with its uids."""
    links = Links(Scope(thing, effect))
    for path, facts, value in walk(thing):
        if (
            isinstance(value, list)
            and value
            and isinstance(value[0], Model)
            and hasattr(value[0], "uid")
            and facts.name != "responses"
        ):
            yield from _duplicate_uids(f"{where}.{path}", [each.uid for each in value])
    yield from _named(effect, thing, where)
    rows = list(links.scope.every_row.values())
    yield from _duplicate_uids(where, [response.uid for placed in rows for response in placed.row.responses])
    yield from _duplicate_uids(
        where, [source.uid for placed in rows for source, *_ in sources_of(placed.row) if hasattr(source, "uid")]
    )
    for placed in links.scope.rows.values():
        yield from _row(links, placed, f"{where}.{placed.path}")
    yield from _borrowed(effect, links)


def _borrowed(effect: Effect, links: Links) -> Iterator[Finding]:
    """Yield what is wrong with the rows of others' shapings on an emitter's particles, and is not where they stand."""
    for each, k in links.scope.from_others:
        where, own = f"emitters.{effect.emitters.index(each)}", Links(Scope(each, effect))
        for placed in links.scope.borrowed.values():
            if placed.address.startswith(f"shaping.{each.shaping[k].uid}.") or placed.host.startswith(
                f"shaping.{each.shaping[k].uid}."
            ):
                there = {finding.message for finding in _row(own, placed, "")}
                for finding in _row(links, placed, f"{where}.{placed.path}"):
                    if finding.message not in there:
                        words = f"{finding.message} It moves the particles of {links.thing.name} too."
                        yield Finding(
                            finding.code,
                            finding.where,
                            words,
                            f"{finding.remedy} Or let it move its own emitter alone.",
                        )


OTHER = "Choose another, or none."
OF_EMITTERS = ("draws", "own", "rides", "cues")  # what a field may name that stands in the emitter itself


def _named(effect: Effect, thing: Any, where: str) -> Iterator[Finding]:
    """Yield what a thing names that is not there, or does not fit."""
    for path, owner, facts, value in _references(thing, where):
        refers = facts.refers
        assert refers is not None
        elsewhere = find_thing(
            effect.emitters, getattr(owner, "emitter", None) or ""
        )  # what it names stands in another emitter
        things = getattr((elsewhere or thing) if refers.group in OF_EMITTERS else effect, refers.group, [])
        for uid in references(facts, value) or ([""] if refers.needed else []):
            named = find_thing(things, uid)
            if named is None or (refers.fits and not getattr(named, refers.fits)):
                if refers.missing:
                    yield Finding("link", path, refers.missing.format(name=thing.name), refers.remedy)
                elif (
                    named is None
                    and not refers.goes_without
                    and facts.name not in (owner.unused() if isinstance(owner, Part) else ())
                ):
                    label = facts.setting.label.lower() if facts.setting else facts.name
                    yield Finding(
                        "link",
                        path,
                        f"{thing.name.capitalize()} names as \u201c{label}\u201d what is not there.",
                        OTHER,
                    )


def _references(thing: Any, path: str) -> Iterator[tuple[str, Model, FieldFacts, Any]]:
    """Yield every field of a model and of all within it that may name another thing: its path, whose field it is, its
    facts, its value."""
    if isinstance(thing, Model):
        for facts in fields_of(type(thing)):
            value = getattr(thing, facts.name)
            if facts.refers is not None:
                yield f"{path}.{facts.name}", thing, facts, value
            if isinstance(value, (Model, list, tuple)):
                yield from _references(value, f"{path}.{facts.name}")
    elif isinstance(thing, (list, tuple)):
        for index, each in enumerate(thing):
            yield from _references(each, f"{path}.{index}")


def _without_repeats(findings: list[Finding]) -> list[Finding]:
    """Return findings without those in general words where a part says itself what is wrong there."""
    own = [f"{finding.where}." for finding in findings if finding.remedy != OTHER and finding.where]
    general = [f"{finding.where}." if finding.remedy == OTHER else "" for finding in findings]
    return [
        finding
        for finding, here in zip(findings, general, strict=True)
        if not here or not any(here.startswith(where) or where.startswith(here) for where in own)
    ]


def _standing(effect: Effect, prop: PropPart, where: str) -> Iterator[Finding]:
    """Yield what is wrong with what a prop follows, and whether it stands by itself in the end: by what it follows, and
    what its rows read."""
    follow = prop.follow
    if follow is not None:
        after = find_thing(effect.props, follow.prop)
        if after is None:
            yield Finding(
                "link",
                f"{where}.follow.prop",
                f"{prop.name} follows a prop that is not there.",
                "Choose another, or let it stand by itself.",
            )
        elif follow.at != "place" and not after.holds:
            yield Finding(
                "link",
                f"{where}.follow.at",
                f"{after.name} has no surface for {prop.name} to follow.",
                "Follow its place.",
            )
    loop = find_circle(effect, prop)
    if loop:
        follows = prop.follow is not None and prop.follow.prop == loop[1].uid
        words = (
            f"Props {'follow each other' if follows else 'stand by each other'} in a circle: "
            f"{' <- '.join(each.name for each in loop)}."
        )
        yield Finding("circle", f"{where}.follow.prop" if follows else where, words, "Let one stand by itself.")


def props_stood_by(effect: Effect, prop: PropPart) -> list[PropPart]:
    """Return the props on whose places a prop's own depends: the one it follows, and those that its rows read."""
    uids = [prop.follow.prop] if prop.follow is not None else []
    scope = Scope(prop, effect)
    for placed in scope.rows.values():
        for source, *_ in sources_of(placed.row):
            read = [r.known.source for r in scope.formula(source.text).reads] if source.is_formula else [source]
            uids += [uid for each in read for uid in _props_read(each)]
    return [each for uid in dict.fromkeys(uids) if (each := find_thing(effect.props, uid)) is not None]


def _props_read(source: Any) -> list[str]:
    """Return the uids of the props that a source reads; none of what a formula knows by its name alone."""
    if not isinstance(source, Model):
        return []
    named = [facts for facts in fields_of(type(source)) if facts.refers and facts.refers.group == "props"]
    return [uid for facts in named for uid in references(facts, getattr(source, facts.name))]


def find_circle(effect: Effect, prop: PropPart) -> list[PropPart]:
    """Return the props along which a prop's place depends on itself, the prop first and last; nothing where it does
    not."""
    waiting = [[prop]]
    seen: set[str] = set()
    while waiting:
        trail = waiting.pop()
        for after in props_stood_by(effect, trail[-1]):
            if after is prop:
                return [*trail, prop]
            if after.uid not in seen:
                seen.add(after.uid)
                waiting.append([*trail, after])
    return []


def require_valid(effect: Effect) -> Effect:
    """Return the effect, or raise EffectError (its subclass when all findings are of one kind) with all findings."""
    return _refuse(effect, check_effect(effect))


def check_no_worse(before: Effect, after: Effect) -> Effect:
    """Return `after`, or raise EffectError with what is wrong with it and was not with `before`: what could not be
    played before can be worked on all the same."""
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


_ERRORS: dict[str, type[EffectError]] = {
    "range": RangeProblem,
    "link": LinkProblem,
    "circle": CircleProblem,
    "formula": FormulaProblem,
}


def shown(spec: RowSpec, value: float) -> str:
    """Return a stored value as the interface shows it, with its unit."""
    return f"{value * spec.unit.scale:,.12g} {spec.unit.symbol}".strip()


def out_of_range(placed: PlacedRow) -> list[float]:
    """Return those numbers of a row's base that lie outside what the row allows."""
    base, spec = placed.row.base, placed.spec
    if isinstance(base, SourcedBase):
        return []
    return [
        value for value in (base if isinstance(base, tuple) else (base,)) if not spec.lowest <= value <= spec.highest
    ]


def _row(links: Links, placed: PlacedRow, where: str) -> Iterator[Finding]:
    spec, row = placed.spec, placed.row
    if placed.depth > MOST_NESTED and (row.responses or isinstance(row.base, SourcedBase)):
        yield Finding(
            "link",
            where,
            f"{spec.label} is driven {placed.depth} levels deep; {MOST_NESTED} are allowed.",
            "Drive a row with it instead, and read that row.",
        )
    if isinstance(row.base, SourcedBase):
        yield from _source(links, placed, row.base.source, row.base.read, f"{where}.base", whole=spec.kind)
    else:
        for value in out_of_range(placed):
            yield Finding(
                "range",
                f"{where}.base" if placed.depth == 0 else where,
                f"{spec.label} is {shown(spec, value)}.",
                f"Give a value from {shown(spec, spec.lowest)} to {shown(spec, spec.highest)}.",
            )
    for number, response in enumerate(row.responses):
        place = f"{where}.responses.{number}"
        for finding in _source(links, placed, response.source, response.read, place, whole="number"):
            if finding.code != "circle" or is_active(links.thing, placed, response):
                yield finding
        if response.kind == "gradient" and spec.kind != "colour":
            yield Finding(
                "link", f"{place}.kind", f"{spec.label} is no colour and cannot take a gradient.", "Use a curve."
            )
        if response.kind != "gradient" and response.component != "all" and spec.kind != "vector":
            yield Finding(
                "link", f"{place}.component", f"{spec.label} has no {response.component} component.", 'Use "all".'
            )


def _source(links: Links, placed: PlacedRow, source: Any, read: str, place: str, whole: str) -> Iterator[Finding]:
    spec = placed.spec
    if source.is_formula:
        yield from _formula(links, placed, source, read, place, whole)
        return
    missing = source.missing(links.scope)
    if missing:
        yield Finding(
            "link",
            f"{place}.source.{source.kind}",
            f"{spec.label} reads {missing}.",
            "Add it, or choose another source.",
        )
        return
    facts = source.facts(links.scope)
    reason = links.refusal(placed, source, read) if facts.shape == whole else ""
    if facts.shape != whole:
        remedy = f"Choose a part of {facts.label}." if whole == "number" else f"Choose a source that is a {whole}."
        yield Finding(
            "link", f"{place}.source", f"{spec.label} needs a {whole}; {facts.label} is a {facts.shape}.", remedy
        )
    elif reason.startswith("It would"):
        yield Finding(
            "circle",
            place,
            f"Rows drive each other in a circle: {reason.partition(': ')[2]}",
            "Mute or remove one of these responses.",
        )
    elif reason:
        yield Finding("link", f"{place}.source", reason, "Choose another source, or drive another row with this one.")
    expected = {"emitter": "live", "birth": "once"}.get(spec.stage)
    if expected and read != expected:
        yield Finding(
            "link",
            f"{place}.read",
            f"{spec.label} can only read {facts.label} {expected}.",
            f'Set read to "{expected}".',
        )


def _formula(links: Links, placed: PlacedRow, source: Any, read: str, place: str, whole: str) -> Iterator[Finding]:
    for problem in links.check_formula(placed, source.text, read, whole).problems:
        yield Finding(
            "formula",
            f"{place}.source.text",
            f"Line {problem.span.line}, column {problem.span.column}: {problem.message}",
            problem.remedy,
        )
    expected = {"emitter": "live", "birth": "once"}.get(placed.spec.stage)
    if expected and read != expected:
        yield Finding(
            "link",
            f"{place}.read",
            f"{placed.spec.label} can only read a formula {expected}.",
            f'Set read to "{expected}".',
        )


def _duplicate_uids(where: str, uids: list[str]) -> Iterator[Finding]:
    for uid in sorted({uid for uid in uids if uids.count(uid) > 1}):
        yield Finding(
            "link",
            where,
            f"The uid {uid!r} is used more than once.",
            "Give each its own uid; duplicates need new ones.",
        )
