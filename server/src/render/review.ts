import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { framed, streamHeader } from '@hoja/core/formats'
import type { Box } from '@hoja/core/geometry'
import { soundStarts } from '@hoja/core/motion'
import { boundsOf, type DrawList, pixelRegion, unite } from '@hoja/core/paint'
import {
  drawnFor,
  endOf,
  type FootageClip,
  footageAt,
  lengthOf,
  mediumOf,
  offTracks,
  type Placed,
  type Programme,
  secondsIn,
  shotFrame,
  type TitleClip,
  timecodeIn,
  titleFrame,
  titlesOf,
  valuesOfClip,
} from '@hoja/core/programme'
import { demand } from '@hoja/core/refusal'
import type { Scene } from '@hoja/core/scene'
import { rateText } from '@hoja/core/time'
import { shippedFile } from '../shippedFonts.ts'
import { inputOf } from './demuxer.ts'
import { Ffmpeg } from './ffmpeg.ts'
import { inAlphaMode } from './movie/pixels.ts'
import { movieInput, streamOf } from './movieIn.ts'
import type { Raster } from './raster.ts'
import { type Source, sceneOf } from './scenes.ts'

/** What a review movie is made of: a programme as it was, and the documents of the versions that it uses. */
export interface ReviewSource {
  programme: Programme
  documents: Record<string, string>
}

interface Review extends ReviewSource {
  /** Where stored files lie. */
  storedFile(sha256: string): string
  files: string
  /** Timecode burnt into the picture. */
  timecode: boolean
  now: string
  /** A folder for what is needed on the way. */
  work: string
  onFrame(done: number, of: number): void
}

/** A review is looked at and sent, not kept: quick to make, and small. */
const coder = ['-c:v', 'libx264', '-preset', 'veryfast', '-crf', '20', '-pix_fmt', 'yuv420p']
const bt709 = ['-color_primaries', 'bt709', '-color_trc', 'bt709', '-colorspace', 'bt709', '-color_range', 'tv']

/** A stretch of a programme in which one clip of footage is seen, or none. */
interface Segment {
  from: number
  frames: number
  clip: FootageClip | undefined
}

/** Which footage is seen when: of tracks that are on the uppermost one. */
export function footageSegments(programme: Programme, total: number): Segment[] {
  const edges = new Set([0, total])
  for (const clip of Object.values(programme.clips))
    if (clip.kind === 'footage') for (const edge of [clip.at, endOf(clip)]) if (edge < total) edges.add(edge)
  const sorted = [...edges].sort((a, b) => a - b)
  const segments: Segment[] = []
  sorted.slice(0, -1).forEach((from, i) => {
    const frames = sorted[i + 1]! - from
    const clip = footageAt(programme, from)?.clip
    const last = segments.at(-1)
    if (last && last.clip === clip) last.frames += frames
    else segments.push({ from, frames, clip })
  })
  return segments
}

/** Inputs of ffmpeg, and the filters that make of them what they are for. */
class Graph {
  readonly inputs: string[] = []
  readonly filters: string[] = []
  /** The pipe that titles come through is the first. */
  private count = 1

  input(...args: string[]): number {
    this.inputs.push(...args)
    return this.count++
  }
}

