import { spawn } from 'node:child_process'
import { parentPort, workerData } from 'node:worker_threads'

// A thread of its own: what the attacker is busy with must not look like the server's. And a server that does nothing,
// asked at the same moments: what the machine itself stands still for must not, either.
const nothing =
  "require('http').createServer((_, r) => r.end('[]')).listen(0, '127.0.0.1', function () { console.log(this.address().port) })"
const bare = spawn(process.execPath, ['-e', nothing], { stdio: ['ignore', 'pipe', 'ignore'] })
const port = await new Promise((done) => bare.stdout.once('data', (piece) => done(Number(piece))))

const times = []
/** ms by which an answer took longer than that of the server that does nothing. */
let held = 0
let stop = false
let lost = 0
parentPort.once('message', () => {
  stop = true
})
const timed = async (address) => {
  const start = performance.now()
  await (await fetch(address)).arrayBuffer()
  return performance.now() - start
}
while (!stop) {
  try {
    const [own, reference] = await Promise.all([timed(`${workerData}/api/moves`), timed(`http://127.0.0.1:${port}/`)])
    times.push(own)
    held = Math.max(held, own - reference)
  } catch {
    lost++
  }
  await new Promise((done) => setTimeout(done, 20))
}
bare.kill()
times.sort((a, b) => a - b)
parentPort.postMessage({
  held,
  slowest: times.at(-1) ?? 0,
  p99: times[Math.floor(times.length * 0.99)] ?? 0,
  asked: times.length,
  lost,
})
