/** Characters that some file system refuses, or that a shell or a URL reads as something else. */
const unsafe = /[\u0000-\u001f\u007f<>:"/\\|?*#%&{}$!'`@+=^~[\]();,]+/g

/** A text as part of a file name on any system: letters of every script stay, the rest becomes `_`. */
export function safeName(text: string): string {
  const name = text
    .normalize('NFC')
    .replace(unsafe, '_')
    .replace(/\s+/g, '_')
    .replace(/_+/g, '_')
    .replace(/^[._]+|[._]+$/g, '')
    .slice(0, 80)
  return /^(con|prn|aux|nul|com\d|lpt\d)$/i.test(name) ? `${name}_` : name || 'untitled'
}

/**
 * A file name from a pattern: `{row}`, `{row:000}` (with leading zeros), `{FIELD}`; and never one that is taken.
 */
export function nameFrom(pattern: string, row: number, values: Record<string, unknown>, taken: Set<string>): string {
  const name = safeName(
    pattern.replace(/\{([a-z][a-z0-9_-]*)(?::(0+))?\}/g, (_, key: string, zeros?: string) =>
      key === 'row' ? String(row).padStart(zeros?.length ?? 1, '0') : String(values[key] ?? ''),
    ),
  )
  let free = name
  for (let n = 2; taken.has(free.toLowerCase()); n++) free = `${name}_${n}`
  taken.add(free.toLowerCase())
  return free
}
