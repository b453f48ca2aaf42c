/// <reference lib="webworker" />
import { checkKnown, checkRow, type Finding, KnownNames, weighed } from '@hoja/core/data'
import type { Box } from '@hoja/core/geometry'
import {
  type ClipId,
  checkAlong,
  clipMatch,
  clipRow,
  offTracks,
  type Programme,
  type TimeFinding,
  titlesOf,
  valuesOfClip,
  type Words,
  wordKeysOf,
} from '@hoja/core/programme'
import { Scene, touchedBy } from '@hoja/core/scene'
import { type Patch, patched } from '@hoja/core/session'
import type { Template } from '@hoja/core/template'
import { loadAssets } from './assets.ts'
import { timed } from './timed.ts'

/** A template as a programme draws it: of one version, in one shape, for its picture. */
export interface DrawnDesign {
  design: string
  shape: string | undefined
  template: Template
}

export type ProgrammeQuestion =
  | { kind: 'open'; programme: Programme; known: readonly string[]; now: string }
  | { kind: 'designs'; designs: DrawnDesign[] }
  | { kind: 'change'; patches: readonly Patch[] }

/** Something found about a title: by itself, or in its place in time. */
export type ClipFinding = Pick<Finding, 'level' | 'message' | 'field' | 'fix'> & {
  code: string
  with?: ClipId
}

export type ProgrammeReply =
  /** All that is found so far, and how many titles are still to be looked at. */
  { kind: 'found'; findings: [ClipId, ClipFinding[]][]; left: number }

/** What was found about words in a template at a length, and what they touch. */
interface Looked {
  findings: ClipFinding[]
  region: Box
}

let programme: Programme | undefined
let known = new KnownNames([])
let now = ''
const scenes = new Map<string, Scene>()
const keyOf = (design: string, shape: string | undefined) => `${design} ${shape ?? ''}`
let looked = new WeakMap<Words, Map<string, Looked>>()
let isWorking = false

/** ms of checking between two looks at what was asked meanwhile. */
const slice = 12
/** ms between two answers while titles are still looked at. */
const every = 300

const reply = (message: ProgrammeReply | { kind: 'ready' } | { kind: 'broken'; message: string }) =>
  (self as unknown as DedicatedWorkerGlobalScope).postMessage(message)

function knownOf(own: Programme, id: ClipId): Looked | undefined {
  const clip = own.clips[id]
  if (clip?.kind !== 'title') return undefined
  return looked.get(own.words[clip.words]!)?.get(`${keyOf(clip.design, clip.shape)} ${clip.frames}`)
}

/** Looks at a title by itself; whether it could be. */
function look(own: Programme, id: ClipId): boolean {
  const clip = own.clips[id]
  if (clip?.kind !== 'title') return false
  const scene = scenes.get(keyOf(clip.design, clip.shape))
  if (!scene) return false
  const { template } = scene
  const match = clipMatch(template)
  const row = clipRow(own, clip)
  const findings = [
    ...checkRow(scene, match, row, 1).findings,
    ...weighed(template, checkKnown(known, template, match, row, 1)),
  ].map(({ level, code, message, field, fix }) => ({
    level,
    code,
    message,
    ...(field === undefined ? {} : { field }),
    ...(fix === undefined ? {} : { fix }),
  }))
  const region = touchedBy(scene, valuesOfClip(scene, own, { id, clip }, now))
  const words = own.words[clip.words]!
  let of = looked.get(words)
  if (!of) {
    of = new Map()
    looked.set(words, of)
  }
  of.set(`${keyOf(clip.design, clip.shape)} ${clip.frames}`, { findings, region })
  return true
}

function tell(own: Programme, left: number): void {
  const all = new Map<ClipId, ClipFinding[]>()
  const off = offTracks(own)
  for (const { id, clip } of titlesOf(own)) {
    if (off.has(clip.track)) continue
    const found = knownOf(own, id)
    if (found && found.findings.length > 0) all.set(id, [...found.findings])
  }
  const keys = new Map<string, string[]>()
  for (const [key, scene] of scenes) keys.set(key.split(' ')[0]!, wordKeysOf(scene.template))
  const along: TimeFinding[] = timed('hoja along', () =>
    checkAlong(own, {
      regionOf: (id) => knownOf(own, id)?.region,
      textsOf: (design) => keys.get(design) ?? [],
    }),
  )
  for (const { clip, ...finding } of along) all.set(clip, [...(all.get(clip) ?? []), finding])
  reply({ kind: 'found', findings: [...all], left })
}

/** Looks at what was not looked at yet, slice by slice. */
function work(): void {
  if (isWorking) return
  isWorking = true
  let told = performance.now()
  const step = () => {
    const own = programme!
    const until = performance.now() + slice
    let left = 0
    for (const { id } of titlesOf(own)) {
      if (knownOf(own, id)) continue
      if (performance.now() > until || !look(own, id)) left++
    }
    const isDone =
      left === 0 ||
      titlesOf(own).every(({ id, clip }) => knownOf(own, id) || !scenes.has(keyOf(clip.design, clip.shape)))
    if (isDone || performance.now() - told > every) {
      told = performance.now()
      tell(own, left)
    }
    if (isDone) isWorking = false
    else setTimeout(step)
  }
  setTimeout(step)
}

async function answer(question: ProgrammeQuestion): Promise<void> {
  switch (question.kind) {
    case 'open':
      programme = question.programme
      known = new KnownNames(question.known)
      now = question.now
      looked = new WeakMap()
      break
    case 'designs':
      await Promise.all(
        question.designs.map(async ({ design, shape, template }) => {
          scenes.set(keyOf(design, shape), new Scene(template, await loadAssets(template)))
        }),
      )
      break
    case 'change':
      programme = patched(programme!, question.patches)
  }
  if (programme) work()
}

self.onmessage = (event: MessageEvent<ProgrammeQuestion>) => {
  answer(event.data).catch((error: Error) => reply({ kind: 'broken', message: error.message }))
}
reply({ kind: 'ready' })
