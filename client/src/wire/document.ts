/** The document as the client sees it: rows and responses, which it edits, and parts, whose fields are the core's to know. */

// eslint-disable-next-line @typescript-eslint/no-explicit-any -- what a part holds is told by the layout, not by types
export type Part = { [field: string]: any }
export type Source = Part & { kind: string }
export type SourcedBase = { source: Source; read: 'once' | 'live' }
export type FormulaSource = Source & { uid: string; text: string; draft: string }
export type Key = {
  x: number
  y: number
  shape: 'linear' | 'smooth' | 'hold' | 'free'
  into?: [number, number] | null
  out?: [number, number] | null
}
export type Stop = { x: number; colour: [number, number, number]; shape: 'linear' | 'smooth' | 'hold' }
type Setting = number | NumberRow
type Answers = {
  uid: string
  source: Source
  read: 'once' | 'live'
  operation: 'set' | 'multiply' | 'add' | 'at_most' | 'at_least'
  amount: Setting
  muted: boolean
  fitted?: string
}
type Ranged = { input: [number, number]; beyond: 'hold' | 'repeat' | 'mirror'; shift: Setting }
type Component = 'all' | 'x' | 'y' | 'z'
export type CurveResponse = Answers &
  Ranged & {
    kind: 'curve'
    curve: { keys: Key[] }
    exponent: Setting
    output: [Setting, Setting]
    component: Component
  }
export type GradientResponse = Answers & Ranged & { kind: 'gradient'; gradient: { stops: Stop[] } }
export type RatioResponse = Answers & { kind: 'ratio'; reference: Setting; power: Setting; component: Component }
export type Response = CurveResponse | GradientResponse | RatioResponse
export type NumberRow = { base: number | SourcedBase; responses: Response[]; muted: boolean }
export type VectorRow = { base: [number, number, number] | SourcedBase; responses: Response[]; muted: boolean }
export type ColourRow = { base: [number, number, number] | SourcedBase; responses: Response[]; muted: boolean }
export type Row = NumberRow | VectorRow | ColourRow

export type Place = Part & { kind: string }
export type Force = Part & { kind: string; uid: string; muted: boolean }
export type Draw = Part & { kind: string; uid: string; name: string }
export type Own = Part & { kind: string; uid: string; name: string; memory: boolean; held: boolean }
export type Prop = Part & { kind: string; uid: string; name: string; shown: string }
/** One thing that is done to the picture. */
export type Finish = Part & {
  kind: string
  uid: string
  name: string
  muted?: boolean
  emitters?: string[]
  props?: string[]
  plate?: boolean
}
/** The frame that pictures are taken in. */
export type Framing = Part & {
  uid: string
  camera?: string | null
  width: number
  height: number
  safe?: boolean
  matte?: number
  behind?: 'ground' | 'colour' | 'plate'
  plate?: string | null
}
export type Burst = { uid: string; frame: number; count: number; after?: string | null }
/** A moment so long after a frame of the clip, or after another one. */
export type Moment = { uid: string; name: string; frame: number; after?: string | null; seconds?: number }
export type Births = Part & { rate: NumberRow; place: Place; launch: Part; lifespan: NumberRow; bursts?: Burst[] }
export type Thinning = Part & { prop: string | null; view: boolean }
export type Shelf = { added: string[]; pinned: string[]; hidden: string[]; remarks?: { row: string; text: string }[] }
/** What moves particles after the simulation. */
export type Shaping = Force & { everyone?: boolean; middle?: Row; size?: Row }
/** At a shown time (clip seconds) a simulated one is seen, and how it goes on from there. */
export type TimeKey = { at: number; shows: number; shape: 'linear' | 'smooth' | 'hold' }
export type Loop = { muted: boolean; first: number; last: number; way: 'matched' | 'blended'; over: number }
export type Emitter = {
  uid: string
  name: string
  visible: boolean
  folder?: string
  /** #rrggbb, or nothing. */
  colour?: string
  births: Births
  forces: Force[]
  rides?: Force[]
  contacts?: Force[]
  cues?: (Force & { name: string })[]
  shaping?: Shaping[]
  retiming?: { muted: boolean; keys: TimeKey[] } | null
  loop?: Loop | null
  target?: Part | null
  motion: Part
  look: Part
  thinning?: Thinning | null
  passing?: Part | null
  unseen?: Part | null
  draws: Draw[]
  own: Own[]
  muted_sources: string[]
  sheet: Shelf
}
export type Dial = {
  uid: string
  name: string
  value: number
  low: number
  high: number
  default: number
  unit: string
  note: string
  group?: string
  keys?: { time: number; value: number; shape: 'linear' | 'smooth' | 'hold' }[]
}
/** What all dials were turned to, under a name. */
export type Settings = { uid: string; name: string; values: Record<string, number> }
export type Clip = {
  frame_rate: [number, number]
  first_frame: number
  last_frame: number
  substeps: number
  run_up: number
  seed: number
  background: 'ink' | 'grey' | 'paper'
  preview?: number
  shown?: { times: 'seconds' | 'frames'; lengths: 'm' | 'cm' | 'mm'; rates: 'per_second' | 'per_frame' }
}
export type Camera = { position: [number, number, number]; target: [number, number, number]; field_of_view: number }
export type Effect = {
  format: string
  schema_version: number
  name: string
  note: string
  clip: Clip
  camera: Camera
  emitters: Emitter[]
  dials: Dial[]
  moments?: Moment[]
  settings?: Settings[]
  props: Prop[]
  finish?: Finish[]
  frame?: Framing
  retiming?: { muted: boolean; keys: TimeKey[] } | null
  loop?: Loop | null
}
