"""Formulas while they are written: what is wrong and where, what they give, and what completion offers."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from django.http import HttpRequest
from ninja import Router

from kagero.core.catalog import Links, Scope, offers, unit_remark
from kagero.core.document import read_effect
from kagero.core.errors import RequestError
from kagero.core.formula import Problem, dimension_text
from kagero.core.rows.placed import PlacedRow

from . import schemas
from .dependencies import PROBLEMS, emitter_of, sources_in

router = Router()


@router.post("formulas/check", response={200: schemas.FormulaOut, **PROBLEMS})
def check(request: HttpRequest, wanted: schemas.FormulaIn) -> Any:
    """Read a formula for a row: everything wrong with it at its place, or what it gives. Nothing is stored."""
    links, placed = _row(wanted)
    needs = "number" if wanted.response else placed.spec.kind
    formula = links.check_formula(placed, wanted.text, wanted.read, needs)
    steps = [{"name": name, "kind": step.kind, "unit": dimension_text(step.unit)} for name, step in formula.steps]
    result = formula.result
    return {
        "problems": [_problem(problem) for problem in formula.problems],
        "remarks": [_problem(problem) for problem in formula.remarks],
        "kind": result.kind if result else "",
        "unit": dimension_text(result.unit) if result else "",
        "note": unit_remark(placed, formula, wanted.multiplies),
        "steps": steps,
        "cost": formula.cost,
    }


@router.post("formulas/names", response={200: list[schemas.NameOut], **PROBLEMS})
def names(request: HttpRequest, wanted: schemas.NamesIn) -> Any:
    """Every name a formula of a row can use, with its smallest, mean and largest value at the frame where it is a
    number."""
    links, placed = _row(wanted)
    live = {source["key"]: source["now"] for source in sources_in(wanted)}
    return [{**asdict(offer), "now": live.get(offer.key)} for offer in offers(links, placed, wanted.read)]


def _row(wanted: schemas.FormulaIn | schemas.NamesIn) -> tuple[Links, PlacedRow]:
    effect = read_effect(wanted.document)
    links = Links(Scope(emitter_of(effect, wanted.emitter), effect))
    placed = links.rows.get(wanted.address)
    if placed is None:
        raise RequestError(
            f"There is no row {wanted.address!r}.", where="address", remedy="Choose one of the emitter's rows."
        )
    return links, placed


def _problem(problem: Problem) -> dict[str, Any]:
    return {**asdict(problem.span), "message": problem.message, "remedy": problem.remedy, "unknown": problem.unknown}
