import { type Answer, type Input, namedIn, type Route } from '@hoja/core/api'
import { Refusal } from '@hoja/core/refusal'
import type { Request, Response, Router } from 'express'
import { type AnyObject, type ObjectSchema, ValidationError } from 'yup'
import { id } from './errors.ts'
import { goneSignal } from './gone.ts'

/** What a handler has besides its input. */
export interface Exchange {
  request: Request
  response: Response
  /** Aborted when the client has gone. */
  signal: AbortSignal
}

/** What a handler gets: a file comes through `withUpload`, what is read where it is used through the request. */
type Given<R extends Route> = R extends { raw: true } | { file: true }
  ? Omit<Input<R>, 'file'> extends infer I
    ? Partial<I> & Pick<I, Extract<keyof I, ParamsOf<R>>>
    : never
  : Input<R>
type ParamsOf<R extends Route> = R['params'] extends ObjectSchema<infer P> ? keyof P : never

/** What a handler gives back; nothing, where nothing is answered or where it has sent what is asked for itself. */
type Back<R extends Route> = R['answer'] extends object ? Answer<R> : void

type Handler<R extends Route> = (input: Given<R>, exchange: Exchange) => Back<R> | Promise<Back<R>>

/** A request's body by its schema. @throws Refusal in one sentence. */
async function checked(schema: ObjectSchema<AnyObject>, value: unknown, what: string): Promise<AnyObject> {
  try {
    return await schema.validate(value ?? {}, { abortEarly: true, stripUnknown: true })
  } catch (error) {
    if (error instanceof ValidationError)
      throw new Refusal('request', `The ${what} is not right: ${error.message}.`, 400)
    throw error
  }
}

/** What in a path is counted from 0, and is no thing of its own. */
const countedFromNought = new Set(['file', 'frame'])

/** What stands in a path: numbers of things are looked up as numbers, everything else is a name. */
function pathOf(route: Route, request: Request): AnyObject {
  const fields = (route.params?.fields ?? {}) as Record<string, { type?: string }>
  return Object.fromEntries(
    namedIn(route.path).map((name) => {
      const text = request.params[name]
      return [
        name,
        fields[name]?.type === 'number' && !countedFromNought.has(name)
          ? id(text)
          : fields[name]?.type === 'number'
            ? Number(text)
            : text,
      ]
    }),
  )
}

/** Tells whatever an answer is not as its route says; the server's tests turn it on. */
export let checksAnswers = false
export const checkAnswers = (): void => {
  checksAnswers = true
}

/**
 * Puts handlers behind the routes as they are described: what comes in is checked, what a handler gives back is answered.
 */
export const serving =
  (router: Router) =>
  <R extends Route>(route: R, handle: Handler<R>): void => {
    const path = route.path.replaceAll(/\{(\w+)\}/g, ':$1')
    router[route.method](path, async (request, response) => {
      const query = route.query ? await checked(route.query, request.query, 'address') : {}
      const body = route.body && !route.raw && !route.file ? await checked(route.body, request.body, 'request') : {}
      const input = { ...pathOf(route, request), ...query, ...body } as Given<R>
      const exchange: Exchange = {
        request,
        response,
        get signal() {
          return goneSignal(response)
        },
      }
      const answer = await handle(input, exchange)
      if (route.media || response.headersSent) return
      response.status(route.status)
      if (!route.answer) {
        response.end()
        return
      }
      if (checksAnswers) refuseAnswer(route, answer)
      response.json(answer)
    })
  }

/** @throws Error for an answer that is not as its route describes it */
function refuseAnswer(route: Route, answer: unknown): void {
  try {
    route.answer!.validateSync(JSON.parse(JSON.stringify(answer)), { strict: true, stripUnknown: false })
  } catch (error) {
    throw new Error(`The answer of ${route.method} ${route.path} is not as described: ${(error as Error).message}`)
  }
}
