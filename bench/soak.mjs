import { readdirSync, readFileSync } from 'node:fs'
import { strToU8, unzipSync, zipSync } from 'fflate'
import { memoryOf } from '../attack/server.mjs'
import { withServer } from './kit.mjs'

const [fonts, packages, drafts, pictures] = [2000, 500, 2000, 5000]

/** A picture of its own, small, by another pixel. */
function pictureOf(good, n) {
  const out = Buffer.from(good)
  // A text chunk before the end (PNG, 11.3.3), which the picture does not show: other bytes, another file.
  const text = Buffer.alloc(12 + 12)
  text.writeUInt32BE(12, 0)
  text.write(`tEXtn\0${String(n).padStart(10, '0')}`, 4, 'latin1')
  text.writeUInt32BE(crc(text.subarray(4, 20)), 20)
  return Buffer.concat([out.subarray(0, out.length - 12), text, out.subarray(out.length - 12)])
}
const table = Uint32Array.from({ length: 256 }, (_, n) => {
  let c = n
  for (let k = 0; k < 8; k++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1
  return c >>> 0
})
const crc = (data) => ~data.reduce((c, byte) => table[(c ^ byte) & 255] ^ (c >>> 8), 0xffffffff) >>> 0

/** Whether the server holds in the end what it held after the first tenth, whatever came in. */
export function benchSoak() {
  return withServer(async ({ base, ask, post, pid }) => {
    const folder = 'demo/templates/speaker/fonts'
    const names = readdirSync(folder).filter((name) => name.endsWith('.ttf'))
    const font = readFileSync(`${folder}/${names[0]}`)
    const picture = readFileSync('demo/templates/speaker/media/mill.png')
    const pack = new Uint8Array(await (await fetch(`${base}/api/templates/place/package`)).arrayBuffer())
    const upload = async (path, name, bytes) => {
      const form = new FormData()
      form.append('file', new Blob([bytes]), name)
      const response = await fetch(`${base}/api${path}`, { method: 'POST', body: form })
      if (!response.ok) throw new Error(`${path}: ${await response.text()}`)
      return response.json()
    }
    const made = await post('/templates/talk/duplicate', {})
    let draft = await ask(`/templates/${made.id}`)
    const files = unzipSync(pack)
    const document = JSON.parse(new TextDecoder().decode(files['template.json']))
    const works = {
      fonts: [
        fonts,
        (n) => upload('/assets', `f${n}.ttf`, Buffer.concat([font, Buffer.from(`${n}`.padStart(8, '0'))])),
      ],
      packages: [
        packages,
        async (n) => {
          const own = { ...files, 'template.json': strToU8(JSON.stringify({ ...document, note: `number ${n}` })) }
          const { id } = await upload('/templates/import', 'a.hoja', zipSync(own, { level: 0 }))
          await fetch(`${base}/api/templates/${id}`, { method: 'DELETE' })
        },
      ],
      drafts: [
        drafts,
        async (n) => {
          const response = await fetch(`${base}/api/templates/${made.id}`, {
            method: 'PUT',
            headers: { 'Content-Type': 'application/json' },
            body: JSON.stringify({ revision: draft.revision, template: { ...draft.template, note: `number ${n}` } }),
          })
          draft = { ...draft, revision: (await response.json()).revision }
        },
      ],
      pictures: [pictures, (n) => upload('/assets', `p${n}.png`, pictureOf(picture, n))],
    }
    const figures = []
    const ratios = []
    for (const [name, [count, work]] of Object.entries(works)) {
      let first
      const start = performance.now()
      for (let n = 0; n < count; n++) {
        await work(n)
        if (n === count / 10) first = await settled(pid)
      }
      const last = await settled(pid)
      const took = ((performance.now() - start) / count).toFixed(1)
      figures.push(
        `${count} ${name}: ${first.own.toFixed(0)} MB after the first tenth, ${last.own.toFixed(0)} MB in the end; with all processes ${first.all.toFixed(0)} and ${last.all.toFixed(0)} MB; ${took} ms each`,
      )
      ratios.push({
        claim: `times what the server held after the first tenth of the ${name}`,
        want: 1.1,
        median: last.own / first.own,
        least: last.own / first.own,
      })
      ratios.push({
        claim: `times what all of its processes held then (${name})`,
        want: 1.1,
        median: last.all / first.all,
        least: last.all / first.all,
      })
    }
    return { name: 'a soak: what is held after much came in', figures, ratios }
  })
}

/** The least that was held in a second: garbage comes and goes. */
async function settled(pid) {
  const seen = []
  for (let n = 0; n < 10; n++) {
    await new Promise((done) => setTimeout(done, 100))
    seen.push(memoryOf(pid))
  }
  return { own: Math.min(...seen.map(({ own }) => own)), all: Math.min(...seen.map(({ all }) => all)) }
}
