"""The API."""

from __future__ import annotations

import base64
import time
from dataclasses import asdict
from typing import Any

from django.http import FileResponse, HttpRequest, HttpResponse, StreamingHttpResponse
from ninja import NinjaAPI

from kagero.core.beginnings import BEGINNINGS, begin
from kagero.core.catalog import (
    MOVERS,
    catalog_as_dict,
    copy_emitter,
    copy_mover,
    copy_prop,
    copy_responses,
    copy_row,
    layout,
    paste,
    paste_emitter,
    paste_mover,
    paste_prop,
    variations,
)
from kagero.core.document import Emitter, json_schema, read_effect
from kagero.core.engine import current_engine
from kagero.core.errors import Cancelled
from kagero.core.finishing import BACKGROUNDS
from kagero.core.formats.exporters import EXPORTERS
from kagero.core.workflows import Filter, HeldFrames, PlayRequest, TableRequest, bounds, cost, rails, seam

from ..connections import listener, streams
from ..frames import WARMING, card, cards, first_turn, play, ready
from ..jobs import exports
from ..library import drafts, presets, shelves
from ..library.models import Effect
from . import dials, errors, formulas, help, particle_schemas, people, pictures, props, rows, schemas, storage
from .base_schemas import AboutEmitter, RowId
from .dependencies import BODY, PACKETS, PROBLEMS, binary, emitter_of, key_in, new_uid, particles_in, sources_in

SEAM = (320, 180)  # pixels of the pictures of a seam
api = NinjaAPI(title="Kagero", version="1", docs_url=None)
errors.install(api)
api.add_router("", dials.router)
api.add_router("", rows.router)
api.add_router("", formulas.router)
api.add_router("", help.router)
api.add_router("", props.router)
api.add_router("", pictures.router)
api.add_router("", storage.router)
api.add_router("", people.router)


def _card(effect: Effect) -> dict[str, Any]:
    return {
        "id": effect.pk,
        "name": effect.name,
        "saved": effect.saved,
        "revision": effect.revision,
        **effect.facts,
        "playable": effect.can_play,
        "folder": effect.folder,
        "tags": effect.tags,
        "goes": shelves.goes(effect),
    }


def _opened(effect: Effect) -> dict[str, Any]:
    history = drafts.history(effect)
    document = read_effect(effect.document)
    return {
        "id": effect.pk,
        "revision": effect.revision,
        "saved": effect.saved,
        "document": document,
        "undo": history.undo,
        "redo": history.redo,
        "findings": [each.as_dict() for each in drafts.findings(effect, document)],
        "playable": read_effect(effect.playable) if effect.playable else None,
        "layout": layout(document),
    }


@api.get("catalog", response={200: schemas.Catalog, **PROBLEMS})
def get_catalog(request: HttpRequest) -> Any:
    formats = [
        {
            "kind": kind,
            "label": f.label,
            "help": f.help,
            "takes": f.takes,
            "options": [{**asdict(o), "kind": o.kind} for o in f.options],
        }
        for kind, f in EXPORTERS.items()
    ]
    return {
        **catalog_as_dict(),
        "engine": asdict(current_engine()),
        "formats": formats,
        "backgrounds": {k: list(v) for k, v in BACKGROUNDS.items()},
    }


@api.get("warming", response={200: schemas.Warming, **PROBLEMS})
def get_warming(request: HttpRequest) -> Any:
    """What is compiled beside serving: nothing, once all is."""
    return WARMING


@api.get("schema", response={200: dict[str, Any], **PROBLEMS})
def get_schema(request: HttpRequest) -> dict[str, Any]:
    """The JSON Schema of effect files."""
    return json_schema()


@api.get("effects", response={200: list[schemas.Card], **PROBLEMS})
def list_effects(request: HttpRequest, deleted: bool = False) -> Any:
    """The effects of the library, newest first; or those that were deleted and can be taken back."""
    return [_card(effect) for effect in shelves.shown(deleted)]


@api.get("beginnings", response={200: list[schemas.BeginningOut], **PROBLEMS})
def list_beginnings(request: HttpRequest) -> Any:
    """Small effects to begin with."""
    return [{"key": each.key, "label": each.label, "help": each.help} for each in BEGINNINGS.values()]


@api.get("beginnings/{key}/card.png", response={200: None, **PROBLEMS}, openapi_extra=binary("image/png"))
def beginning_picture(request: HttpRequest, key: str) -> HttpResponse:
    """Pictures of a beginning, side by side."""
    strip, _ = card(begin(key), listener(request))
    return HttpResponse(strip, content_type="image/png", headers={"Cache-Control": "no-cache"})