/** Writes a programme as a movie to be looked at: footage, titles, sounds, and its timecode in the picture. */
export async function writeReview(review: Review, to: string, raster: Raster): Promise<void> {
  const { programme, timecode } = review
  const { width, height, rate } = programme.picture
  const total = lengthOf(programme)
  demand(total > 0, 'programme.empty', 'There is nothing in the programme yet; lay footage or place a title first.')
  const graph = new Graph()
  // Drawn shots are written first, frame by frame: they are part of the work.
  const drawn = footageSegments(programme, total).reduce(
    (sum, { frames, clip }) => (clip && mediumOf(programme, clip).kind === 'shot' ? sum + frames : sum),
    0,
  )
  let before = 0
  const onFrame = (done: number) => review.onFrame(before + Math.min(done, total), drawn + total)
  const scenes = await scenesOf(review)
  const titles = new Titles(programme, scenes, review.now)
  await layFootage(review, graph, total, raster, () => review.onFrame(++before, drawn + total))
  const { region, spans } = titles
  const shown = spans.map(({ from, to: end }) => `between(n,${from},${end - 1})`).join('+')
  const size = `${region.x}:${region.y}`
  graph.filters.push(
    `[0:v]scale=out_color_matrix=bt709:out_range=tv:flags=accurate_rnd+full_chroma_int,format=yuva420p,fps=${rateText(rate)}[titles]`,
    `[footage][titles]overlay=${size}:format=yuv420:eof_action=pass:enable='${shown || '0'}'[over]`,
    timecode ? `[over]${burntIn(programme)}[v]` : '[over]null[v]',
  )
  const sounds = await laySounds(review, graph, scenes)
  const sound = sounds ? ['-map', '[sound]', '-c:a', 'aac', '-b:a', '160k'] : []
  const encoder = new Ffmpeg(
    [
      ...['-f', 'matroska', '-i', 'pipe:0', ...graph.inputs],
      ...['-filter_complex', graph.filters.join(';'), '-map', '[v]', ...sound, ...coder, ...bt709],
      ...['-r', rateText(rate), '-frames:v', String(total), '-timecode', timecodeIn(programme, 0)],
      ...['-movflags', '+faststart', '-f', 'mp4', to],
    ],
    onFrame,
  )
  try {
    const track = { codec: 'V_UNCOMPRESSED', pixels: 'RGBA', width: region.width, height: region.height, rate } as const
    await encoder.feed(streamHeader(track))
    const clear = new Uint8Array(4 * region.width * region.height)
    const put = (bytes: Uint8Array, frame: number) => encoder.feed(...framed({ bytes, key: true }, frame, rate))
    if (spans[0]?.from !== 0) await put(clear, 0)
    for (const span of spans) {
      let last = ''
      for (let frame = span.from; frame < span.to; frame++) {
        const key = titles.keyAt(frame)
        if (key === last) continue
        last = key
        const drawn = raster.draw({ width, height, items: titles.listAt(frame).items }, region)
        await put(inAlphaMode(drawn, { kind: 'straight' }, region.width), frame)
      }
      await put(clear, span.to)
    }
    await put(clear, total + 1)
    encoder.close()
    await encoder.ended
  } finally {
    encoder.kill()
  }
}

/** What the timecode is written in: figures of one width. */
const burntFont = 'barlow/600SemiBold'

/** A programme's timecode in the upper right corner of its picture, counted by ffmpeg. */
function burntIn(programme: Programme): string {
  const { height, rate } = programme.picture
  const code = timecodeIn(programme, 0).replaceAll(':', '\\:')
  const font = shippedFile(burntFont).replaceAll('\\', '/').replaceAll(':', '\\:')
  const box = 'box=1:boxcolor=black@0.6:boxborderw=12'
  return `drawtext=fontfile='${font}':timecode='${code}':timecode_rate=${rateText(rate)}:fontcolor=white:fontsize=${Math.round(height / 22)}:x=w-text_w-${Math.round(height / 20)}:y=${Math.round(height / 24)}:${box}`
}

async function scenesOf({ programme, documents, files }: Review): Promise<Map<string, Scene>> {
  const scenes = new Map<string, Scene>()
  for (const { clip } of titlesOf(programme)) {
    const key = `${clip.design} ${clip.shape ?? ''}`
    if (scenes.has(key)) continue
    const source: Source = { kind: 'stored', document: documents[clip.design]!, files }
    scenes.set(key, await sceneOf(source, drawnFor(programme, clip.shape)))
  }
  return scenes
}

/** The titles of a programme as pictures that follow one another. */
class Titles {
  /** Stretches in which there is any, in order and none touching another. */
  readonly spans: { from: number; to: number }[] = []
  /** Whole px that any of them touches. */
  readonly region: Box
  private readonly own: readonly Placed<TitleClip>[]

