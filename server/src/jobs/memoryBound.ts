import { Worker } from 'node:worker_threads'

/** A thread that looks at its process ten times a second, whatever that is busy with. */
const guard = `
  const { workerData } = require('node:worker_threads')
  setInterval(() => {
    if (process.memoryUsage.rss() > workerData) process.kill(process.pid, 'SIGKILL')
  }, 100)
`

/** Ends this process when it takes more than so many bytes: what native and wasm code takes counts, as V8's own bound does not. */
export function boundMemory(bytes: number): void {
  new Worker(guard, {
    eval: true,
    workerData: bytes,
    execArgv: [],
    resourceLimits: { maxOldGenerationSizeMb: 16 },
  }).unref()
}
