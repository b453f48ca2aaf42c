import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { serverFolder } from './serverFolder.ts'

/** Hoja's own version, as its package says. */
export const hojaVersion: string = JSON.parse(readFileSync(join(serverFolder, 'package.json'), 'utf8')).version
