import { existsSync, readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import Sequencer from '@jest/test-sequencer'

const report = fileURLToPath(new URL('../../node_modules/.jest-report.json', import.meta.url))
/** Where nothing has run yet: what waits for processes longest, the slowest first. */
const known = ['cli', 'crash', 'movie', 'faults', 'shelf', 'http', 'delivered', 'quickTime', 'outputs']

/** Begins with what took longest, so that nobody waits for one file in the end. */
export default class SlowestFirst extends Sequencer {
  sort(tests) {
    const took = new Map(
      existsSync(report)
        ? JSON.parse(readFileSync(report, 'utf8')).testResults.map((one) => [one.name, one.endTime - one.startTime])
        : [],
    )
    const rank = ({ path }) => {
      const at = known.findIndex((name) => path.endsWith(`/${name}.test.ts`))
      return took.get(path) ?? (at < 0 ? 0 : 1e6 - at)
    }
    return [...tests].sort((a, b) => rank(b) - rank(a) || (a.path < b.path ? -1 : 1))
  }
}
