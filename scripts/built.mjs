import { createHash } from 'node:crypto'
import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { root } from './setup.mjs'

/** What the build is made of. */
const sources = [
  'core/src',
  'server/src',
  'web',
  'demo',
  'scripts/build.mjs',
  'package-lock.json',
  'tsconfig.base.json',
]
const left = new Set(['node_modules', 'dist'])

function* filesIn(path) {
  const facts = statSync(path)
  if (!facts.isDirectory()) {
    yield `${path} ${facts.size} ${facts.mtimeMs}`
    return
  }
  for (const name of readdirSync(path).sort()) if (!left.has(name)) yield* filesIn(join(path, name))
}

/** Where the build says what it was made of. */
const mark = `${root}/server/dist/.built`

const state = () => {
  const hash = createHash('sha256')
  for (const source of sources) for (const line of filesIn(join(root, source))) hash.update(`${line}\n`)
  return hash.digest('hex')
}

/** Whether what is built is built of the sources as they are. */
export const isBuilt = () => existsSync(mark) && readFileSync(mark, 'utf8') === state()

export const markBuilt = () => writeFileSync(mark, state())