@api.post("effects", response={201: schemas.Opened, **PROBLEMS})
def create_effect(request: HttpRequest, wanted: schemas.Made) -> Any:
    """Make an effect of a document, or of a beginning."""
    document = begin(wanted.beginning) if wanted.document is None else read_effect(wanted.document)
    document.name = drafts.free_name(document.name)
    return 201, _opened(drafts.create(document, wanted.label, shelves.folder_in(wanted.folder)))


@api.post("effects/import", response={201: schemas.Opened, **PROBLEMS}, openapi_extra=BODY)
def import_effect(request: HttpRequest) -> Any:
    """Make an effect of a file's bytes, the request's whole body."""
    document = read_effect(request.body)
    document.name = drafts.free_name(document.name)
    return 201, _opened(drafts.create(document, "Imported"))


@api.get("effects/{effect_id}", response={200: schemas.Opened, **PROBLEMS})
def open_effect(request: HttpRequest, effect_id: RowId) -> Any:
    return _opened(drafts.find(effect_id))


@api.delete("effects/{effect_id}", response={204: None, **PROBLEMS})
def delete_effect(request: HttpRequest, effect_id: RowId) -> Any:
    """Put an effect aside, without its exports; it can be taken back for some weeks."""
    shelves.delete(effect_id)
    exports.drop(effect_id)
    return 204, None


@api.post("effects/{effect_id}/take-back", response={200: schemas.Card, **PROBLEMS})
def take_back(request: HttpRequest, effect_id: RowId) -> Any:
    """Take an effect back that was deleted."""
    return _card(shelves.card(shelves.take_back(effect_id).pk))


@api.post("effects/{effect_id}/copy", response={201: schemas.Card, **PROBLEMS})
def copy_effect(request: HttpRequest, effect_id: RowId) -> Any:
    """Make a copy of an effect, in the same folder."""
    return 201, _card(shelves.card(shelves.copy(effect_id).pk))


@api.patch("effects/{effect_id}", response={200: schemas.Card, **PROBLEMS})
def arrange_effect(request: HttpRequest, effect_id: RowId, wanted: schemas.Arranged) -> Any:
    """Rename an effect, put it into a folder, tag it."""
    return _card(shelves.card(shelves.arrange(effect_id, wanted.name, wanted.folder, wanted.tags).pk))


@api.put("effects/{effect_id}/draft", response={200: schemas.Opened, **PROBLEMS})
def save_draft(request: HttpRequest, effect_id: RowId, draft: schemas.Draft) -> Any:
    return _opened(drafts.save(effect_id, draft.revision, read_effect(draft.document), draft.label))


@api.post("effects/{effect_id}/undo", response={200: schemas.Opened, **PROBLEMS})
def undo(request: HttpRequest, effect_id: RowId, step: schemas.Step) -> Any:
    return _opened(drafts.undo(effect_id, step.revision))


@api.post("effects/{effect_id}/redo", response={200: schemas.Opened, **PROBLEMS})
def redo(request: HttpRequest, effect_id: RowId, step: schemas.Step) -> Any:
    return _opened(drafts.redo(effect_id, step.revision))


@api.get("effects/{effect_id}/history", response={200: list[schemas.StepOut], **PROBLEMS})
def list_steps(request: HttpRequest, effect_id: RowId) -> Any:
    """Every state that the draft can be taken back or forward to, the oldest first."""
    return drafts.steps(drafts.find(effect_id))


@api.post("effects/{effect_id}/walk", response={200: schemas.Opened, **PROBLEMS})
def walk(request: HttpRequest, effect_id: RowId, step: schemas.StepTo) -> Any:
    """Take the draft to one of these states: several undos or redos at once."""
    return _opened(drafts.walk(effect_id, step.revision, step.number))


@api.get("effects/{effect_id}/card.png", response={200: None, **PROBLEMS}, openapi_extra=binary("image/png"))
def card_picture(request: HttpRequest, effect_id: RowId) -> HttpResponse:
    strip, _ = card(drafts.last_playable(drafts.find(effect_id)), listener(request))
    return HttpResponse(strip, content_type="image/png", headers={"Cache-Control": "no-cache"})


@api.get("effects/{effect_id}/card", response={200: schemas.CardFacts, **PROBLEMS})
def card_facts(request: HttpRequest, effect_id: RowId) -> Any:
    _, facts = card(drafts.last_playable(drafts.find(effect_id)), listener(request))
    return {**facts, "pictures": cards.COUNT, "width": cards.WIDTH, "height": cards.HEIGHT}


