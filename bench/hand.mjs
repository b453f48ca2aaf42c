import { spawnSync } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { root } from '../scripts/setup.mjs'

/** Actions that the same lower third took before words were written on the frame and ties read from the drawing. */
const before = 40

/** How many actions a lower third takes a person: the browser test that draws one counts them. */
export async function benchHand() {
  const report = `${root}/node_modules/.hand-report.json`
  spawnSync(
    'npx',
    ['playwright', 'test', 'e2e/tying.spec.ts', '--grep', 'a lower third by somebody', '--reporter=json'],
    {
      cwd: root,
      stdio: 'ignore',
      env: { ...process.env, PLAYWRIGHT_JSON_OUTPUT_NAME: report },
    },
  )
  const [spec] = JSON.parse(readFileSync(report, 'utf8')).suites[0].specs
  const [{ annotations }] = spec.tests
  const actions = Number(annotations.find(({ type }) => type === 'actions').description)
  return {
    name: 'the hand: a lower third, drawn, tied, moved and published with mouse and keyboard alone',
    figures: [
      `${actions} actions (a click, a drag, a run of typed text, a shortcut), from the Shelf on; ${before} before`,
    ],
    ratios: [{ claim: 'actions', want: 20, median: actions, least: actions }],
  }
}
