import { execFileSync } from 'node:child_process'
import { existsSync, readFileSync } from 'node:fs'
import { availableParallelism } from 'node:os'
import { relative } from 'node:path'
import { root, run } from './setup.mjs'

// Lint, boundaries, types, and the unit tests of what changed and of what depends on it: since the last commit, or, when
// nothing has changed, of that one. What lies deep has everything depending on it, and nobody waits ten minutes before a
// commit: the quickest go first, as long as there is time, and those that are left to `npm test` are named.
const seconds = 50
const changed = execFileSync('git', ['status', '--porcelain'], { cwd: root, encoding: 'utf8' }).trim()
const since = process.argv[2] ?? (changed === '' ? 'HEAD~1' : 'HEAD')
run('npm', ['run', '-s', 'lint'])
run('npm', ['run', '-s', 'types'])

const listed = execFileSync('npx', ['jest', `--changedSince=${since}`, '--listTests'], {
  cwd: root,
  encoding: 'utf8',
})
const report = `${root}/node_modules/.jest-report.json`
/** How long each file took when all of them ran last, ms; what has not run yet is taken for a quick one. */
const took = new Map(
  existsSync(report)
    ? JSON.parse(readFileSync(report, 'utf8')).testResults.map((one) => [one.name, one.endTime - one.startTime])
    : [],
)
const timeOf = (file) => took.get(file) ?? 2000
const files = listed.split('\n').filter((line) => line.endsWith('.test.ts'))
const isChanged = (file) => changed.includes(relative(root, file))
files.sort((a, b) => Number(isChanged(b)) - Number(isChanged(a)) || timeOf(a) - timeOf(b))
let left = seconds * 1000 * availableParallelism()
const now = files.filter((file) => {
  left -= timeOf(file)
  return left > 0 || isChanged(file)
})
if (now.length > 0) run('npx', ['jest', '--runTestsByPath', ...now])
const later = files.filter((file) => !now.includes(file)).map((file) => relative(root, file))
if (later.length > 0) console.log(`\nLeft to npm test, ${later.length} of ${files.length}: ${later.join(', ')}`)
