import { readdirSync, readFileSync } from 'node:fs'
import { availableParallelism } from 'node:os'
import { percentile, withServer } from './kit.mjs'

/** Processes that a process has started, and theirs. */
function familyOf(pid) {
  const children = (of) => {
    try {
      return readdirSync(`/proc/${of}/task`).flatMap((task) =>
        readFileSync(`/proc/${of}/task/${task}/children`, 'utf8').trim().split(' ').filter(Boolean).map(Number),
      )
    } catch {
      return []
    }
  }
  return [pid, ...children(pid).flatMap(familyOf)]
}

/**
 * MB that processes hold together: `once` counts a page that several share, as they do Node itself, once (Linux calls a
 * process's share of it PSS); `each` adds what every process has resident. A process that has gone holds nothing.
 */
function residentOf(pids) {
  const held = { once: 0, each: 0 }
  for (const pid of pids)
    try {
      const text = readFileSync(`/proc/${pid}/smaps_rollup`, 'utf8')
      held.once += Number(/^Pss:\s+(\d+)/m.exec(text)?.[1] ?? 0) / 1024
      held.each += Number(/^Rss:\s+(\d+)/m.exec(text)?.[1] ?? 0) / 1024
    } catch {
      // It has gone.
    }
  return held
}

/** Ticks that all cores together were busy, and were there. */
function cpu() {
  const [user, nice, system, idle, wait, irq, soft, steal] = readFileSync('/proc/stat', 'utf8')
    .split('\n')[0]
    .split(/\s+/)
    .slice(1)
    .map(Number)
  return {
    busy: user + nice + system + irq + soft + steal,
    all: user + nice + system + irq + soft + steal + idle + wait,
  }
}

/** A 500-row render on a real server: its memory and its cores, and how long the interface waits; then three rows change. */
export async function benchRun() {
  return withServer(async ({ ask, post, pid, base }) => {
    const rows = Array.from({ length: 500 }, (_, i) => [`Maren Castellví ${i}`, `Station ${i}, outer bar`])
    const sheet = await post('/sheets', { version: 1, name: 'Bench', table: [['name', 'role'], ...rows] })
    const idle = []
    for (let i = 0; i < 100; i++) {
      const start = performance.now()
      await ask('/templates')
      idle.push(performance.now() - start)
    }
    const started = performance.now()
    const before = cpu()
    const output = await post('/outputs', { sheet: sheet.id, format: 'png' })
    const memory = []
    const waits = []
    let guess
    for (;;) {
      const start = performance.now()
      await ask('/templates')
      waits.push(performance.now() - start)
      if (waits.length % 10 === 0) {
        const { counts, state, progress } = await ask(`/outputs/${output.id}`)
        memory.push({ done: counts.done, ...residentOf(familyOf(pid)), own: residentOf([pid]).once })
        if (!guess && counts.done >= 10) guess = { at: performance.now(), left: progress.left * 1000 }
        if (state !== 'running') break
      }
      await new Promise((done) => setTimeout(done, 30))
    }
    const ended = performance.now()
    const after = cpu()
    const busy = (after.busy - before.busy) / (after.all - before.all)
    const mean = (list) => list.reduce((sum, m) => sum + m.once, 0) / Math.max(1, list.length)
    const early = mean(memory.filter((m) => m.done >= 50 && m.done <= 150))
    const late = mean(memory.filter((m) => m.done >= 400))
    const most = Math.max(...memory.map((m) => m.once))
    const off = Math.abs(guess.left - (ended - guess.at)) / (ended - guess.at)

    const { revision } = await ask(`/sheets/${sheet.id}`)
    const changed = [7, 250, 499].map((at) => ({
      at,
      remove: 1,
      rows: [{ cells: { name: `Ben Castellví ${at}`, role: `Station ${at}` } }],
    }))
    await fetch(`${base}/api/sheets/${sheet.id}/rows`, {
      method: 'PATCH',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ revision, changes: changed }),
    })
    const againStarted = performance.now()
    const again = await post('/outputs', { sheet: sheet.id, format: 'png' })
    let second
    do {
      await new Promise((done) => setTimeout(done, 50))
      second = await ask(`/outputs/${again.id}`)
    } while (second.state === 'running')
    const drawn = second.units.filter((unit) => unit.state === 'done' && !unit.found).length
    const one = (value) => ({ median: value, least: value })
    return {
      name: 'Rendering 500 rows as PNG sequences',
      figures: [
        `${((ended - started) / 1000).toFixed(0)} s; ${availableParallelism()} cores ${(busy * 100).toFixed(0)} % busy`,
        `resident memory, all processes: ${early.toFixed(0)} MB from row 50 to 150, ${late.toFixed(0)} MB from row 400 on, ${most.toFixed(0)} MB at most (the server itself ${Math.max(...memory.map((m) => m.own)).toFixed(0)}; with shared pages counted for each process ${Math.max(...memory.map((m) => m.each)).toFixed(0)})`,
        `GET /api/templates: p50 ${percentile(waits, 0.5).toFixed(1)} ms, p99 ${percentile(waits, 0.99).toFixed(1)} ms over ${waits.length} calls (idle: p50 ${percentile(idle, 0.5).toFixed(1)}, p99 ${percentile(idle, 0.99).toFixed(1)})`,
        `time left after ten rows: ${(guess.left / 1000).toFixed(0)} s, it took ${((ended - guess.at) / 1000).toFixed(0)}`,
        `again with three rows changed: ${drawn} rendered, the others found, in ${((performance.now() - againStarted) / 1000).toFixed(1)} s`,
      ],
      ratios: [
        { claim: 'of both cores', want: 0.85, ...one(busy), atLeast: true },
        { claim: 'of 700 MB resident at most', want: 1, ...one(most / 700), atLeast: false },
        { claim: 'late memory against early', want: 1.15, ...one(late / early), atLeast: false },
        { claim: 'of 50 ms at p99', want: 1, ...one(percentile(waits, 0.99) / 50), atLeast: false },
        { claim: 'off in the time left after ten rows', want: 0.25, ...one(off), atLeast: false },
        { claim: 'of the three changed rows rendered again', want: 1, ...one(drawn / 3), atLeast: false },
      ],
    }
  })
}
