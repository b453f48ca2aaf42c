import { limits, most } from '@hoja/core/limits'
import { Refusal } from '@hoja/core/refusal'
import { type FeedSettings, feedUrl } from './link.ts'

export interface FetchedFeed {
  bytes: Uint8Array
  /** A file name whose ending tells the kind. */
  name: string
  tag: string | undefined
}

const kinds: [RegExp, string][] = [
  [/rss|atom|xml/i, 'xml'],
  [/json/i, 'json'],
  [/csv|comma/i, 'csv'],
  [/tab-separated/i, 'tsv'],
  [/spreadsheetml/i, 'xlsx'],
  [/opendocument\.spreadsheet/i, 'ods'],
]

/** What kind of data an answer is: by its type, then by its address, then by how it begins. */
function kindOf(type: string, path: string, bytes: Uint8Array): string {
  const named = kinds.find(([pattern]) => pattern.test(type))?.[1]
  if (named) return named
  const ending = path.match(/\.(csv|tsv|xlsx|ods|json|rss|atom|xml)$/i)?.[1]
  if (ending) return ending
  const first = String.fromCharCode(...bytes.subarray(0, 64)).trimStart()[0]
  return first === '<' ? 'xml' : first === '{' || first === '[' ? 'json' : 'csv'
}

/**
 * Asks a feed once.
 * @param patience ms until the whole answer must be there
 * @param tag of the last answer (RFC 9110, 8.8.3); undefined is returned when nothing changed since
 * @throws Refusal in one sentence
 */
export async function fetchFeed(
  settings: FeedSettings,
  text: string,
  tag?: string,
  patience = 5000,
): Promise<FetchedFeed | undefined> {
  const first = feedUrl(settings, text)
  try {
    const { response, url } = await followed(settings, first, AbortSignal.timeout(patience), {
      Accept: 'application/json, application/rss+xml, application/atom+xml, text/csv, */*;q=0.1',
      ...(tag ? { 'If-None-Match': tag } : {}),
    })
    if (response.status === 304) return undefined
    if (!response.ok) throw new Refusal('feed.status', `The feed answers ${response.status} ${response.statusText}.`)
    const bytes = await whole(response)
    const name = decodeURIComponent(url.pathname.split('/').at(-1) || url.host).replace(/\.[a-z]+$/i, '')
    const kind = kindOf(response.headers.get('content-type') ?? '', url.pathname, bytes)
    return { bytes, name: `${name}.${kind}`, tag: response.headers.get('etag') ?? undefined }
  } catch (error) {
    if (error instanceof Refusal) throw error
    throw (error as Error).name === 'TimeoutError'
      ? new Refusal('feed.stalled', `The feed did not answer within ${patience / 1000} s.`)
      : new Refusal('feed.offline', `Nothing answers at ${first.host}; look whether it is running.`)
  }
}

/** Redirects that are followed before a feed is taken to go in circles. */
const mostHops = 5
const redirects = new Set([301, 302, 303, 307, 308])

/** Asks an address, and where it leads to (RFC 9110, 15.4): each hop has to be to a host that may be followed. */
async function followed(
  settings: FeedSettings,
  first: URL,
  signal: AbortSignal,
  headers: Record<string, string>,
): Promise<{ response: Response; url: URL }> {
  let url = first
  for (let hop = 0; ; hop++) {
    const response = await fetch(url, { redirect: 'manual', signal, headers })
    if (!redirects.has(response.status)) return { response, url }
    await response.body?.cancel()
    const location = response.headers.get('location')
    const next = location !== null && URL.canParse(location, url.href) ? new URL(location, url.href) : undefined
    if (!next) throw new Refusal('feed.redirect', `${url.host} redirects and does not say where to; ask who runs it.`)
    if (hop >= mostHops)
      throw new Refusal('feed.redirect', `The feed is redirected more than ${mostHops} times; use its own address.`)
    try {
      url = feedUrl(settings, next.href)
    } catch (error) {
      throw new Refusal('feed.redirect', `The feed moved to ${next.href.slice(0, 200)}: ${(error as Refusal).message}`)
    }
  }
}

async function whole(response: Response): Promise<Uint8Array> {
  const chunks: Uint8Array[] = []
  let size = 0
  for await (const chunk of response.body as unknown as AsyncIterable<Uint8Array>) {
    size += chunk.length
    if (size > limits.feedBytes.most)
      throw new Refusal('feed.size', `The feed is larger than ${most('feedBytes')}; use a smaller one.`)
    chunks.push(chunk)
  }
  return Buffer.concat(chunks)
}
