/** One server-sent event. */
export interface Heard<T> {
  id?: string
  data: T
}

/**
 * Hears server-sent events as a browser does (WHATWG HTML, 9.2): blocks with an empty line between them, each with its id.
 * @param last the id that was heard last, where a connection is taken up again
 */
export async function hearEvents<T>(url: string, last?: number) {
  const stop = new AbortController()
  const headers: Record<string, string> = last === undefined ? {} : { 'Last-Event-ID': String(last) }
  const response = await fetch(url, { signal: stop.signal, headers })
  const events: Heard<T>[] = []
  void (async () => {
    let text = ''
    try {
      for await (const chunk of response.body as unknown as AsyncIterable<Uint8Array>) {
        text += new TextDecoder().decode(chunk)
        const blocks = text.split('\n\n')
        text = blocks.pop()!
        for (const block of blocks) {
          const lines = Object.fromEntries(
            block.split('\n').map((line) => [line.split(':')[0]!, line.slice(line.indexOf(':') + 1).trim()]),
          )
          if (lines.data) events.push({ ...(lines.id ? { id: lines.id } : {}), data: JSON.parse(lines.data) as T })
        }
      }
    } catch {
      // Ended by the test.
    }
  })()
  return { events, type: response.headers.get('content-type'), end: () => stop.abort() }
}
