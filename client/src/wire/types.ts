/** The wire's types by short names; all of them are generated from the API's schema. */
import type { components } from './api.generated'

type Schemas = components['schemas']
export type Effect = Schemas['Effect']
export type Emitter = Schemas['Emitter']
export type Clip = Schemas['Clip']
export type CurveResponse = Schemas['CurveResponse']
export type GradientResponse = Schemas['GradientResponse']
export type RatioResponse = Schemas['RatioResponse']
export type Response = CurveResponse | GradientResponse | RatioResponse
export type Key = Schemas['Key']
export type Stop = Schemas['Stop']
export type Source = CurveResponse['source']
export type SourcedBase = Schemas['SourcedBase']
export type NumberRow = Schemas['NumberRow']
export type VectorRow = Schemas['VectorRow']
export type ColourRow = Schemas['ColourRow']
export type Row = NumberRow | VectorRow | ColourRow
export type Force = NonNullable<Emitter['forces']>[number]
export type Draw = NonNullable<Emitter['draws']>[number]
export type Own = NonNullable<Emitter['own']>[number]
export type Place = Emitter['births']['place']
export type Opened = Schemas['Opened']
export type Card = Schemas['Card']
export type CardFacts = Schemas['CardFacts']
export type Catalog = Schemas['Catalog']
export type RowSpec = Schemas['RowSpec']
export type SourceSpec = Schemas['SourceSpec']
export type SourceChoice = Schemas['SourceChoice']
export type Unit = Schemas['Unit']
export type Finding = Schemas['FindingOut']
export type ExportState = Schemas['ExportOut']
export type ExportWish = Schemas['ExportIn']
export type Cost = Schemas['CostOut']
export type Preset = Schemas['PresetOut']
export type Table = Schemas['TableOut']
export type TableWish = Omit<Schemas['TableIn'], 'document'>
export type OneLife = Schemas['OneLifeOut']
/** A particle: its emitter and its key, 64 bits as text. */
export type Picked = { emitter: string; key: string }
export type Piece = Record<string, unknown>
