/// <reference lib="webworker" />
import { address } from '@hoja/core/api'
import { LastFew } from '@hoja/core/cache'
import { KnownNames, Looks } from '@hoja/core/data'
import type { Pixels } from '@hoja/core/paint'
import {
  type ClipFinding,
  type ClipId,
  type Programme,
  ProgrammeChecker,
  type Stored,
  type StoredFrame,
  titlesOf,
} from '@hoja/core/programme'
import { Scene } from '@hoja/core/scene'
import { type Patch, patched } from '@hoja/core/session'
import type { Template } from '@hoja/core/template'
import { loadAssets } from './assets.ts'
import { decodePicture, frameResources } from './rasterBackend.ts'
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

export type ProgrammeReply =
  /** All that is found so far, and how many titles are still to be looked at. */
  { kind: 'found'; findings: [ClipId, ClipFinding[]][]; left: number }

let programme: Programme | undefined
const looks = new Looks(frameResources)
/** By SHA-256 and frame: what lies under the title that is looked at next; null: it could not be had. */
const pictures = new LastFew<string, Pixels | null>(8)
const pictureKey = ({ medium, frame }: StoredFrame) => `${medium.sha256} ${frame}`
const stored: Stored = { pixelsOf: (sha256, frame) => pictures.get(`${sha256} ${frame}`) ?? undefined }
let checker = new ProgrammeChecker(new KnownNames([]), '', looks, stored)
/** By design and shape: those that came, for a programme that is opened after them. */
const scenes = new Map<string, { design: string; shape: string | undefined; scene: Scene }>()
let isWorking = false
let isFetching = false

/** ms of checking between two looks at what was asked meanwhile. */
const slice = 12
/** ms between two answers while titles are still looked at. */
const every = 300

const reply = (message: ProgrammeReply | { kind: 'ready' } | { kind: 'broken'; message: string }) =>
  (self as unknown as DedicatedWorkerGlobalScope).postMessage(message)

/** Fetches what lies under a title, and goes on; one title's at a time. */
async function fetchUnder(wanted: readonly StoredFrame[]): Promise<void> {
  if (isFetching) return
  isFetching = true
  for (const one of wanted) {
    const key = pictureKey(one)
    if (pictures.get(key) !== undefined) continue
    const { sha256 } = one.medium
    const from =
      one.medium.kind === 'still' ? address.asset({ sha256 }) : address.footageFrame({ sha256, frame: one.frame })
    const picture = fetch(from).then(async (response) => {
      if (!response.ok) throw new Error(response.statusText)
      return decodePicture(await response.blob(), key)
    })
    // A title over what cannot be had is looked at over black, white and grey.
    pictures.set(key, await picture.catch(() => null))
  }
  isFetching = false
  work()
}

/** Looks at what was not looked at yet, slice by slice. */
function work(): void {
  if (isWorking) return
  isWorking = true
  let told = performance.now()
  const step = () => {
    const own = programme!
    const until = performance.now() + slice
    let [left, able] = [0, 0]
    for (const { id } of titlesOf(own)) {
      if (checker.isLooked(own, id)) continue
      left++
      if (!checker.can(own, id)) continue
      const wanted = checker.wants(own, id)
      if (wanted.some((one) => pictures.get(pictureKey(one)) === undefined)) {
        void fetchUnder(wanted)
        continue
      }
      if (performance.now() > until) able++
      else {
        checker.look(own, id)
        left--
      }
    }
    if (able === 0 || performance.now() - told > every) {
      told = performance.now()
      reply({ kind: 'found', findings: [...timed('hoja along', () => checker.findings(own))], left })
    }
    if (able === 0) isWorking = false
    else setTimeout(step)
  }
  setTimeout(step)
}

async function answer(question: ProgrammeQuestion): Promise<void> {
  switch (question.kind) {
    case 'open':
      programme = question.programme
      checker = new ProgrammeChecker(new KnownNames(question.known), question.now, looks, stored)
      for (const { design, shape, scene } of scenes.values()) checker.setScene(design, shape, scene)
      break
    case 'designs':
      await Promise.all(
        question.designs.map(async ({ design, shape, template }) => {
          const scene = new Scene(template, await loadAssets(template))
          scenes.set(`${design} ${shape ?? ''}`, { design, shape, scene })
          checker.setScene(design, shape, scene)
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
