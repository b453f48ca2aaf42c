import { Refusal } from '@hoja/core/refusal'

const causes: { code: string; words: RegExp; refusal: (then: string) => Refusal }[] = [
  {
    code: 'ENOSPC',
    words: /no space left|disk quota exceeded/i,
    refusal: (then) => new Refusal('disk.full', `The disk is full; make room, and ${then}.`, 507),
  },
  {
    code: 'EACCES',
    words: /permission denied|read-only file system|operation not permitted/i,
    refusal: (then) =>
      new Refusal('disk.refused', `Files may not be written to the data folder; allow it, and ${then}.`, 503),
  },
]
const same: Record<string, string> = { EDQUOT: 'ENOSPC', SQLITE_FULL: 'ENOSPC', EPERM: 'EACCES', EROFS: 'EACCES' }

/**
 * What a system's error, or what a program said of one, means for whoever waits for files; undefined: something else.
 * @param then what happens when it is put right
 */
export function diskRefusal(error: unknown, then = 'rendering goes on'): Refusal | undefined {
  if (typeof error === 'string') return causes.find(({ words }) => words.test(error))?.refusal(then)
  const { code = '' } = (error ?? {}) as NodeJS.ErrnoException
  const cause = code.startsWith('SQLITE_READONLY') || code.startsWith('SQLITE_IOERR') ? 'EACCES' : (same[code] ?? code)
  return causes.find((one) => one.code === cause)?.refusal(then)
}
