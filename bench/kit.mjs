import { availableParallelism, cpus } from 'node:os'
import { Scene } from '@hoja/core/scene'
import { openPackage } from '../server/dist/packageFolder.js'
import { loadAssets } from '../server/dist/render/assets.js'

/** The demo template, ready. */
export async function speakerScene() {
  const { template, files } = await openPackage('demo/templates/speaker')
  return new Scene(template, await loadAssets(template, (entry) => files[entry.file]))
}

const median = (list) => [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)]

/**
 * Runs two kinds of work in turn, so that whatever else the machine does falls on both, and gives each one's least and
 * median milliseconds. `once` runs of each before anything counts.
 */
export async function sideBySide(works, rounds, warm = 2) {
  const times = Object.fromEntries(Object.keys(works).map((name) => [name, []]))
  for (let round = -warm; round < rounds; round++)
    for (const [name, work] of Object.entries(works)) {
      const start = performance.now()
      await work(round)
      if (round >= 0) times[name].push(performance.now() - start)
    }
  return Object.fromEntries(
    Object.entries(times).map(([name, list]) => [name, { least: Math.min(...list), median: median(list) }]),
  )
}

export const machine = () => `${availableParallelism()} cores, ${cpus()[0].model}, Node ${process.version}`
export const percentile = (list, p) =>
  [...list].sort((a, b) => a - b)[Math.min(list.length - 1, Math.ceil(list.length * p) - 1)]