  constructor(
    private readonly programme: Programme,
    private readonly scenes: ReadonlyMap<string, Scene>,
    private readonly now: string,
  ) {
    const off = offTracks(programme)
    const order = new Map(programme.tracks.map(({ id }, i) => [id, -i]))
    this.own = titlesOf(programme)
      .filter(({ clip }) => !off.has(clip.track))
      .toSorted((a, b) => order.get(a.clip.track)! - order.get(b.clip.track)!)
    for (const { clip } of titlesOf(programme)) {
      if (off.has(clip.track)) continue
      const last = this.spans.at(-1)
      if (last && clip.at <= last.to) last.to = Math.max(last.to, endOf(clip))
      else this.spans.push({ from: clip.at, to: endOf(clip) })
    }
    const { width, height } = programme.picture
    let touched: Box | undefined
    for (const title of this.own) {
      let last = ''
      for (let frame = title.clip.at; frame < endOf(title.clip); frame++) {
        const key = this.keyOf(title, frame)
        if (key !== last) touched = unite(touched, boundsOf(this.listOf(title, frame).items))
        last = key
      }
    }
    const region = pixelRegion(touched, width, height) ?? { x: 0, y: 0, width: 2, height: 2 }
    // Colour is kept for two pixels by two.
    const [x, y] = [region.x - (region.x % 2), region.y - (region.y % 2)]
    const even = (value: number) => value + (value % 2)
    this.region = { x, y, width: even(region.x + region.width - x), height: even(region.y + region.height - y) }
  }

  /** Frames whose keys are equal look the same. */
  keyAt(frame: number): string {
    return this.at(frame)
      .map((title) => `${title.id} ${this.keyOf(title, frame)}`)
      .join('\n')
  }

  listAt(frame: number): DrawList {
    const { width, height } = this.programme.picture
    return { width, height, items: this.at(frame).flatMap((title) => this.listOf(title, frame).items) }
  }

  private at(frame: number): Placed<TitleClip>[] {
    return this.own.filter(({ clip }) => frame >= clip.at && frame < endOf(clip))
  }

  private sceneOf({ clip }: Placed<TitleClip>): Scene {
    return this.scenes.get(`${clip.design} ${clip.shape ?? ''}`)!
  }

  private listOf(title: Placed<TitleClip>, frame: number): DrawList {
    return titleFrame(this.sceneOf(title), this.programme, title, frame, this.now)
  }

  private keyOf(title: Placed<TitleClip>, frame: number): string {
    const scene = this.sceneOf(title)
    const { clip } = title
    const layout = scene.layout(valuesOfClip(scene, this.programme, title, this.now))
    const timing = scene.timing(layout, clip.frames >= scene.shortest(layout) ? clip.frames : undefined)
    return scene.posed(layout, timing, Math.min(frame - clip.at, timing.total - 1)).key
  }
}

/** The footage, from one clip to the next, as `[footage]`. */
async function layFootage(
  review: Review,
  graph: Graph,
  total: number,
  raster: Raster,
  onDrawn: () => void,
): Promise<void> {
  const { programme, storedFile } = review
  const { width, height, rate } = programme.picture
  const each = rateText(rate)
  const segments = footageSegments(programme, total)
  for (const [i, { from, frames, clip }] of segments.entries()) {
    const whole = `trim=end_frame=${frames},setpts=PTS-STARTPTS,format=yuv420p,setsar=1[f${i}]`
    const medium = clip && mediumOf(programme, clip)
    if (!clip || !medium || medium.kind === 'sound') {
      graph.filters.push(`color=black:size=${width}x${height}:rate=${each},${whole}`)
      continue
    }
    const start = from - clip.at + clip.from
    const fit = `scale=${width}:${height}:force_original_aspect_ratio=decrease`
    const pad = `pad=${width}:${height}:(ow-iw)/2:(oh-ih)/2`
    if (medium.kind === 'still') {
      const input = inputOf(storedFile(medium.sha256), 'picture')
      demand(input, 'picture.broken', `"${medium.name}" can not be read any more; take it out and add it again.`)
      const n = graph.input(...input)
      graph.filters.push(
        `[${n}:v]${fit}:out_color_matrix=bt709:out_range=tv,${pad},loop=loop=-1:size=1,fps=${each},${whole}`,
      )
      continue
    }
    const seek = ['-ss', secondsIn(programme, start).toFixed(6), '-t', (secondsIn(programme, frames) + 1).toFixed(6)]
    if (medium.kind === 'shot') {
      const file = await writeShot(review, { from, start, frames, scene: medium.scene, n: i }, raster, onDrawn)
      const n = graph.input(...movieInput(file, medium.name))
      graph.filters.push(`[${n}:v]fps=${each},${whole}`)
      continue
    }
    const file = storedFile(medium.sha256)
    const { matrix } = await streamOf(file, medium.name)
    const n = graph.input(...seek, ...movieInput(file, medium.name))
    const colours = `in_color_matrix=${matrix}:out_color_matrix=bt709:out_range=tv`
    graph.filters.push(`[${n}:v]fps=${each},${fit}:${colours},${pad},tpad=stop=-1:stop_mode=clone,${whole}`)
  }
  graph.filters.push(`${segments.map((_, i) => `[f${i}]`).join('')}concat=n=${segments.length}:v=1[footage]`)
}

