/** Calls to the server. Every refusal becomes a Refused with findings: what, where, what to do. */
import createClient from 'openapi-fetch'
import type { paths } from './api.generated'
import { readArrays, readSheets, type Geometry, type LookSheets } from './arrays'
import type {
  Beginning,
  Bounds,
  Seam,
  BroughtIn,
  Card,
  CardFacts,
  Catalog,
  Cost,
  DialUse,
  DocFound,
  DocPage,
  Effect,
  ExportState,
  Estimate,
  ExportWish,
  Finding,
  FormulaAnswer,
  FormulaName,
  HelpCard,
  OneLife,
  Opened,
  Person,
  Piece,
  PieceKind,
  Preset,
  Session,
  SliceOut,
  SourceChoice,
  Variation,
  StepOut,
  Storage,
  Table,
  TableWish,
  Trial,
  TurnedOverlay,
  Warming,
} from './types'

export class Refused extends Error {
  constructor(
    readonly status: number,
    readonly findings: Finding[],
    readonly revision: number | null = null,
  ) {
    super(findings.map((f) => [f.where && `${f.where}:`, f.message, f.remedy].filter(Boolean).join(' ')).join('\n'))
  }
}

/** The server could not be reached; nothing is known to be lost. */
export class Unreachable extends Error {}

/** What went wrong with a call, as words for whoever asked; without the places, where a form shows but few fields. */
export function inWords(error: unknown, places = true): string {
  if (!(error instanceof Refused)) return 'The server does not answer. Try again in a moment.'
  return places ? error.message : error.findings.map((f) => `${f.message} ${f.remedy}`).join('\n')
}

const client = createClient<paths>({ baseUrl: '/' })

/** How many calls wait for an answer. */
export const traffic = { pending: 0 }

async function answer<T>(call: Promise<{ data?: unknown; error?: unknown; response: Response }>): Promise<T> {
  let result
  traffic.pending++
  try {
    result = await call
  } catch (problem) {
    throw new Unreachable(String(problem))
  } finally {
    traffic.pending--
  }
  if (result.response.ok) return result.data as T
  throw refusal(result.response.status, result.error)
}

/** Told when an answer was refused because nobody is signed in. */
export const refusedBy = { strangers: () => {} }

export function refusal(status: number, body: unknown): Refused {
  if ((body as { findings?: Finding[] } | undefined)?.findings?.[0]?.code === 'sign_in') refusedBy.strangers()
  const problem = body as { findings?: Finding[]; revision?: number } | undefined
  const fallback = {
    code: 'server',
    where: '',
    message: `The server answered ${status}.`,
    remedy: 'Try again; if it stays so, look at its log.',
  }
  return new Refused(status, problem?.findings ?? [fallback], problem?.revision ?? null)
}

/** Fetch what is no JSON, among the calls that wait for an answer. */
export async function fetched(address: string, init?: RequestInit): Promise<Response> {
  traffic.pending++
  try {
    return await fetch(address, init)
  } finally {
    traffic.pending--
  }
}

const at = (id: number) => ({ params: { path: { effect_id: id } } })
const job = (id: number) => ({ params: { path: { job_id: id } } })
type Plain = { [key: string]: unknown }

