import { availableParallelism } from 'node:os'
import './scripts/unit/register.mjs'

// The processes that run the tests read TypeScript as this one does.
const register = new URL('./scripts/unit/register.mjs', import.meta.url).href
process.env.NODE_OPTIONS = `--import ${register} --enable-source-maps --no-warnings`

export default {
  testMatch: ['<rootDir>/{core,server,web}/src/**/*.test.ts', '<rootDir>/scripts/unit/*.test.ts'],
  // Node's own modules, read once for all the files that a process runs: no realm and no registry for each of them.
  runner: 'jest-light-runner/child-process',
  // Node resolves these by `scripts/unit/typescript.mjs`; this is for finding the tests that depend on a file.
  moduleNameMapper: { '^@hoja/core/(.*)$': '<rootDir>/core/src/$1/index.ts' },
  testSequencer: '<rootDir>/scripts/unit/slowestFirst.mjs',
  setupFiles: ['<rootDir>/scripts/unit/setUp.mjs', '<rootDir>/server/src/testing/checkAnswers.ts'],
  // Half as many again as there are cores: many tests wait for a process or a renderer, and others can run meanwhile.
  maxWorkers: Math.ceil(availableParallelism() * 1.5),
}
