import { randomUUID } from 'node:crypto'
import { Refusal } from '@hoja/core/refusal'
import type { NextFunction, Request, Response } from 'express'
import { type AnyObject, type ObjectSchema, ValidationError } from 'yup'
import { Unwanted } from '../jobs/jobs.ts'
import { diskRefusal } from '../render/disk.ts'
import { StaleRevision } from '../store/templates.ts'
import { MissingFonts } from './importing.ts'

/** A request's body by its schema. @throws Refusal in one sentence. */
export async function body<T extends AnyObject>(schema: ObjectSchema<T>, request: Request): Promise<T> {
  try {
    return (await schema.validate(request.body ?? {}, { abortEarly: true, stripUnknown: true })) as T
  } catch (error) {
    if (error instanceof ValidationError)
      throw new Refusal('request', `The request is not right: ${error.message}.`, 400)
    throw error
  }
}

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

/** The one shape of errors: `{ error: { code, message } }`, with what some refusals bring along. */
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
    response
      .status(refusal.status)
      .json({ error: { code: refusal.code, message: refusal.message }, ...beside(refusal) })
    return
  }
  const status = (error as { status?: number }).status
  if (status && status >= 400 && status < 500) {
    const message =
      status === 413 ? 'The request is larger than Hoja takes; send less at once.' : 'The request could not be read.'
    response.status(status).json({ error: { code: 'request', message } })
    return
  }
  const number = randomUUID().slice(0, 8)
  request.app.locals.log?.error({ number, path: request.path, error: (error as Error)?.stack ?? String(error) })
  response.status(500).json({
    error: {
      code: 'defect',
      message: `Something went wrong in Hoja itself; what you had saved is safe. Try again, or tell whoever looks after Hoja its number, ${number}.`,
    },
  })
}