export const api = {
  catalog: (): Promise<Catalog> => answer(client.GET('/api/catalog')),
  session: (): Promise<Session> => answer(client.GET('/api/session')),
  signIn: (name: string, password: string): Promise<Session> =>
    answer(client.POST('/api/session', { body: { name, password } })),
  signOut: (): Promise<unknown> => answer(client.DELETE('/api/session')),
  welcome: (secret: string, name: string, password: string): Promise<Session> =>
    answer(client.POST('/api/session/welcome', { body: { secret, name, password } })),
  changePassword: (old: string, now: string): Promise<unknown> =>
    answer(client.PUT('/api/session/password', { body: { old, new: now } })),
  people: (): Promise<Person[]> => answer(client.GET('/api/people')),
  endWait: (id: number): Promise<void> =>
    answer(client.DELETE('/api/people/{person_id}/wait', { params: { path: { person_id: id } } })),
  invite: (): Promise<{ path: string; days: number }> => answer(client.POST('/api/people/invitations')),
  removePerson: (id: number): Promise<unknown> =>
    answer(client.DELETE('/api/people/{person_id}', { params: { path: { person_id: id } } })),
  beginnings: (): Promise<Beginning[]> => answer(client.GET('/api/beginnings')),
  begin: (beginning: string, folder: string): Promise<Opened> =>
    answer(client.POST('/api/effects', { body: { beginning, folder, label: 'Begun' } })),
  duplicate: (id: number): Promise<Card> => answer(client.POST('/api/effects/{effect_id}/copy', at(id))),
  takeBack: (id: number): Promise<Card> => answer(client.POST('/api/effects/{effect_id}/take-back', at(id))),
  arrange: (id: number, body: { name?: string; folder?: string; tags?: string[] }): Promise<Card> =>
    answer(client.PATCH('/api/effects/{effect_id}', { ...at(id), body })),
  deleted: (): Promise<Card[]> => answer(client.GET('/api/effects', { params: { query: { deleted: true } } })),
  effects: (): Promise<Card[]> => answer(client.GET('/api/effects')),
  card: (id: number, signal: AbortSignal): Promise<CardFacts> =>
    answer(client.GET('/api/effects/{effect_id}/card', { ...at(id), signal })),
  open: (id: number): Promise<Opened> => answer(client.GET('/api/effects/{effect_id}', at(id))),
  create: (document: Effect, label: string): Promise<Opened> =>
    answer(
      client.POST('/api/effects', {
        body: { document: document as unknown as Plain, label, beginning: '', folder: '' },
      }),
    ),
  remove: (id: number): Promise<unknown> => answer(client.DELETE('/api/effects/{effect_id}', at(id))),
  save: (id: number, revision: number, document: Effect, label: string): Promise<Opened> =>
    answer(
      client.PUT('/api/effects/{effect_id}/draft', {
        ...at(id),
        body: { revision, document: document as unknown as Plain, label },
      }),
    ),
  undo: (id: number, revision: number): Promise<Opened> =>
    answer(client.POST('/api/effects/{effect_id}/undo', { ...at(id), body: { revision } })),
  redo: (id: number, revision: number): Promise<Opened> =>
    answer(client.POST('/api/effects/{effect_id}/redo', { ...at(id), body: { revision } })),
  history: (id: number): Promise<StepOut[]> => answer(client.GET('/api/effects/{effect_id}/history', at(id))),
  walk: (id: number, revision: number, number: number): Promise<Opened> =>
    answer(client.POST('/api/effects/{effect_id}/walk', { ...at(id), body: { revision, number } })),
  startExport: (id: number, wish: ExportWish): Promise<ExportState> =>
    answer(client.POST('/api/effects/{effect_id}/exports', { ...at(id), body: wish })),
  estimateExport: (id: number, wish: ExportWish): Promise<Estimate> =>
    answer(client.POST('/api/effects/{effect_id}/exports/estimate', { ...at(id), body: wish })),
  exportState: (id: number): Promise<ExportState> => answer(client.GET('/api/exports/{job_id}', job(id))),
  exports: (id: number): Promise<ExportState[]> => answer(client.GET('/api/effects/{effect_id}/exports', at(id))),
  removeExport: (id: number): Promise<unknown> => answer(client.DELETE('/api/exports/{job_id}', job(id))),
  warming: (): Promise<Warming> => answer(client.GET('/api/warming')),
  storage: (): Promise<Storage> => answer(client.GET('/api/storage')),
  removeFile: (content: string): Promise<unknown> =>
    answer(client.DELETE('/api/storage/files/{content}', { params: { path: { content } } })),
  keepFile: (content: string): Promise<unknown> =>
    answer(client.POST('/api/storage/files/{content}/keep', { params: { path: { content } } })),
  cancelExport: (id: number): Promise<ExportState> => answer(client.POST('/api/exports/{job_id}/cancel', job(id))),

  sources: (document: Plain, emitter: string, frame: number, address: string): Promise<SourceChoice[]> =>
    answer(client.POST('/api/sources', { body: { document, emitter, frame, address } })),
  variations: (document: Plain, emitter: string, address: string): Promise<Variation[]> =>
    answer(client.POST('/api/variations', { body: { document, emitter, address } })),
  table: (document: Plain, wish: TableWish): Promise<Table> =>
    answer(client.POST('/api/table', { body: { document, ...wish } })),
  slice: (
    document: Plain,
    wish: {
      emitter: string
      frame: number
      key: string
      push: string
      across: [number, number, number]
      up: [number, number, number]
      reach: number
      count: number
    },
  ): Promise<SliceOut> => answer(client.POST('/api/slice', { body: { document, ...wish } })),
  rails: (
    document: Plain,
    emitter: string,
    frame: number,
  ): Promise<{ ride: string; lines: [number, number, number][][] }[]> =>
    answer(client.POST('/api/rails', { body: { document, emitter, frame } })),
  bounds: (
    document: Plain,
    wish: { emitter: string; shaping: string; frame: number; whole: boolean },
  ): Promise<Bounds> => answer(client.POST('/api/bounds', { body: { document, ...wish } })),
  seam: (document: Plain, emitter: string): Promise<Seam> =>
    answer(client.POST('/api/seam', { body: { document, emitter } })),
  oneLife: (
    document: Plain,
    emitter: string,
    frame: number,
    which: { key: string } | { index: number },
  ): Promise<OneLife> => answer(client.POST('/api/one-life', { body: { document, emitter, frame, ...which } })),
  copy: (body: {
    document: Plain
    emitter: string
    kind: PieceKind
    uids: string[]
    address: string
  }): Promise<{ piece: Piece }> => answer(client.POST('/api/pieces/copy', { body })),
  paste: (body: {
    document: Plain
    emitter: string
    address: string
    piece: Piece
    at: number | null
    move: string[]
  }): Promise<{ document: Effect; uids: string[] }> => answer(client.POST('/api/pieces/paste', { body })),
  checkFormula: (body: {
    document: Plain
    emitter: string
    address: string
    text: string
    read: 'once' | 'live'
    response: boolean
    multiplies: boolean
  }): Promise<FormulaAnswer> => answer(client.POST('/api/formulas/check', { body })),
  formulaNames: (body: {
    document: Plain
    emitter: string
    address: string
    read: 'once' | 'live'
    frame: number
  }): Promise<FormulaName[]> => answer(client.POST('/api/formulas/names', { body })),
  makeDial: (body: {
    document: Plain
    emitter: string
    address: string
    how: 'sets' | 'multiplies' | 'limits'
    component: number | null
  }): Promise<{ document: Effect; uid: string }> => answer(client.POST('/api/dials/make', { body })),
  cards: (): Promise<HelpCard[]> => answer(client.GET('/api/help/cards')),
  tryCard: (body: {
    document: Plain
    emitter: string
    key: string
    number: number
    address: string
  }): Promise<{ document: Effect; label: string }> => answer(client.POST('/api/help/try', { body })),
  docs: (): Promise<DocPage[]> => answer(client.GET('/api/docs')),
  docPage: (name: string): Promise<DocPage & { html: string }> =>
    answer(client.GET('/api/docs/{name}', { params: { path: { name } } })),
  searchDocs: (words: string): Promise<DocFound[]> =>
    answer(client.GET('/api/docs/search', { params: { query: { words } } })),
  makeGuide: (body: { document: Plain; emitter: string }): Promise<{ document: Effect; uid: string }> =>
    answer(client.POST('/api/guides/make', { body })),
  breakUp: (body: { document: Plain; uid: string }): Promise<{ document: Effect; uid: string }> =>
    answer(client.POST('/api/props/break', { body })),
  copyAxis: (body: {
    document: Plain
    owner: string
    address: string
    one: 'x' | 'y' | 'z'
    other: 'x' | 'y' | 'z'
  }): Promise<{ document: Effect }> => answer(client.POST('/api/rows/axis', { body })),
  deleteDial: (document: Plain, uid: string): Promise<{ document: Effect }> =>
    answer(client.POST('/api/dials/delete', { body: { document, uid } })),
  deleteMoment: (document: Plain, uid: string): Promise<{ document: Effect }> =>
    answer(client.POST('/api/moments/delete', { body: { document, uid } })),
  rename: (body: {
    document: Plain
    kind: 'dial' | 'draw' | 'own' | 'prop' | 'moment' | 'cue'
    uid: string
    name: string
    emitter: string
  }): Promise<{ document: Effect }> => answer(client.POST('/api/names/rename', { body })),
  dialUses: (document: Plain): Promise<Record<string, DialUse[]>> =>
    answer(client.POST('/api/dials/uses', { body: { document } })),
  tryDial: (document: Plain, uid: string): Promise<Trial> =>
    answer(client.POST('/api/dials/try', { body: { document, uid } })),
  overlays: (id: number): Promise<TurnedOverlay[]> => answer(client.GET('/api/effects/{effect_id}/overlays', at(id))),
  keepOverlay: (id: number, name: string, values: Record<string, number>): Promise<TurnedOverlay> =>
    answer(client.PUT('/api/effects/{effect_id}/overlays', { ...at(id), body: { name, values } })),
  takeOut: (id: number, overlay: number, uids: string[]): Promise<unknown> =>
    answer(
      client.POST('/api/effects/{effect_id}/overlays/{overlay_id}/take-out', {
        params: { path: { effect_id: id, overlay_id: overlay } },
        body: { uids },
      }),
    ),
  cost: (document: Plain, frame: number): Promise<Cost> =>
    answer(client.POST('/api/cost', { body: { document, frame } })),
  presets: (): Promise<Preset[]> => answer(client.GET('/api/presets')),
  keepPreset: (name: string, kind: 'curve' | 'gradient', data: Plain): Promise<Preset> =>
    answer(client.POST('/api/presets', { body: { name, kind, data } })),
  forgetPreset: (id: number): Promise<unknown> =>
    answer(client.DELETE('/api/presets/{preset_id}', { params: { path: { preset_id: id } } })),

  /** The sheets that looks are drawn with at a frame, but for those that are known. */
  async sheets(document: Effect, frame: number, known: string[]): Promise<LookSheets[]> {
    const response = await fetch('/api/pictures/sheets', {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ document, frame, known }),
    })
    if (!response.ok) throw refusal(response.status, await response.json().catch(() => undefined))
    return readSheets(await response.arrayBuffer())
  },
  /** The core's own picture of a frame, or of a region of it: as it is shown, and its light. */
  async render(
    wish: {
      document: Effect
      frame: number
      width: number
      height: number
      scale: number
      region: readonly number[]
      eye: object
      how?: string
    },
    signal: AbortSignal,
  ): Promise<{ width: number; height: number; shown: ImageData; light: Uint16Array }> {
    const { document, frame, width, height, scale, region, eye, how = 'seen' } = wish
    const response = await fetch('/api/pictures/render', {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ document, frame, width, height, scale, region, eye, how }),
      signal,
    })
    if (!response.ok) throw refusal(response.status, await response.json().catch(() => undefined))
    const { header, arrays } = readArrays(await response.arrayBuffer())
    const [, , wide, tall] = header.region as number[]
    const shown = new ImageData(new Uint8ClampedArray(arrays.shown as Uint8Array), wide, tall)
    return { width: wide, height: tall, shown, light: arrays.light as Uint16Array }
  },
  /** A sprite sheet as it will play: its pages, how many a second, how far it is from the last to the first in how far it is from page to page. */
  async previewSheet(
    wish: ExportWish,
  ): Promise<{ pages: ImageData[]; width: number; height: number; rate: number; seam: number }> {
    const response = await fetch('/api/pictures/sheet', {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(wish),
    })
    if (!response.ok) throw refusal(response.status, await response.json().catch(() => undefined))
    const { header, arrays } = readArrays(await response.arrayBuffer())
    const bytes = arrays.pages as Uint8Array
    const count = bytes.length / (wish.width * wish.height * 4)
    const [width, height, each] = [wish.width, wish.height, bytes.length / count]
    const pages = Array.from({ length: count }, (_, i) => {
      const pixels = new Uint8ClampedArray(bytes.slice(i * each, (i + 1) * each).buffer)
      return new ImageData(pixels, width, height)
    })
    return { pages, width, height, rate: header.rate as number, seam: header.seam as number }
  },
  /** What a picture prop shows at a frame: RGBA, and its size. */
  async propPicture(
    document: Effect,
    prop: string,
    frame: number,
  ): Promise<{ pixels: Uint8Array; width: number; height: number }> {
    const response = await fetched('/api/pictures/prop', {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ document, prop, frame }),
    })
    if (!response.ok) throw refusal(response.status, await response.json().catch(() => undefined))
    const { header, arrays } = readArrays(await response.arrayBuffer())
    const [width, height] = header.pixelSize as [number, number]
    return { pixels: arrays.pixels as Uint8Array, width, height }
  },
  /** The geometry of a prop, in its own space. */
  async geometry(prop: unknown, fine = false): Promise<Geometry> {
    const response = await fetch('/api/props/geometry', {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ prop, fine }),
    })
    if (!response.ok) throw refusal(response.status, await response.json().catch(() => undefined))
    const { header, arrays } = readArrays(await response.arrayBuffer())
    const { faces: indices, ...rest } = arrays
    return { ...header, uv_there: header.uv, ...rest, indices } as unknown as Geometry
  },
  joinFiles: (contents: string[], rate: number): Promise<BroughtIn> =>
    answer(client.POST('/api/props/sequences', { body: { contents, rate } })),
  missingFiles: (contents: string[]): Promise<string[]> =>
    answer(client.POST('/api/props/missing', { body: { contents } })),
  offersOf: (content: string, unit: number, up: 'y' | 'z'): Promise<BroughtIn> =>
    answer(client.POST('/api/props/offers', { body: { content, unit, up } })),
  /** Bring a file in; tells how much of it has been sent, 0 to 1. */
  bringFile(file: File, progress: (share: number) => void): Promise<BroughtIn> {
    return new Promise((resolve, reject) => {
      const request = new XMLHttpRequest()
      request.open('POST', `/api/props/files?name=${encodeURIComponent(file.name)}`)
      request.upload.onprogress = (event) => event.lengthComputable && progress(event.loaded / event.total)
      request.onerror = () => reject(new Unreachable('The server does not answer.'))
      request.onload = () => {
        const body = (() => {
          try {
            return JSON.parse(request.responseText)
          } catch {
            return undefined
          }
        })()
        if (request.status === 201) resolve(body as BroughtIn)
        else reject(refusal(request.status, body))
      }
      request.send(file)
    })
  },

  /** Make an effect of a file, sent as it is. */
  async importFile(file: Blob): Promise<Opened> {
    let response
    try {
      response = await fetch('/api/effects/import', { method: 'POST', body: file })
    } catch (problem) {
      throw new Unreachable(String(problem))
    }
    const body = await response.json().catch(() => undefined)
    if (!response.ok) throw refusal(response.status, body)
    return body as Opened
  },
}
