import { execFileSync, spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'

export const root = fileURLToPath(new URL('..', import.meta.url)).replace(/\/$/, '')

export function run(command, args, options = {}) {
  execFileSync(command, args, { cwd: root, stdio: 'inherit', ...options })
}

/** Installs the packages of the lock file, unless the ones there are of that very file. */
export function installPackages() {
  const lock = createHash('sha256')
    .update(readFileSync(`${root}/package-lock.json`))
    .digest('hex')
  const mark = `${root}/node_modules/.hoja-lock`
  if (existsSync(mark) && readFileSync(mark, 'utf8') === lock) return
  console.log('Installing packages …')
  run('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'])
  writeFileSync(mark, lock)
}

/** Packages of the system that have another name than the program. */
const packages = { exrheader: 'openexr', webpmux: 'webp' }
/** Data that a package brings instead of a program. */
const files = { 'unicode-data': '/usr/share/unicode/BidiCharacterTest.txt' }
export const has = (program) =>
  files[program] ? existsSync(files[program]) : spawnSync('sh', ['-c', `command -v ${program}`]).status === 0

/** Whether a person says yes; nobody does where none sits there. */
function isAllowed(question) {
  if (!process.stdin.isTTY) return false
  process.stdout.write(`${question} [y/N] `)
  const said = spawnSync('sh', ['-c', 'read -r line; printf %s "$line"'], { stdio: ['inherit', 'pipe', 'inherit'] })
  return /^y(es)?$/i.test(said.stdout.toString().trim())
}

/**
 * Installs programs from the system's packages where it can and may: it says which, and asks, unless CI is set.
 * @returns those still missing
 */
export function installPrograms(programs) {
  const missing = programs.filter((program) => !has(program))
  if (missing.length === 0) return []
  if (process.getuid?.() === 0 && has('apt-get')) {
    const names = missing.map((program) => packages[program] ?? program)
    console.log(`Not on this machine: ${missing.join(', ')} (packages ${names.join(', ')}).`)
    if (!process.env.CI && !isAllowed('Install them with apt-get?')) return missing
    console.log(`Installing ${names.join(', ')} …`)
    const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' }
    spawnSync('apt-get', ['update', '-qq'], { stdio: 'ignore', env })
    spawnSync('apt-get', ['install', '-y', '-qq', ...names], { stdio: ['ignore', 'ignore', 'inherit'], env })
  }
  return missing.filter((program) => !has(program))
}
