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

/** Installs programs from the system's packages where it can; returns those still missing. */
export function installPrograms(programs) {
  const missing = programs.filter((program) => !has(program))
  if (missing.length === 0) return []
  if (process.getuid?.() === 0 && has('apt-get')) {
    console.log(`Installing ${missing.join(', ')} …`)
    const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' }
    spawnSync('apt-get', ['update', '-qq'], { stdio: 'ignore', env })
    const names = missing.map((program) => packages[program] ?? program)
    spawnSync('apt-get', ['install', '-y', '-qq', ...names], { stdio: ['ignore', 'ignore', 'inherit'], env })
  }
  return missing.filter((program) => !has(program))
}
