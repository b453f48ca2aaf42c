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

/** What has to be put before a command for it to be the system's own; undefined: it may not be. */
function asRoot() {
  if (process.getuid?.() === 0) return []
  return has('sudo') && spawnSync('sudo', ['-n', 'true'], { stdio: 'ignore' }).status === 0 ? ['sudo', '-n'] : undefined
}

/** The packages that bring programs. */
export const packagesOf = (programs) => programs.map((program) => packages[program] ?? program)

/**
 * Installs programs from the system's packages where it may, as root or by a sudo that asks for nothing, and says so;
 * elsewhere it says what to type.
 * @returns those still missing
 */
export function installPrograms(programs) {
  const missing = programs.filter((program) => !has(program))
  if (missing.length === 0) return []
  const names = packagesOf(missing)
  const before = has('apt-get') ? asRoot() : undefined
  if (before) {
    console.log(`Installing from the system's packages: ${names.join(', ')} …`)
    const apt = (...args) => {
      const [command, ...rest] = [...before, 'env', 'DEBIAN_FRONTEND=noninteractive', 'apt-get', ...args]
      spawnSync(command, rest, { stdio: ['ignore', 'ignore', 'inherit'] })
    }
    apt('update', '-qq')
    apt('install', '-y', '-qq', ...names)
  }
  const left = missing.filter((program) => !has(program))
  if (left.length > 0)
    console.error(
      `Not on this machine: ${left.join(', ')}. Type: sudo apt-get install -y ${packagesOf(left).join(' ')}`,
    )
  return left
}
