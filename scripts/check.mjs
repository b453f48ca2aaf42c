import { execFileSync } from 'node:child_process'
import { root, run } from './setup.mjs'

// Lint, boundaries, types, and the unit tests of what changed and of what depends on it: since the last commit, or, when
// nothing has changed, of that one.
const changed = execFileSync('git', ['status', '--porcelain'], { cwd: root, encoding: 'utf8' }).trim()
const since = process.argv[2] ?? (changed === '' ? 'HEAD~1' : 'HEAD')
run('npm', ['run', '-s', 'lint'])
run('npm', ['run', '-s', 'types'])
run('npx', ['jest', `--changedSince=${since}`, '--passWithNoTests'], {
  env: { ...process.env, NODE_OPTIONS: '--experimental-vm-modules --no-warnings' },
})
