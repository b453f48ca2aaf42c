import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { strToU8 } from 'fflate'
import { wrongWith } from './folder.mjs'
import { startServer } from './server.mjs'

const small = { width: 320, height: 180 }

/**
 * Kills the server (`kill -9`) at random moments of a mixed load, and starts it again: what it had acknowledged is there each
 * time, and in the end the folder is sound.
 */
export async function killed(times, { below, pick }, check) {
  const data = mkdtempSync(join(tmpdir(), 'hoja-kills-'))
  /** What was acknowledged: sheets by id with their rows, drafts with their notes, versions, and what was removed. */
  const known = { sheets: new Map(), notes: new Map(), versions: new Map(), removed: new Set(), outputs: new Set() }
  let acknowledged = 0
  const busy = new Set()
  let server = await startServer(data, '--backup', join(data, '../', `${data.split('/').pop()}-backup`))
  const version = (await server.ask('/templates/speaker')).body.versions[0].id
  let n = 0

  const acts = {
    async import() {
      const count = 1 + below(3000)
      const text = `name,role\n${Array.from({ length: count }, (_, i) => `Io ${n} ${i},Pilot`).join('\n')}\n`
      const { status, body } = await server.upload('/sheets/import', 'a.csv', strToU8(text), {
        version: String(version),
      })
      if (status === 201) known.sheets.set(body.id, count)
    },
    async edit() {
      const [id, count] = pick([...known.sheets]) ?? []
      if (!id) return
      const { body: sheet } = await server.ask(`/sheets/${id}`)
      const rows = [{ cells: { name: `New ${n}`, role: 'Diver' } }]
      known.sheets.delete(id)
      const { status } = await server.send('PATCH', `/sheets/${id}/rows`, {
        revision: sheet.revision,
        changes: [{ at: 1 + below(count), remove: 0, rows }],
      })
      if (status === 200) known.sheets.set(id, count + 1)
    },
    async save() {
      const { body: own } = await server.ask('/templates/talk')
      const note = `note ${n++}`
      known.notes.delete('talk')
      const { status } = await server.send('PUT', '/templates/talk', {
        revision: own.revision,
        template: { ...own.template, note },
      })
      if (status === 200) known.notes.set('talk', note)
    },
    async publish() {
      const { status, body } = await server.send('POST', '/templates/talk/versions', {})
      if (status === 201) known.versions.set(body.id, body.document)
    },
    async render() {
      const { body: sheet } = await server.send('POST', '/sheets', {
        version,
        name: 'Two',
        table: [['name'], [`A ${n++}`], ['B']],
      })
      const { status, body } = await server.send('POST', '/outputs', {
        sheet: sheet.id,
        format: 'png',
        frames: 30,
        size: small,
      })
      if (status === 201) known.outputs.add(body.id)
    },
    async remove() {
      const [id] = pick([...known.sheets]) ?? []
      if (!id) return
      known.sheets.delete(id)
      const { status } = await server.send('DELETE', `/sheets/${id}`)
      if (status === 204) known.removed.add(id)
    },
    async backup() {
      await server.send('POST', '/backup')
    },
  }

  async function load(until) {
    while (!until()) {
      const name = pick(Object.keys(acts))
      // Of each kind one at a time, so that it is known which of two answers was the last.
      if (busy.has(name)) {
        await new Promise((done) => setTimeout(done, 5))
        continue
      }
      busy.add(name)
      try {
        await acts[name]()
        acknowledged++
      } catch {
        // Killed in the middle: nothing was acknowledged.
      } finally {
        busy.delete(name)
      }
    }
  }

  for (let kill = 0; kill < times; kill++) {
    let stop = false
    const loads = [load(() => stop), load(() => stop)]
    await new Promise((done) => setTimeout(done, 50 + below(900)))
    await server.end('SIGKILL')
    stop = true
    await Promise.all(loads)
    server = await startServer(data, '--backup', join(data, '../', `${data.split('/').pop()}-backup`))
    const missing = []
    for (const [id, count] of known.sheets) {
      const { body } = await server.ask(`/sheets/${id}`)
      if (body.count !== count) missing.push(`sheet ${id}: ${body.count} of ${count} rows`)
    }
    for (const id of known.removed)
      if ((await server.ask(`/sheets/${id}`)).status !== 404) missing.push(`sheet ${id} is back`)
    for (const [id, note] of known.notes) {
      const { body } = await server.ask(`/templates/${id}`)
      if (body.template.note !== note) missing.push(`${id} says "${body.template.note}", not "${note}"`)
    }
    for (const [id, document] of known.versions)
      if ((await server.ask(`/versions/${id}`)).body.document !== document) missing.push(`version ${id}`)
    for (const id of known.outputs)
      if ((await server.ask(`/outputs/${id}`)).status !== 200) missing.push(`output ${id}`)
    check(`kill ${kill + 1}: what was acknowledged is there`, missing.length === 0, missing.join('; '))
    // What was looked at often enough makes room for more.
    for (const id of [...known.sheets.keys()].slice(0, -10)) known.sheets.delete(id)
    for (const id of [...known.outputs].slice(0, -10)) known.outputs.delete(id)
  }
  for (const { id, state } of (await server.ask('/outputs')).body)
    if (state === 'running') await server.send('POST', `/outputs/${id}/stop`)
  await new Promise((done) => setTimeout(done, 3000))
  await server.end()
  const wrong = wrongWith(data)
  check('after all kills the folder is sound, without half files and strays', wrong.length === 0, wrong.join('; '))
  rmSync(data, { recursive: true, force: true })
  rmSync(`${data}-backup`, { recursive: true, force: true })
  return { acknowledged }
}
