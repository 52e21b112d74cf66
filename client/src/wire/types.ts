/** The wire's types by short names; all of them are generated from the API's schema. */
import type { components } from './api.generated'

type Schemas = components['schemas']
export type Effect = Schemas['Effect']
export type Emitter = Schemas['Emitter']
export type Clip = Schemas['Clip']
export type CurveResponse = Schemas['CurveResponse']
export type GradientResponse = Schemas['GradientResponse']
export type Response = CurveResponse | GradientResponse
export type Key = Schemas['Key']
export type Stop = Schemas['Stop']
export type Source = CurveResponse['source']
export type NumberRow = Schemas['NumberRow']
export type VectorRow = Schemas['VectorRow']
export type ColourRow = Schemas['ColourRow']
export type Row = NumberRow | VectorRow | ColourRow
export type Force = NonNullable<Emitter['forces']>[number]
export type Place = Emitter['births']['place']
export type Opened = Schemas['Opened']
export type Card = Schemas['Card']
export type CardFacts = Schemas['CardFacts']
export type Catalog = Schemas['Catalog']
export type RowSpec = Schemas['RowSpec']
export type SourceSpec = Schemas['SourceSpec']
export type Unit = Schemas['Unit']
export type Finding = Schemas['FindingOut']
export type ExportState = Schemas['ExportOut']
export type ExportWish = Schemas['ExportIn']
