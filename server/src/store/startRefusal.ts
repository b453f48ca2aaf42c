import { Refusal } from '@hoja/core/refusal'

const reasons: Record<string, (folder: string) => string> = {
  SQLITE_NOTADB: (folder) =>
    `"hoja.sqlite" in "${folder}" is no database; give another folder with --data, or restore a backup.`,
  SQLITE_CORRUPT: (folder) =>
    `The database in "${folder}" is damaged; restore a backup with hoja restore, or give another folder with --data.`,
  SQLITE_CANTOPEN: (folder) => `The database in "${folder}" can't be opened; look whether it may be read and written.`,
  SQLITE_READONLY: (folder) => `"${folder}" may be read only; allow writing to it, or give another folder with --data.`,
  SQLITE_FULL: () => 'The disk is full; make room and start again.',
  SQLITE_IOERR: (folder) => `The disk under "${folder}" fails; look after it before starting again.`,
  SQLITE_BUSY: (folder) => `The database in "${folder}" is in use by another program; close that one.`,
  ENOSPC: () => 'The disk is full; make room and start again.',
  EDQUOT: () => 'The disk is full; make room and start again.',
  EACCES: (folder) => `"${folder}" may not be read or written; allow it, or give another folder with --data.`,
  EPERM: (folder) => `"${folder}" may not be read or written; allow it, or give another folder with --data.`,
  EROFS: (folder) => `"${folder}" may be read only; allow writing to it, or give another folder with --data.`,
  ENOTDIR: (folder) => `"${folder}" is no folder; give another one with --data.`,
  EEXIST: (folder) => `"${folder}" is no folder; give another one with --data.`,
}

/** Why a data folder can't be opened, in a sentence; anything else stays the error that it was. */
export function startRefusal(error: unknown, folder: string): unknown {
  if (error instanceof Refusal) return error
  const { code = '' } = error as NodeJS.ErrnoException
  const key = Object.keys(reasons).find((one) => code === one || code.startsWith(`${one}_`))
  return key ? new Refusal(`data.${key.toLowerCase().replace(/^sqlite_|^e/, '')}`, reasons[key]!(folder)) : error
}
