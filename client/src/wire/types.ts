/** The wire's types by short names: generated from the API's schema, and the document as the client sees it. */
import type { components } from './api.generated'
import type { Effect } from './document'

export type * from './document'
type Schemas = components['schemas']
/** An answer that holds a document. */
type Holding<T> = Omit<T, 'document' | 'playable'> & { document: Effect }
export type Opened = Holding<Schemas['Opened']> & { playable: Effect | null }
export type Session = Schemas['Session']
export type SliceOut = Schemas['SliceOut']
export type Person = Schemas['Person']
export type Storage = Schemas['Storage']
export type Warming = Schemas['Warming']
export type BroughtIn = Schemas['FileOut']
export type FormulaAnswer = Schemas['FormulaOut']
export type FormulaProblem = Schemas['FormulaProblem']
export type FormulaName = Schemas['NameOut']
export type DialUse = Schemas['UseOut']
export type Trial = Schemas['TrialOut']
export type Seam = Schemas['SeamOut']
export type TurnedOverlay = Schemas['OverlayOut']
export type HelpCard = Schemas['CardOut']
export type DocPage = Schemas['PageOut']
export type DocFound = Schemas['Found']
export type Beginning = Schemas['BeginningOut']
export type StepOut = Schemas['StepOut']
export type Card = Schemas['Card']
export type CardFacts = Schemas['CardFacts']
export type Catalog = Schemas['Catalog']
export type RowSpec = Schemas['RowSpec']
export type SourceSpec = Schemas['SourceSpec']
export type SourceChoice = Schemas['SourceChoice']
export type Variation = Schemas['VariationOut']
export type Unit = Schemas['Unit']
export type Finding = Schemas['FindingOut']
export type ExportState = Schemas['ExportOut']
export type ExportWish = Schemas['ExportIn']
export type Estimate = Schemas['EstimateOut']
export type OptionSpec = Schemas['OptionSpec']
export type Cost = Schemas['CostOut']
export type Preset = Schemas['PresetOut']
export type Table = Schemas['TableOut']
export type TableWish = Omit<Schemas['TableIn'], 'document'>
export type OneLife = Schemas['OneLifeOut']
/** A particle: its emitter and its key, 64 bits as text. */
export type Picked = { emitter: string; key: string }
export type Piece = Record<string, unknown>
export type PieceKind = Schemas['CopyIn']['kind']
export type Bounds = Schemas['BoundsOut']
export type Layout = Schemas['Layout']
export type ThingSpec = Schemas['ThingSpec']
export type PartSpec = Schemas['PartSpec']
export type FieldSpec = Schemas['FieldSpec']
export type KindSpec = Schemas['KindSpec']
export type GuideSpec = Schemas['GuideSpec']
export type RegionSpec = Schemas['RegionSpec']
export type AddSpec = Schemas['AddSpec']
export type BandSpec = Schemas['BandSpec']
