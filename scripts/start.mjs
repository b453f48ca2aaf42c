import { spawn } from 'node:child_process'
import { isBuilt } from './built.mjs'
import { installPackages, root, run } from './setup.mjs'

// One command on a fresh clone: packages, build, demo data, server. What is built of the sources as they are stays.
installPackages()
if (!isBuilt()) run('node', ['scripts/build.mjs'])
const server = spawn('node', [`${root}/server/dist/app/cli.js`, 'serve', ...process.argv.slice(2)], {
  cwd: root,
  stdio: 'inherit',
})
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal))
server.on('exit', (code) => process.exit(code ?? 0))
