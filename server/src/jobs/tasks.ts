import type { AirDesign, ChannelFrame, MeasuredRun } from '@hoja/core/air'
import type { Cells, Finding, Match, Row, Table } from '@hoja/core/data'
import type { BookPart, bookOffers, Candidate, DataPreview, ReadOptions } from '@hoja/core/formats'
import type { Box } from '@hoja/core/geometry'
import type { OutputSettings } from '@hoja/core/output'
import type { ClipFinding, ClipId, Programme } from '@hoja/core/programme'
import type { FontFile, PartId, Template, Values } from '@hoja/core/template'
import type { fontFacts } from '@hoja/core/text'
import type { Rate } from '@hoja/core/time'
import type { SheetTitle } from '../render/contactSheet.ts'
import type { FlatPicture } from '../render/flat.ts'
import type { Footage } from '../render/footage.ts'
import type { Source } from '../render/scenes.ts'
import type { SignOffSheet } from '../signoff/sheet.ts'
import type { About } from '../store/about.ts'
import type { Asset } from '../store/assets.ts'

/** A file that somebody brought, where it lies for the time being; a job opens it, nobody else does. */
export interface Brought {
  path: string
  name: string
}

/** Where files are kept under their SHA-256. */
interface Kept {
  files: string
}

/** A font of the store that takes the place of one that a package lacks. */
export interface Stand {
  sha256: string
  name: string
}

/** What a picture shows: the whole frame, picture px per frame px; or what the title touches, in a shape, picture px wide. */
export interface Shown {
  show: { scale: number } | { shape: number; width: number }
}

/** Work that is done outside of the main process. */
export type Task =
  /** Rows of a data file, which come in pieces, and how they match. */
  | { kind: 'readTable'; file: Brought; options: ReadOptions; template: Template }
  | { kind: 'readRows'; file: Brought; options: ReadOptions; template: Template }
  | { kind: 'readParts'; file: Brought; parts: (BookPart & { template: Template })[] }
  | { kind: 'previewBook'; file: Brought; candidates: Candidate[] }
  | { kind: 'previewData'; file: Brought; options: ReadOptions; template: Template }
  /** Reads a package, and keeps what it carries. `instead` by font id; what it still lacks is told instead. */
  | ({ kind: 'takePackage'; file: Brought; instead: Record<string, Stand> } & Kept)
  /** Draws the poster and the proofs of a package that is on nobody's shelf yet. */
  | ({ kind: 'previewPackage'; file: Brought; instead: Record<string, Stand>; scale: number } & Kept)
  /** A template's document as it comes over the network. */
  | { kind: 'readDraft'; document: Uint8Array }
  | ({ kind: 'takeFont'; file: Brought } & Kept)
  | ({ kind: 'takeSound'; file: Brought } & Kept)
  | ({ kind: 'takePicture'; file: Brought } & Kept)
  /** A movie becomes an animated PNG of its frames. */
  | ({ kind: 'takeMovie'; file: Brought } & Kept)
  | ({ kind: 'takePictures'; file: Brought } & Kept)
  | ({ kind: 'takeFootage'; file: Brought } & Kept)
  /** A zip of pictures, as they are, becomes a movie of them. */
  | ({ kind: 'takeSequence'; file: Brought; rate: Rate } & Kept)
  /** Its pieces tell how far it is. */
  | { kind: 'makeProxy'; file: Brought; base: string }
  | { kind: 'footageFrame'; file: Brought; frame: number }
  /** All titles of a programme, each by itself and along time: by clip. `known`: how names are spelled. */
  | {
      kind: 'checkProgramme'
      programme: Programme
      sources: Record<string, Source>
      files: string
      known: string[]
      now: string
    }
  /** A programme's picture, footage and titles. */
  | {
      kind: 'programmeFrame'
      programme: Programme
      frame: number
      sources: Record<string, Source>
      files: string
      now: string
    }
  /** Titles that are to go on air: what is found about each, and what a channel has to know of it. */
  | {
      kind: 'readyTitles'
      /** `hold`: seconds that it is held; absent: until it is told to leave. */
      titles: { source: Source; template: string; number: number; cells: Cells; hold?: number | undefined }[]
      picture: ChannelFrame
      known: string[]
      now: string
    }
  /** What some JSON paths find in rows. */
  | { kind: 'readValues'; rows: Cells[]; paths: string[] }
  | ({ kind: 'fontFacts'; sha256: string } & Kept)
  /** All rows of a sheet, each by itself and beside the others. `known`: how names are spelled. */
  | { kind: 'check'; source: Source; match: Match; rows: Row[]; known: string[] }
  | { kind: 'rowPictures'; rows: { source: Source; match: Match; row: Row }[] }
  /** Pictures of all titles together. */
  | { kind: 'contactSheets'; source: Source; settings: OutputSettings; match: Match; titles: SheetTitle[] }
  | { kind: 'signOffPdf'; sheet: SignOffSheet }
  | ({ kind: 'still'; source: Source; values: Values; frame: number | 'poster' } & Shown)
  | ({ kind: 'loop'; source: Source; values: Values } & Shown)
  /** What a settled title touches, in a shape: width over height. */
  | { kind: 'near'; source: Source; values: Values; shape: number }
  /** A template's layers, each by itself. */
  | { kind: 'flatPictures'; source: Source; merged: boolean; scale: number }
  | { kind: 'flatDescription'; source: Source; settings: OutputSettings; names: { parts: PartId[]; file: string }[] }
  /** Its pieces tell how far it is. */
  | { kind: 'backUp'; data: string; to: string }
  /** Writes a package of a template, and its poster, to a file. */
  | ({ kind: 'zipPackage'; template: Template; poster: Uint8Array; to: string } & Kept)

