import { createHash } from 'node:crypto'
import { mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs'
import { readFile } from 'node:fs/promises'
import { fileURLToPath } from 'node:url'
import { transformSync } from '@swc/core'

// Hooks of Node's module loader (module.register), so that tests read the sources themselves.

const core = new URL('../../core/src/', import.meta.url)
const kept = fileURLToPath(new URL('../../node_modules/.cache/hoja-typescript/', import.meta.url))
mkdirSync(kept, { recursive: true })
const options = {
  jsc: { parser: { syntax: 'typescript' }, target: 'es2022' },
  module: { type: 'es6' },
  sourceMaps: 'inline',
}

/** The packages of the core are its folders: not what was built of them. */
export function resolve(specifier, context, next) {
  const [, folder] = /^@hoja\/core\/(.+)$/.exec(specifier) ?? []
  return folder
    ? { url: new URL(`${folder}/index.ts`, core).href, format: 'module', shortCircuit: true }
    : next(specifier, context)
}

/** TypeScript with its types taken out; what was made of a file is kept by its content. */
export async function load(url, context, next) {
  const { protocol, pathname } = new URL(url)
  if (protocol !== 'file:' || !pathname.endsWith('.ts')) return next(url, context)
  const filename = fileURLToPath(`file://${pathname}`)
  const text = await readFile(filename, 'utf8')
  const name = kept + createHash('sha256').update(`${filename}\n${text}`).digest('hex')
  let source
  try {
    source = readFileSync(name, 'utf8')
  } catch {
    source = transformSync(text, { ...options, filename }).code
    // Whole or not at all: several processes may make the same one.
    writeFileSync(`${name}.${process.pid}`, source)
    renameSync(`${name}.${process.pid}`, name)
  }
  return { format: 'module', source, shortCircuit: true }
}
