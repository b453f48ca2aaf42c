import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { decompress } from 'wawoff2'
import { Font } from '../text/index.ts'

const file = createRequire(import.meta.url).resolve(
  '@fontsource-variable/roboto-flex/files/roboto-flex-latin-full-normal.woff2',
)

/** A variable font of thirteen axes: weight 100 to 1000, width 25 to 151, optical size 8 to 144, slant -10 to 0, others. */
export const variableBytes: Uint8Array = new Uint8Array(await decompress(readFileSync(file)))
export const variable = new Font(variableBytes, 'variable')
