import { execFileSync } from 'node:child_process'
import { cpSync, rmSync } from 'node:fs'
import { fileURLToPath } from 'node:url'

const root = fileURLToPath(new URL('..', import.meta.url))
const run = (command, ...args) => execFileSync(command, args, { cwd: root, stdio: 'inherit' })

run('npx', 'tsc', '-b', 'core', 'server')
rmSync(`${root}/server/dist/store/migrations`, { recursive: true, force: true })
cpSync(`${root}/server/src/store/migrations`, `${root}/server/dist/store/migrations`, { recursive: true })
if (!process.argv.includes('--no-web')) run('npx', 'vite', 'build', 'web', '--logLevel', 'warn')
