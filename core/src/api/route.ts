import type { AnyObject, InferType, ObjectSchema, Schema } from 'yup'

/** The methods of HTTP (RFC 9110) that are used. */
export type Method = 'get' | 'post' | 'put' | 'patch' | 'delete'

type Shape = ObjectSchema<AnyObject>
// biome-ignore lint/suspicious/noExplicitAny: a schema of anything
type AnySchema = Schema<any>

/**
 * One route, described once: the server's handler, the browser's client and `docs/openapi.json` come from it. What comes in
 * and what goes out is said in Yup.
 *
 * A kept library was weighed (ts-rest, which takes Yup through the Standard Schema interface): its OpenAPI writer reads Zod
 * alone, and its Express adapter has an error shape of its own, so that the larger half would still be ours.
 */
export interface Route {
  method: Method
  /** As OpenAPI writes it: `/api/sheets/{id}`. */
  path: string
  /** One sentence. */
  summary: string
  params?: Shape | undefined
  query?: Shape | undefined
  /** JSON; with `file`, the text fields beside it. */
  body?: Shape | undefined
  /** A multipart form (RFC 7578) with one file. */
  file?: true | undefined
  /** The body is read where it is used: it may be large. */
  raw?: true | undefined
  status: number
  /** JSON; absent: nothing (204), or `media`. */
  answer?: AnySchema | undefined
  /** What is sent instead of JSON: a media type. */
  media?: string | undefined
  /** Statuses of refusals besides 400 and 500. */
  errors: readonly number[]
}

type In<S> = S extends AnySchema ? InferType<S> : unknown
type Plain<T> = { [K in keyof T]: T[K] }
/** What stands in a route's address. */
export type Addressed<R extends Route> = Plain<In<R['params']> & In<R['query']>>
/** Everything that a route is given, in one object: what stands in its path, its query, its body, and its file. */
export type Input<R extends Route> = Plain<
  In<R['params']> & In<R['query']> & In<R['body']> & (R extends { file: true } ? { file: Blob } : unknown)
>
export type Answer<R extends Route> = R['answer'] extends AnySchema ? InferType<R['answer']> : undefined

type Described<R> = Omit<R, 'status' | 'errors'> & { status: number; errors: readonly number[] }

/** A route; `status` is 200 where nothing else is said, 204 where nothing is answered. */
export function route<const R extends Omit<Route, 'status' | 'errors'> & Partial<Pick<Route, 'status' | 'errors'>>>(
  described: R,
): Described<R> {
  const status = described.status ?? (described.answer || described.media ? 200 : 204)
  const named = described.path.includes('{') ? [404] : []
  return { ...described, status, errors: [...named, ...(described.errors ?? [])] }
}

/** The names of what stands in a path. */
export const namedIn = (path: string): string[] => [...path.matchAll(/\{(\w+)\}/g)].map(([, name]) => name!)

/** Errors as RFC 9457 has them: `code` is for programs, `detail` the sentence for a person. */
export interface Problem {
  type: 'about:blank'
  title: string
  status: number
  detail: string
  code: string
}
export const problemType = 'application/problem+json'
