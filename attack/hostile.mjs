import { mkdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { transformFileSync } from '@swc/core'
import { root } from './server.mjs'

// The files that the unit tests make, too: compiled on the way, since they are no part of what ships.
const cache = join(root, 'node_modules/.cache/hoja')
mkdirSync(cache, { recursive: true })
const { code } = transformFileSync(`${root}core/src/testing/hostile.ts`, {
  jsc: { parser: { syntax: 'typescript' }, target: 'es2022' },
  module: { type: 'es6' },
})
writeFileSync(join(cache, 'hostile.mjs'), code)
export const { feedOf, odsOf, odsRow, xlsxOf, xlsxRow } = await import(join(cache, 'hostile.mjs'))
