import { existsSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'

/** The server's own folder, from wherever this lies in it: as source, compiled, or in the bundle that starts quickly. */
export const serverFolder: string = (() => {
  let folder = dirname(fileURLToPath(import.meta.url))
  while (!existsSync(join(folder, 'package.json'))) folder = dirname(folder)
  return folder
})()

/** A script of the built server, for processes and threads of their own. */
export const builtScript = (name: 'cli' | 'job' | 'renderer'): string => join(serverFolder, 'dist', 'app', `${name}.js`)
