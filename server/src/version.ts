import { readFileSync } from 'node:fs'

/** Hoja's own version, as its package says. */
export const hojaVersion: string = JSON.parse(readFileSync(new URL('../package.json', import.meta.url), 'utf8')).version
