import { randomUUID } from 'node:crypto'
import { STATUS_CODES } from 'node:http'
import { type Problem, problemType } from '@hoja/core/api'
import { Refusal } from '@hoja/core/refusal'
import type { NextFunction, Request, Response } from 'express'
import { Unwanted } from '../jobs/jobs.ts'
import { diskRefusal } from '../render/disk.ts'
import { StaleRevision } from '../store/templates.ts'
import { MissingFonts } from './importing.ts'

/** A whole number in a path. @throws Refusal */
export function id(text: string | string[] | undefined): number {
  const number = Number(text)
  if (!Number.isInteger(number) || number < 1)
    throw new Refusal('request.id', `"${text}" is not a number of anything here.`, 404)
  return number
}

/** What some refusals bring along, so that a person can choose: the stored draft, the fonts that are missing. */
function beside(error: Refusal): object {
  if (error instanceof StaleRevision)
    return { current: { revision: error.current.revision, template: error.current.template } }
  return error instanceof MissingFonts ? { missing: error.missing } : {}
}

/** What the machine, not the request, is the reason of; undefined: a defect of ours. */
function machineRefusal(error: unknown): Refusal | undefined {
  const disk = diskRefusal(error, 'try again')
  if (disk) return disk
  const { code = '' } = (error ?? {}) as { code?: string }
  if (code.startsWith('SQLITE_CORRUPT') || code === 'SQLITE_NOTADB')
    return new Refusal('data.damaged', 'The database is damaged; restore a backup with hoja restore.', 503)
  if (code.startsWith('SQLITE_BUSY') || code.startsWith('SQLITE_LOCKED'))
    return new Refusal('data.busy', 'Another program holds the database; close it, and try again.', 503)
  if (code === 'EMFILE' || code === 'ENFILE')
    return new Refusal(
      'machine.files',
      'Too many files are open on this machine; close some programs, and try again.',
      503,
    )
  return undefined
}

/** Answers with a problem (RFC 9457), with what some refusals bring along. */
function tell(response: Response, status: number, code: string, detail: string, beside: object = {}): void {
  const problem: Problem = { type: 'about:blank', title: STATUS_CODES[status] ?? 'Error', status, detail, code }
  response
    .status(status)
    .type(problemType)
    .send(JSON.stringify({ ...problem, ...beside }))
}

/** Every error as a problem: a refusal by its sentence, what nobody foresaw by a number. */
export function errors(error: unknown, request: Request, response: Response, next: NextFunction): void {
  // Nobody is there any more to be told.
  if (error instanceof Unwanted) {
    response.destroy()
    return
  }
  if (response.headersSent) {
    next(error)
    return
  }
  const refusal = error instanceof Refusal ? error : machineRefusal(error)
  if (refusal) {
    tell(response, refusal.status, refusal.code, refusal.message, beside(refusal))
    return
  }
  const status = (error as { status?: number }).status
  if (status && status >= 400 && status < 500) {
    const isLarge = status === 413
    const detail = isLarge
      ? 'The request is larger than Hoja takes; send less at once.'
      : 'The request could not be read.'
    tell(response, status, 'request', detail)
    return
  }
  const number = randomUUID().slice(0, 8)
  request.app.locals.log?.error({ number, path: request.path, error: (error as Error)?.stack ?? String(error) })
  tell(
    response,
    500,
    'defect',
    `Something went wrong in Hoja itself; what you had saved is safe. Try again, or tell whoever looks after Hoja its number, ${number}.`,
  )
}
