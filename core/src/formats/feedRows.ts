import { XMLParser, XMLValidator } from 'fast-xml-parser'
import type { Table } from '../data/index.ts'
import { demand, Refusal } from '../refusal/index.ts'
import { decodeText } from './csv.ts'
import { shallowXml } from './depth.ts'
import { filledTable } from './tableRoom.ts'

type Node = Record<string, unknown>

/** Elements that stand for one thing of many are lists even when there is one. */
const many = new Set(['item', 'entry', 'link', 'category', 'author'])

const parser = new XMLParser({
  ignoreAttributes: false,
  attributeNamePrefix: '@',
  textNodeName: '#',
  parseTagValue: false,
  parseAttributeValue: false,
  htmlEntities: true,
  isArray: (name) => many.has(name),
})

/** An element's text; undefined where there is none. */
function textOf(node: unknown): string | undefined {
  if (typeof node === 'string') return node
  if (Array.isArray(node)) return textOf(node[0])
  if (typeof node === 'object' && node !== null) return textOf((node as Node)['#'])
  return undefined
}

const entities: Record<string, string> = { amp: '&', lt: '<', gt: '>', quot: '"', apos: "'", nbsp: '\u00a0' }

/** The words of markup: what a title can show of it. */
function wordsOf(markup: string): string {
  return markup
    .replace(/<(br|\/p|\/li|\/h\d)\s*\/?>/gi, '\n')
    .replace(/<[^<>]*>/g, '')
    .replace(/&(#x?[0-9a-f]+|[a-z]+);/gi, (all, name: string) => {
      if (name[0] !== '#') return entities[name.toLowerCase()] ?? all
      const code = name[1]?.toLowerCase() === 'x' ? Number.parseInt(name.slice(2), 16) : Number(name.slice(1))
      return code > 0 && code < 0x110000 ? String.fromCodePoint(code) : all
    })
    .replace(/[^\S\n]+/g, ' ')
    .replace(/ ?\n\s*/g, '\n')
    .trim()
}

const months = 'jan feb mar apr may jun jul aug sep oct nov dec'.split(' ')
const two = (n: string | number) => String(n).padStart(2, '0')

/**
 * A date of a feed as ISO 8601 without its zone, the clock as it stands there: RFC 822 with a year of two or four digits
 * (RSS 2.0), or RFC 3339 (Atom).
 */
export function feedDate(text: string): string {
  const atom = text.trim().match(/^(\d{4}-\d\d-\d\d)[Tt ](\d\d:\d\d(:\d\d)?)/)
  if (atom) return `${atom[1]}T${atom[2]}`
  const rss = text.trim().match(/^(?:[a-z]{3},\s*)?(\d{1,2})\s+([a-z]{3})[a-z]*\s+(\d{2,4})\s+(\d\d:\d\d(:\d\d)?)/i)
  if (!rss) return text
  const month = months.indexOf(rss[2]!.toLowerCase())
  if (month < 0) return text
  const year = rss[3]!.length === 2 ? `20${rss[3]}` : rss[3]
  return `${year}-${two(month + 1)}-${two(rss[1]!)}T${rss[4]}`
}

/** An item of RSS 2.0 (rssboard.org/rss-specification): every element is optional. */
function rssCells(item: Node): Record<string, string | undefined> {
  const enclosure = item.enclosure as Node | undefined
  return {
    title: wordsOf(textOf(item.title) ?? ''),
    text: wordsOf(textOf(item.description) ?? ''),
    date: feedDate(textOf(item.pubDate) ?? ''),
    author: textOf(item.author) ?? textOf(item['dc:creator']),
    category: ((item.category as unknown[] | undefined) ?? []).map(textOf).join(', '),
    link: textOf(item.link),
    id: textOf(item.guid),
    media: enclosure?.['@url'] as string | undefined,
  }
}

/** An Atom text construct (RFC 4287, 3.1): text, escaped markup, or markup itself. */
function atomText(node: unknown): string {
  if (typeof node === 'object' && node !== null && !Array.isArray(node) && (node as Node)['@type'] === 'xhtml')
    return wordsOf(allText(node))
  const text = textOf(node) ?? ''
  return (node as Node)?.['@type'] === 'html' ? wordsOf(text) : text.trim()
}

function allText(node: unknown): string {
  if (typeof node === 'string') return node
  if (Array.isArray(node)) return node.map(allText).join(' ')
  if (typeof node !== 'object' || node === null) return ''
  return Object.entries(node)
    .filter(([key]) => !key.startsWith('@'))
    .map(([, value]) => allText(value))
    .join(' ')
}

/** An entry of Atom (RFC 4287, 4.1.2). */
function atomCells(entry: Node, feed: Node): Record<string, string | undefined> {
  const links = (entry.link as Node[] | undefined) ?? []
  const link = (rel: string) =>
    links.find((one) => (one['@rel'] ?? 'alternate') === rel)?.['@href'] as string | undefined
  // Without authors of its own an entry has those of its feed (RFC 4287, 4.2.1).
  const authors = ((entry.author ?? feed.author) as Node[] | undefined) ?? []
  return {
    title: atomText(entry.title),
    text: atomText(entry.summary ?? entry.content),
    date: feedDate(textOf(entry.published) ?? textOf(entry.updated) ?? ''),
    author: authors.map((author) => textOf(author.name)).join(', '),
    category: ((entry.category as Node[] | undefined) ?? []).map((one) => one['@label'] ?? one['@term']).join(', '),
    link: link('alternate'),
    id: textOf(entry.id),
    media: link('enclosure'),
  }
}

/** @throws Refusal for what the parser takes for an attack: entities from outside, or that unfold to more than a text */
function parsed(text: string, name: string): { rss?: { channel?: Node }; feed?: Node } {
  try {
    return parser.parse(text)
  } catch (error) {
    throw new Refusal('feed.syntax', `"${name}" is no feed that Hoja reads: ${(error as Error).message}.`)
  }
}

/**
 * The items of a feed as rows: RSS 2.0 or Atom (RFC 4287), told apart by the root element. Columns that no item fills are
 * left out, but for title, text and date.
 * @throws Refusal with line and column for what is no XML, or no feed
 */
export function readFeed(bytes: Uint8Array, name: string): Table {
  demand(bytes.length > 0, 'feed.empty', `"${name}" is empty; it should hold a feed.`)
  const text = shallowXml(decodeText(bytes).replace(/^\ufeff/, ''), `"${name}"`)
  const broken = XMLValidator.validate(text)
  if (broken !== true) {
    const { msg, line, col } = broken.err
    throw new Refusal('feed.syntax', `"${name}" is not XML: it breaks at line ${line}, column ${col} (${msg}).`)
  }
  const document = parsed(text, name)
  const { feed } = document
  const channel = document.rss?.channel
  demand(feed ?? channel, 'feed.kind', `"${name}" is neither RSS 2.0 nor Atom; use the address of the feed itself.`)
  const items = feed
    ? ((feed.entry as Node[] | undefined) ?? []).map((entry) => atomCells(entry, feed))
    : ((channel!.item as Node[] | undefined) ?? []).map(rssCells)
  demand(items.length > 0, 'feed.rows', `"${name}" holds no items now.`)
  return filledTable(items, ['title', 'text', 'date'], name)
}
