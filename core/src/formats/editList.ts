import type { Table } from '../data/index.ts'
import { demand } from '../refusal/index.ts'
import { decodeText } from './csv.ts'
import { filledTable } from './tableRoom.ts'

const timecode = String.raw`(\d{2}:\d{2}:\d{2}[:;.]\d{2})`
/** Event, reel, track, cut (with the length of what is no cut), and the source's and the edit's in and out. */
const event = new RegExp(
  String.raw`^(\d{1,6})\s+(\S.*?)\s+(\S+)\s+(C|D|W\d{0,3}|KB|K|KO)\s+(?:\d{1,4}\s+)?${[timecode, timecode, timecode, timecode].join(String.raw`\s+`)}\s*$`,
  'i',
)
/** Characters of a line that may be an event; they have about 80. */
const longestEvent = 300
const locator = new RegExp(String.raw`^\*\s*LOC:\s*${timecode}\s*(\S*)\s*(.*)$`, 'i')

/**
 * An edit decision list by CMX 3600 as rows: its events, in the places that the edit gives them, and its locators.
 * @throws Refusal for a list without an event
 */
export function readEditList(bytes: Uint8Array, name: string): { name: string; table: Table }[] {
  const events: Record<string, string>[] = []
  const comments: string[][] = []
  const locators: Record<string, string>[] = []
  let drops = false
  // A list that counts with drop-frame often writes a colon all the same.
  const time = (text: string) => text.replace(/[:;.](?=\d{2}$)/, drops ? ';' : ':')
  for (const line of decodeText(bytes)
    .replace(/^\ufeff/, '')
    .split(/\r\n|\r|\n/)) {
    if (/^\s*FCM:/i.test(line)) drops = !/NON/i.test(line)
    const found = line.length <= longestEvent ? event.exec(line.trim()) : null
    if (found) {
      const [, number, reel, track, , , , from, to] = found
      events.push({
        Start: time(from!),
        End: time(to!),
        Clip: '',
        Reel: reel!,
        Track: track!,
        Event: number!,
      })
      comments.push([])
      continue
    }
    const last = events.at(-1)
    const clip = /^\*\s*(?:FROM|TO) CLIP NAME:\s*(.*)$/i.exec(line.trim())
    const located = locator.exec(line.trim())
    if (located)
      locators.push({
        Start: time(located[1]!),
        Text: located[3]!.trim(),
        Colour: located[2]!.toLowerCase(),
        Clip: last?.Clip ?? '',
      })
    else if (last && clip) last.Clip = clip[1]!.trim()
    else if (line.startsWith('*')) comments.at(-1)?.push(line.slice(1).trim())
  }
  for (const [i, one] of events.entries()) one.Comment = comments[i]!.filter(Boolean).join('\n')
  demand(events.length > 0, 'edl.none', `"${name}" holds no event as CMX 3600 has them; is it an edit decision list?`)
  return [
    { name: 'Events', table: filledTable(events, ['Start', 'End', 'Clip'], name) },
    ...(locators.length > 0 ? [{ name: 'Locators', table: filledTable(locators, ['Start', 'Text'], name) }] : []),
  ]
}