/** A drawn shot as a movie of its own: it has no file that could be read. */
async function writeShot(
  { programme, work }: Review,
  { from, start, frames, scene, n }: { from: number; start: number; frames: number; scene: number; n: number },
  raster: Raster,
  onDrawn: () => void,
): Promise<string> {
  const { width, height, rate } = programme.picture
  const file = join(work, `shot${n}.mkv`)
  const raw = ['-f', 'rawvideo', '-pix_fmt', 'rgba', '-video_size', `${width}x${height}`, '-framerate', rateText(rate)]
  const filter = 'scale=out_color_matrix=bt709:out_range=tv,format=yuv420p'
  const quick = ['-c:v', 'libx264', '-preset', 'ultrafast', '-crf', '12', '-f', 'matroska', file]
  const encoder = new Ffmpeg([...raw, '-i', 'pipe:0', '-vf', filter, ...quick])
  try {
    for (let frame = 0; frame < frames; frame++) {
      const list = shotFrame(scene, start + frame, timecodeIn(programme, from + frame), { width, height })
      await encoder.feed(new Uint8Array(raster.draw(list, { x: 0, y: 0, width, height })))
      onDrawn()
    }
    encoder.close()
    await encoder.ended
    return file
  } finally {
    encoder.kill()
  }
}

/** What is heard, mixed as `[sound]`. @returns whether there is anything */
async function laySounds(review: Review, graph: Graph, scenes: ReadonlyMap<string, Scene>): Promise<boolean> {
  const { programme, storedFile } = review
  const off = offTracks(programme)
  const labels: string[] = []
  const lay = (input: string[], at: number, seconds: number, level: number) => {
    const n = graph.input(...input)
    const delay = Math.round(Math.max(0, at) * 1000)
    const label = `[s${labels.length}]`
    graph.filters.push(
      `[${n}:a:0]aresample=48000,aformat=channel_layouts=stereo,atrim=end=${seconds.toFixed(6)},volume=${level}dB,adelay=${delay}:all=1${label}`,
    )
    labels.push(label)
  }
  for (const clip of Object.values(programme.clips)) {
    if (clip.kind !== 'footage' || off.has(clip.track)) continue
    const medium = mediumOf(programme, clip)
    const at = secondsIn(programme, clip.at)
    const seconds = secondsIn(programme, clip.frames)
    const from = ['-ss', secondsIn(programme, clip.from).toFixed(6)]
    if (medium.kind === 'sound') {
      const input = inputOf(storedFile(medium.sha256), 'sound')
      if (input) lay([...from, ...input], at, seconds, clip.level ?? 0)
    } else if (medium.kind === 'movie' && medium.sound)
      lay([...from, ...movieInput(storedFile(medium.sha256), medium.name)], at, seconds, clip.level ?? 0)
  }
  for (const title of titlesOf(programme)) {
    const { clip } = title
    const scene = scenes.get(`${clip.design} ${clip.shape ?? ''}`)
    if (!scene || off.has(clip.track) || scene.template.sounds.length === 0) continue
    const layout = scene.layout(valuesOfClip(scene, programme, title, review.now))
    const timing = scene.timing(layout, clip.frames >= scene.shortest(layout) ? clip.frames : undefined)
    for (const { sound, frame } of soundStarts(scene.template, timing)) {
      const input = inputOf(storedFile(sound.sha256), 'sound')
      if (input) lay(input, secondsIn(programme, clip.at + frame), sound.seconds, sound.level)
    }
  }
  if (labels.length === 0) return false
  const end = secondsIn(programme, lengthOf(programme)).toFixed(6)
  graph.filters.push(`${labels.join('')}amix=inputs=${labels.length}:normalize=0,apad,atrim=end=${end}[sound]`)
  return true
}

/** What a review movie is to be made of, as it is kept. */
export function readReview(file: string): ReviewSource {
  return JSON.parse(readFileSync(file, 'utf8')) as ReviewSource
}
