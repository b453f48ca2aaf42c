import { readFileSync } from 'node:fs'
import { percentile, withServer } from './kit.mjs'

/** A 200-row render on a real server: its memory, and how long the interface waits meanwhile. */
export async function benchRun() {
  return withServer(async ({ ask, post, pid }) => {
    const rows = Array.from({ length: 200 }, (_, i) => [`Maren Castellví ${i}`, `Station ${i}, outer bar`])
    const sheet = await post('/sheets', { version: 1, name: 'Bench', table: [['name', 'role'], ...rows] })
    const idle = []
    for (let i = 0; i < 100; i++) {
      const start = performance.now()
      await ask('/templates')
      idle.push(performance.now() - start)
    }
    const output = await post('/outputs', { sheet: sheet.id, format: 'png' })
    const memory = []
    const waits = []
    for (;;) {
      const start = performance.now()
      await ask('/templates')
      waits.push(performance.now() - start)
      if (waits.length % 10 === 0) {
        const { counts, state } = await ask(`/outputs/${output.id}`)
        const rss = Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))[1]) / 1024
        memory.push({ done: counts.done, rss })
        if (state !== 'running') break
      }
      await new Promise((done) => setTimeout(done, 30))
    }
    const after20 = memory.filter((m) => m.done >= 20 && m.done <= 60)
    const late = memory.filter((m) => m.done >= 160)
    const mean = (list) => list.reduce((sum, m) => sum + m.rss, 0) / Math.max(1, list.length)
    const most = Math.max(...memory.map((m) => m.rss))
    return {
      name: 'Rendering 200 rows',
      figures: [
        `resident memory: ${mean(after20).toFixed(0)} MB from row 20 to 60, ${mean(late).toFixed(0)} MB from row 160 on, ${most.toFixed(0)} MB at most`,
        `GET /api/templates: p50 ${percentile(waits, 0.5).toFixed(1)} ms, p99 ${percentile(waits, 0.99).toFixed(1)} ms over ${waits.length} calls (idle: p50 ${percentile(idle, 0.5).toFixed(1)}, p99 ${percentile(idle, 0.99).toFixed(1)})`,
      ],
      ratios: [
        { claim: 'of 600 MB resident at most', want: 1, median: most / 600, least: most / 600, atLeast: false },
        {
          claim: 'late memory against early',
          want: 1.15,
          median: mean(late) / mean(after20),
          least: mean(late) / mean(after20),
          atLeast: false,
        },
        {
          claim: 'of 50 ms at p99',
          want: 1,
          median: percentile(waits, 0.99) / 50,
          least: percentile(waits, 0.99) / 50,
          atLeast: false,
        },
      ],
    }
  })
}
