import webVtt, { type CueNode } from 'webvtt-parser'
import type { Table } from '../data/index.ts'
import { demand } from '../refusal/index.ts'
import { clockOf } from './clock.ts'
import { decodeText } from './csv.ts'
import { shallowCues } from './depth.ts'
import { filledTable } from './tableRoom.ts'

/** The escapes of WebVTT (4.2.2); the package's own lack the semicolon, and leave it standing. */
const escapes = { '&amp;': '&', '&lt;': '<', '&gt;': '>', '&lrm;': '\u200e', '&rlm;': '\u200f', '&nbsp;': '\u00a0' }

/**
 * A line of times as SubRip has it: a comma before the milliseconds, hours of one digit or two. Its spaces are those of one
 * line, or every line of an empty file would be looked at from every other.
 */
const subRipTimes = /^[ \t]*(\d{1,2}):(\d{2}):(\d{2})[,.](\d{1,3})\s*-->\s*(\d{1,2}):(\d{2}):(\d{2})[,.](\d{1,3}).*$/gm

/** SubRip as WebVTT, which differs in its first line, its times and its way to say where words stand. */
function asWebVtt(text: string): string {
  const time = (parts: string[]) => `${parts[0]!.padStart(2, '0')}:${parts[1]}:${parts[2]}.${parts[3]!.padEnd(3, '0')}`
  const timed = text.replace(subRipTimes, (_, ...parts: string[]) => `${time(parts)} --> ${time(parts.slice(4, 8))}`)
  return `WEBVTT\n\n${timed.replace(/\{\\[^{}\n]*\}/g, '')}`
}

/** The pieces of a cue in reading order. */
function* piecesOf(node: CueNode): Generator<CueNode> {
  yield node
  for (const child of node.children ?? []) yield* piecesOf(child)
}

/**
 * The cues of a WebVTT (W3C) or SubRip file as rows: when each starts and ends, what it says without its marks, and who
 * speaks where voices are named.
 * @throws Refusal for a file without a cue
 */
export function readCues(bytes: Uint8Array, name: string): { table: Table; note?: string } {
  const text = decodeText(bytes).replace(/^\ufeff/, '')
  const isVtt = /^WEBVTT(?:[ \t\r\n]|$)/.test(text)
  const { cues, errors } = new webVtt.WebVTTParser(escapes).parse(
    shallowCues(isVtt ? text : asWebVtt(text), `"${name}"`),
    'subtitles',
  )
  demand(
    cues.length > 0,
    'cues.none',
    `"${name}" holds no cue with a time as 00:00:05.000 --> 00:00:07.500; is it WebVTT or SubRip?`,
  )
  const rows = cues.map(({ id, startTime, endTime, tree }) => {
    const pieces = [...piecesOf(tree)]
    const words = pieces.filter(({ type }) => type === 'text').map(({ value }) => value)
    return {
      Start: clockOf(startTime),
      End: clockOf(endTime),
      Text: words.join('').trim(),
      // Who speaks is what the first voice says of itself.
      Speaker: String(pieces.find(({ type, name }) => type === 'object' && name === 'v')?.value ?? '').trim(),
      // Most number their cues, which says nothing.
      Id: /^\d*$/.test(id) ? '' : id,
    }
  })
  const table = filledTable(rows, ['Start', 'End', 'Text'], name)
  const [first] = isVtt ? errors : []
  if (!first) return { table }
  const places = errors.length === 1 ? 'one place' : `${errors.length} places`
  return {
    table,
    note: `${places} of it ${errors.length === 1 ? 'is' : 'are'} not as WebVTT has it (line ${first.line}: ${first.message}); what could be read is here.`,
  }
}
