import { availableParallelism } from 'node:os'

export default {
  testMatch: ['<rootDir>/{core,server,web}/src/**/*.test.ts'],
  extensionsToTreatAsEsm: ['.ts'],
  transform: {
    '^.+\\.ts$': [
      '@swc/jest',
      { jsc: { parser: { syntax: 'typescript' }, target: 'es2022' }, module: { type: 'es6' } },
    ],
  },
  moduleNameMapper: { '^@hoja/core/(.*)$': '<rootDir>/core/src/$1/index.ts' },
  setupFiles: ['<rootDir>/server/src/testing/checkAnswers.ts'],
  // For a test that hangs; a machine may have other work, and some tests start thirty processes.
  testTimeout: 180_000,
  // Half as many again as there are cores: many tests wait for a process or a renderer, and others can run meanwhile.
  maxWorkers: Math.ceil(availableParallelism() * 1.5),
}
