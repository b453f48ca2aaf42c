import { percentile, withServer } from './kit.mjs'

const rows = 200_000

/** Asks for a small thing, over and over, while `work` goes on: ms of each answer. */
async function asked(base, work) {
  const times = []
  let stop = false
  const asking = (async () => {
    while (!stop) {
      const start = performance.now()
      await (await fetch(`${base}/api/moves`)).arrayBuffer()
      times.push(performance.now() - start)
      await new Promise((done) => setTimeout(done, 5))
    }
  })()
  const start = performance.now()
  await work()
  const took = performance.now() - start
  stop = true
  await asking
  return { took, p50: percentile(times, 0.5), p99: percentile(times, 0.99), max: Math.max(...times) }
}

const csv = () => {
  const lines = ['name,role']
  for (let i = 0; i < rows; i++) lines.push(`Io Marrec ${i},Harbour pilot of ferry line ${i % 17}`)
  return lines.join('\n')
}

/** A template of 2,000 boxes, each tied to the frame. */
function manyBoxes(template) {
  const [like] = template.parts.filter((part) => part.kind === 'box')
  const parts = Array.from({ length: 2000 - template.parts.length }, (_, i) => ({
    ...like,
    id: `box-${i}`,
    name: `Box ${i}`,
  }))
  const free = parts.map((part) => ({ ...part, x: { ...part.x, ties: [] }, y: { ...part.y, ties: [] } }))
  return { ...template, parts: [...template.parts, ...free] }
}

/** Whether the server answers at once whatever it is given to do. */
export function benchFree() {
  return withServer(async ({ base, ask, post }) => {
    const { versions } = await ask('/templates/speaker')
    const upload = async (path, name, text, fields = {}) => {
      const form = new FormData()
      for (const [key, value] of Object.entries(fields)) form.append(key, value)
      form.append('file', new Blob([text]), name)
      return (await fetch(`${base}/api${path}`, { method: 'POST', body: form })).json()
    }
    const send = async (method, path, body) => {
      const response = await fetch(`${base}/api${path}`, {
        method,
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify(body),
      })
      const said = await response.json()
      if (!response.ok) throw new Error(said.detail)
      return said
    }
    const idle = await asked(base, () => new Promise((done) => setTimeout(done, 3000)))
    let sheet
    const text = csv()
    const importing = await asked(base, async () => {
      sheet = await upload('/sheets/import', 'long.csv', text, { version: String(versions[0].id) })
      if (sheet.count !== rows) throw new Error(JSON.stringify(sheet))
    })
    const inserting = await asked(base, async () => {
      for (let n = 0; n < 40; n++) {
        const changes = [{ at: 1, remove: 0, rows: [{ cells: { name: `New ${n}`, role: 'Diver' } }] }]
        sheet = await send('PATCH', `/sheets/${sheet.id}/rows`, { revision: sheet.revision, changes })
      }
    })
    const removing = await asked(base, async () => {
      await fetch(`${base}/api/sheets/${sheet.id}`, { method: 'DELETE' })
      await new Promise((done) => setTimeout(done, 2500))
    })
    const made = await post('/templates/speaker/duplicate', {})
    const { revision, template } = await ask(`/templates/${made.id}`)
    const body = JSON.stringify({ revision, template: manyBoxes(template) })
    const saving = await asked(base, async () => {
      const response = await fetch(`${base}/api/templates/${made.id}`, {
        method: 'PUT',
        headers: { 'Content-Type': 'application/json' },
        body,
      })
      if (!response.ok) throw new Error(await response.text())
    })
    const tall = await post('/templates/speaker/duplicate', {})
    const own = await ask(`/templates/${tall.id}`)
    const frame = { ...own.template.frame, width: 16, height: 8192 }
    await send('PUT', `/templates/${tall.id}`, { revision: own.revision, template: { ...own.template, frame } })
    const looping = await asked(base, async () => {
      const response = await fetch(`${base}/api/templates/${tall.id}/loop.png`)
      await response.arrayBuffer()
      if (!response.ok) throw new Error(`the loop: ${response.status}`)
    })
    const all = { idle, importing, inserting, removing, saving, looping }
    return {
      name: 'the main thread while it is given much to do',
      figures: Object.entries(all).map(
        ([name, { took, p50, p99, max }]) =>
          `${name}: ${(took / 1000).toFixed(2)} s; a plain read p50 ${p50.toFixed(1)} ms, p99 ${p99.toFixed(1)} ms, slowest ${max.toFixed(0)} ms`,
      ),
      ratios: Object.entries(all)
        .filter(([name]) => name !== 'idle')
        .map(([name, { p99 }]) => ({
          claim: `as the share of 50 ms that the p99 of a plain read takes while ${name}`,
          want: 1,
          median: p99 / 50,
          least: p99 / 50,
        })),
    }
  })
}