@api.post("play", response={200: None, **PROBLEMS}, openapi_extra=binary(PACKETS))
def play_effect(request: HttpRequest, wanted: schemas.Play) -> StreamingHttpResponse:
    """Stream frame packets (docs/FORMATS.md) of a document: the frame `now` first."""
    gone = listener(request)
    streams(request)
    with first_turn(gone):
        playing = ready(read_effect(wanted.document))
    picked = (wanted.picked.emitter, key_in(wanted.picked.key)) if wanted.picked else None
    held = tuple(HeldFrames(**each.model_dump()) for each in wanted.held)
    asked = PlayRequest(
        wanted.whole,
        wanted.facts,
        wanted.measured,
        picked,
        wanted.shade,
        wanted.lines,
        wanted.field,
        held,
        wanted.across,
        wanted.coarse,
    )
    packets = play(playing, wanted.window, wanted.now, asked, gone)
    first = next(packets, b"")  # errors of the first frame become an ordinary answer
    return StreamingHttpResponse(
        _then(first, packets), content_type="application/octet-stream", headers={"Cache-Control": "no-store"}
    )


def _then(first: bytes, packets: Any) -> Any:
    yield first
    yield from packets


@api.post("sources", response={200: list[schemas.SourceChoice], **PROBLEMS})
def list_sources(request: HttpRequest, wanted: schemas.SourcesIn) -> Any:
    """Every source for a row, with its live range, or why it is not offered."""
    return sources_in(wanted)


@api.post("variations", response={200: list[schemas.VariationOut], **PROBLEMS})
def list_variations(request: HttpRequest, wanted: schemas.VariationsIn) -> Any:
    """A new draw of each kind, fitted to a row that is to vary from particle to particle."""
    effect = read_effect(wanted.document)
    return variations(effect, emitter_of(effect, wanted.emitter), wanted.address)


@api.post("table", response={200: particle_schemas.TableOut, **PROBLEMS})
def table(request: HttpRequest, wanted: particle_schemas.TableIn) -> Any:
    """All an emitter's particles at a frame: sorted, filtered, a page of them."""
    filters = tuple(Filter(f.column, f.low, f.high) for f in wanted.filters)
    return particles_in(wanted).table(
        wanted.frame, TableRequest(wanted.sort, wanted.descending, filters, wanted.first, wanted.count)
    )


@api.post("one-life", response={200: particle_schemas.OneLifeOut, **PROBLEMS})
def one_life(request: HttpRequest, wanted: particle_schemas.OneLifeIn) -> Any:
    """One particle from birth to end."""
    particles = particles_in(wanted)
    key = particles.key_at(wanted.frame, wanted.index or 0) if wanted.key is None else key_in(wanted.key)
    return particles.one_life(wanted.frame, key)


@api.post("slice", response={200: particle_schemas.SliceOut, **PROBLEMS})
def slice_of_pushes(request: HttpRequest, wanted: particle_schemas.SliceIn) -> Any:
    """What pushes would do to a particle over a plane through it."""
    particles = particles_in(wanted)
    return particles.slice(
        wanted.frame, key_in(wanted.key), wanted.push, wanted.across, wanted.up, wanted.reach, wanted.count
    )


@api.post("bounds", response={200: particle_schemas.BoundsOut, **PROBLEMS})
def bounds_of_particles(request: HttpRequest, wanted: particle_schemas.BoundsIn) -> Any:
    """The box about what comes to a shaping."""
    found = bounds(
        ready(read_effect(wanted.document)), wanted.emitter, wanted.shaping, None if wanted.whole else wanted.frame
    )
    return {"middle": None, "size": None} if found is None else {"middle": found[0].tolist(), "size": found[1].tolist()}


@api.post("seam", response={200: particle_schemas.SeamOut, **PROBLEMS})
def seam_of_a_loop(request: HttpRequest, wanted: particle_schemas.SeamIn) -> Any:
    """A loop's last frame beside its first, and how far it is from one to the other."""
    gone = listener(request)

    def stopped() -> None:
        if gone():
            raise Cancelled()

    playing = ready(read_effect(wanted.document))
    before = playing.frames_simulated
    result = seam(playing, wanted.emitter, *SEAM, stopped)
    return {
        **asdict(result),
        "simulated": playing.frames_simulated - before,
        "pictures": [base64.b64encode(each).decode() for each in result.pictures],
    }


@api.post("rails", response={200: list[particle_schemas.RailsOut], **PROBLEMS})
def rails_of_rides(request: HttpRequest, wanted: AboutEmitter) -> Any:
    """The rails of an emitter's rides at a frame, as lines."""
    playing = ready(read_effect(wanted.document))
    emitter = emitter_of(playing.effect, wanted.emitter)
    return rails(playing.stage, emitter, playing.plan.scene(wanted.frame)) if isinstance(emitter, Emitter) else []


@api.post("cost", response={200: schemas.CostOut, **PROBLEMS})
def what_it_costs(request: HttpRequest, wanted: schemas.CostIn) -> Any:
    """Where the milliseconds of a frame go, by row."""
    return cost(ready(read_effect(wanted.document)), wanted.frame, time.perf_counter)


