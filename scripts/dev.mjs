import { spawn } from 'node:child_process'
import { installPackages, root, run } from './setup.mjs'

// Server on 4173, restarted when its build changes; interface on 5173 with live reload, asking the server for /api.
installPackages()
run('node', ['scripts/build.mjs', '--no-web'])
const children = [
  spawn('node', ['scripts/build.mjs', '--no-web', '--watch'], { cwd: root, stdio: 'inherit' }),
  spawn('node', ['--watch', 'server/dist/app/cli.js', 'serve'], { cwd: root, stdio: 'inherit' }),
  spawn('npx', ['vite', 'web'], { cwd: root, stdio: 'inherit' }),
]
process.on('SIGINT', () => {
  for (const child of children) child.kill()
})
