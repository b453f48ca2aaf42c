import { execFileSync } from 'node:child_process'
import { readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { brotliCompressSync, constants, gzipSync } from 'node:zlib'
import { build } from 'vite'
import { markBuilt } from './built.mjs'

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
      ...['@napi-rs/canvas', 'better-sqlite3', 'harfbuzzjs', 'pino', 'wawoff2'],
      ...['busboy', 'chokidar', 'express', 'express-static-gzip', 'helmet'],
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
      // How long its plugins took is nothing that somebody who starts Hoja has to read.
      checks: { pluginTimings: false },
      input: {
        cli: `${root}/server/src/cli.ts`,
        job: `${root}/server/src/jobs/job.ts`,
        renderer: `${root}/server/src/render/renderer.ts`,
      },
      output: { entryFileNames: '[name].js', chunkFileNames: 'chunks/[name]-[hash].js' },
    },
  },
})
if (!process.argv.includes('--no-web')) {
  run('npx', 'vite', 'build', 'web', '--logLevel', 'warn')
  // Compressed once, here, not at each request.
  const assets = `${root}/web/dist/assets`
  for (const name of readdirSync(assets)) {
    const bytes = readFileSync(`${assets}/${name}`)
    if (!/\.(js|css|wasm|svg|json)$/.test(name) || bytes.length < 1024) continue
    const quality = { [constants.BROTLI_PARAM_QUALITY]: 9, [constants.BROTLI_PARAM_SIZE_HINT]: bytes.length }
    writeFileSync(`${assets}/${name}.br`, brotliCompressSync(bytes, { params: quality }))
    writeFileSync(`${assets}/${name}.gz`, gzipSync(bytes, { level: 9 }))
  }
  // The whole of it; without the interface it is not all that is needed to start.
  if (!process.argv.includes('--watch')) markBuilt()
}
