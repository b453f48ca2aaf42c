import { execFileSync } from 'node:child_process'
import { fileURLToPath } from 'node:url'
import { build } from 'vite'

const root = fileURLToPath(new URL('..', import.meta.url))
const run = (command, ...args) => execFileSync(command, args, { cwd: root, stdio: 'inherit' })

run('npx', 'tsc', '-b', 'core', 'server')

// Commands, threads and renderers start from a few files: to read a thousand small ones takes longer than most commands
// work. What is native, starts threads of its own, or is read by the server alone stays outside.
await build({
  root: `${root}/server`,
  configFile: false,
  logLevel: 'warn',
  resolve: { conditions: ['source'] },
  ssr: {
    noExternal: true,
    external: [
      ...['@napi-rs/canvas', 'better-sqlite3', 'harfbuzzjs', 'piscina', 'pino', 'wawoff2'],
      ...['busboy', 'chokidar', 'express', 'helmet'],
    ],
    resolve: { conditions: ['source', 'node', 'import', 'module', 'default'] },
  },
  build: {
    ssr: true,
    target: 'node20',
    outDir: `${root}/server/dist/app`,
    emptyOutDir: true,
    minify: true,
    watch: process.argv.includes('--watch') ? {} : null,
    rolldownOptions: {
      input: {
        cli: `${root}/server/src/cli.ts`,
        worker: `${root}/server/src/render/worker.ts`,
        renderer: `${root}/server/src/render/renderer.ts`,
      },
      output: { entryFileNames: '[name].js', chunkFileNames: 'chunks/[name]-[hash].js' },
    },
  },
})
if (!process.argv.includes('--no-web')) run('npx', 'vite', 'build', 'web', '--logLevel', 'warn')