/** One kind of it. */
export type Of<K extends Task['kind']> = Extract<Task, { kind: K }>

/** A template's document, checked, as it is kept, and what has to be known of it without reading it again. */
export interface ReadDraft {
  text: string
  about: About
  revision: number
}

/** A package as read, or the fonts that it lacks. */
export type TakenPackage =
  | { draft: Omit<ReadDraft, 'revision'>; assets: Asset[]; missing?: undefined }
  | { missing: FontFile[]; draft?: undefined }

export interface DrawnProof {
  name: string
  png: Uint8Array
  findings: Finding[]
}

export type SeenPackage =
  | { name: string; came: Uint8Array | null; proofs: DrawnProof[]; missing?: undefined }
  | { missing: FontFile[]; proofs?: undefined }

/** A title that is ready to go on air: for the channel's frame. */
export interface ReadyTitle {
  design: AirDesign
  findings: Finding[]
  /** What it touches where it stands, px of the channel. */
  region: Box
  run?: MeasuredRun | undefined
}

export interface Results {
  /** The columns; the rows came before. */
  readTable: { columns: string[]; match: Match; options: ReadOptions; count: number }
  readRows: Table
  readParts: { table: Table; match: Match }[]
  previewBook: ReturnType<typeof bookOffers>
  previewData: DataPreview
  takePackage: TakenPackage
  previewPackage: SeenPackage
  readDraft: ReadDraft
  takeFont: Asset
  takeSound: Asset
  takePicture: Asset
  takeMovie: Asset
  takePictures: { added: Asset[]; failed: string[] }
  takeFootage: { sha256: string; size: number; footage: Footage }
  takeSequence: { sha256: string; size: number; footage: Footage }
  makeProxy: null
  footageFrame: Uint8Array
  programmeFrame: Uint8Array
  checkProgramme: Map<ClipId, ClipFinding[]>
  readyTitles: ReadyTitle[]
  /** Of each path; undefined: nothing is there. */
  readValues: (string | undefined)[]
  fontFacts: ReturnType<typeof fontFacts>
  check: Finding[][]
  rowPictures: Uint8Array[]
  contactSheets: Uint8Array[]
  signOffPdf: Uint8Array
  still: Uint8Array
  loop: Uint8Array
  near: Box
  flatPictures: FlatPicture[]
  flatDescription: object
  backUp: null
  zipPackage: null
}

/** What a job says: errors cross processes as data. */
export type Said =
  | { kind: 'ready' }
  /** Some of a result, in its order; the next one comes when this one was taken. */
  | { kind: 'piece'; rows: string[] }
  | { kind: 'result'; value: unknown; tired: boolean }
  | { kind: 'refusal'; code: string; message: string; status: number; tired: boolean }
  | { kind: 'defect'; message: string }
