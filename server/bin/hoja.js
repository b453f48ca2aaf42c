#!/usr/bin/env node
import { existsSync } from 'node:fs'

const cli = new URL('../dist/app/cli.js', import.meta.url)
if (existsSync(cli)) await import(cli.href)
else {
  process.stderr.write('hoja: it is not built yet; run "npm start" or "npm run build" once.\n')
  process.exitCode = 2
}