@api.post("layout", response={200: schemas.Layout, **PROBLEMS})
def lay_out(request: HttpRequest, wanted: schemas.AboutDocument) -> Any:
    """The sheets of a document's emitters and props: rows, settings, what can be chosen and added. The document need
    not be playable."""
    return layout(read_effect(wanted.document))


@api.post("pieces/copy", response={200: schemas.Piece, **PROBLEMS})
def copy_piece(request: HttpRequest, wanted: schemas.CopyIn) -> Any:
    """Copy responses, a row's sentence, an emitter or a prop out of a document."""
    document = read_effect(wanted.document)
    if wanted.kind == "prop":
        return {"piece": copy_prop(document, wanted.uids[0] if wanted.uids else "")}
    emitter = emitter_of(document, wanted.emitter)
    if wanted.kind == "emitter":
        return {"piece": copy_emitter(document, emitter)}
    if wanted.kind in MOVERS:
        return {"piece": copy_mover(document, emitter, wanted.kind, wanted.uids[0] if wanted.uids else "")}
    return {
        "piece": copy_row(document, emitter, wanted.address)
        if wanted.kind == "row"
        else copy_responses(document, emitter, wanted.uids)
    }


@api.post("pieces/paste", response={200: schemas.Pasted, **PROBLEMS})
def paste_piece(request: HttpRequest, wanted: schemas.PasteIn) -> Any:
    """Return the document with a piece put in, checked; nothing is stored."""
    document = read_effect(wanted.document)
    if wanted.address:
        changed, uids = paste(document, wanted.emitter, wanted.address, wanted.piece, new_uid, wanted.at, wanted.move)
    elif wanted.piece.get("kind") in MOVERS:
        changed, uid = paste_mover(document, wanted.emitter, wanted.piece, new_uid, wanted.at)
        uids = [uid]
    else:
        put = paste_prop if wanted.piece.get("kind") == "prop" else paste_emitter
        changed, uid = put(document, wanted.piece, new_uid)
        uids = [uid]
    return {"document": changed, "uids": uids}


@api.get("presets", response={200: list[schemas.PresetOut], **PROBLEMS})
def list_presets(request: HttpRequest) -> Any:
    return presets.mine()


@api.post("presets", response={201: schemas.PresetOut, **PROBLEMS})
def keep_preset(request: HttpRequest, wanted: schemas.PresetIn) -> Any:
    return 201, presets.keep(wanted.name, wanted.kind, wanted.data)


@api.delete("presets/{preset_id}", response={204: None, **PROBLEMS})
def forget_preset(request: HttpRequest, preset_id: RowId) -> Any:
    presets.forget(preset_id)
    return 204, None


@api.post("effects/{effect_id}/exports", response={201: schemas.ExportOut, **PROBLEMS})
def start_export(request: HttpRequest, effect_id: RowId, wanted: schemas.ExportIn) -> Any:
    size = (wanted.width, wanted.height)
    return 201, exports.start(
        drafts.find(effect_id), wanted.kind, wanted.first, wanted.last, size, wanted.document, wanted.options
    )


@api.post("effects/{effect_id}/exports/estimate", response={200: schemas.EstimateOut, **PROBLEMS})
def estimate_export(request: HttpRequest, effect_id: RowId, wanted: schemas.ExportIn) -> Any:
    """What an export of pictures will be, from its middle frame: how many, about how large, about how long it takes."""
    drafts.find(effect_id)
    return exports.estimated(
        wanted.kind, wanted.first, wanted.last, (wanted.width, wanted.height), wanted.document, wanted.options
    )


@api.get("effects/{effect_id}/exports", response={200: list[schemas.ExportOut], **PROBLEMS})
def list_exports(request: HttpRequest, effect_id: RowId) -> Any:
    """The exports of an effect whose files are still here."""
    return exports.of_effect(drafts.find(effect_id).pk)


@api.delete("exports/{job_id}", response={204: None, **PROBLEMS})
def delete_export(request: HttpRequest, job_id: RowId) -> Any:
    """Stop an export, and remove its file."""
    exports.find(job_id).delete()
    return 204, None


@api.get("exports/{job_id}", response={200: schemas.ExportOut, **PROBLEMS})
def export_state(request: HttpRequest, job_id: RowId) -> Any:
    return exports.find(job_id)


@api.post("exports/{job_id}/cancel", response={200: schemas.ExportOut, **PROBLEMS})
def cancel_export(request: HttpRequest, job_id: RowId) -> Any:
    return exports.cancel(job_id)


@api.get("exports/{job_id}/file", response={200: None, **PROBLEMS}, openapi_extra=binary("application/octet-stream"))
def export_file(request: HttpRequest, job_id: RowId) -> FileResponse:
    path, media, name = exports.result(job_id)
    return FileResponse(path.open("rb"), as_attachment=True, filename=name, content_type=media)
