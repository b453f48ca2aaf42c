import {
  type Answer,
  type Api,
  addressOf,
  type Input,
  namedIn,
  type Problem,
  type Route,
  api as routes,
} from '@hoja/core/api'
import type { Row } from '@hoja/core/data'
import { noteBuild } from './ui/build.ts'

/** A refusal of the server (RFC 9457): one sentence for a person. */
export class ApiError extends Error {
  constructor(
    readonly code: string,
    message: string,
    /** Of HTTP; 0: nobody answered. */
    readonly status: number,
    /** What the refusal brings along. */
    readonly body: Record<string, unknown>,
  ) {
    super(message)
  }
}

type Given = Record<string, unknown>

async function ask(path: string, init: RequestInit): Promise<unknown> {
  let response: Response
  try {
    response = await fetch(path, init)
  } catch (error) {
    if (init.signal?.aborted) throw error
    throw new ApiError('offline', 'Hoja does not answer; look whether it is still running, then try again.', 0, {})
  }
  noteBuild(response.headers.get('X-Hoja-Build'))
  if (response.status === 204) return undefined
  let body: unknown
  try {
    body = await response.json()
  } catch {
    throw new ApiError('answer', 'What Hoja answered could not be read; try again.', response.status, {})
  }
  if (response.ok) return body
  const { code = 'unknown', detail = 'Something went wrong.' } = body as Partial<Problem>
  throw new ApiError(code, detail, response.status, body as Given)
}

function bodyOf(route: Route, given: Given): BodyInit | undefined {
  const elsewhere = new Set([...namedIn(route.path), ...Object.keys(route.query?.fields ?? {})])
  const own = Object.entries(given).filter(([key, value]) => !elsewhere.has(key) && value !== undefined)
  if (!route.file) return route.body ? JSON.stringify(Object.fromEntries(own)) : undefined
  const form = new FormData()
  // Fields first: they are read before the file is.
  for (const [key, value] of own) if (key !== 'file') form.append(key, String(value))
  form.append('file', given.file as File)
  return form
}

function call(route: Route, given: Given = {}, signal?: AbortSignal): Promise<unknown> {
  const body = bodyOf(route, given)
  return ask(addressOf(route, given), {
    method: route.method.toUpperCase(),
    ...(body === undefined ? {} : { body }),
    ...(typeof body === 'string' ? { headers: { 'Content-Type': 'application/json' } } : {}),
    ...(signal ? { signal } : {}),
  })
}

type Call<R extends Route> = [keyof Input<R>] extends [never]
  ? (given?: undefined, signal?: AbortSignal) => Promise<Answer<R>>
  : (given: Input<R>, signal?: AbortSignal) => Promise<Answer<R>>
type Client = { [Name in keyof Api]: Call<Api[Name]> }

/** The server, as it is described in `core/src/api`: a function for each route, given all that it takes in one object. */
export const api = Object.fromEntries(
  Object.entries<Route>(routes).map(([name, route]) => [
    name,
    (given?: Given, signal?: AbortSignal) => call(route, given, signal),
  ]),
) as unknown as Client

export type SheetDetail = Answer<Api['sheet']> & { rows: Row[] }

/** A sheet with all of its rows, page by page; `onRows` hears how many there are so far. */
export async function wholeSheet(
  id: number,
  signal?: AbortSignal,
  onRows?: (rows: number, of: number) => void,
): Promise<SheetDetail> {
  for (;;) {
    const sheet = await api.sheet({ id }, signal)
    const rows: Row[] = []
    let { revision } = sheet
    while (rows.length < sheet.count && revision === sheet.revision) {
      const page = await api.rows({ id, from: rows.length + 1 }, signal)
      rows.push(...page.rows)
      revision = page.revision
      onRows?.(rows.length, sheet.count)
    }
    // Changed between two pages: from the beginning.
    if (revision === sheet.revision) return { ...sheet, rows }
  }
}
