import { parentPort, workerData } from 'node:worker_threads'

// A thread of its own: what the attacker is busy with must not look like the server's.
const times = []
let stop = false
let lost = 0
parentPort.once('message', () => {
  stop = true
})
while (!stop) {
  const start = performance.now()
  try {
    await (await fetch(`${workerData}/api/moves`)).arrayBuffer()
    times.push(performance.now() - start)
  } catch {
    lost++
  }
  await new Promise((done) => setTimeout(done, 20))
}
times.sort((a, b) => a - b)
parentPort.postMessage({
  slowest: times.at(-1) ?? 0,
  p99: times[Math.floor(times.length * 0.99)] ?? 0,
  asked: times.length,
  lost,
})
