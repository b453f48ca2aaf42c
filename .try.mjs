import { paint, Studio } from '@hoja/core/paint'
import { Scene } from '@hoja/core/scene'
import { readTemplate, tieOrder } from '@hoja/core/template'
import { Font } from '@hoja/core/text'
import { createCanvas, ImageData, loadImage, Path2D } from '@napi-rs/canvas'
import fs from 'fs'

const dir = 'demo/templates/speaker/'
const t = readTemplate(JSON.parse(fs.readFileSync(dir + 'template.json')))
console.log(tieOrder(t).ring)
const fonts = new Map(t.fonts.map((f) => [f.id, new Font(fs.readFileSync(dir + f.file), f.file)]))
const pics = new Map()
for (const m of t.media) {
  const i = await loadImage(dir + m.file)
  const c = createCanvas(i.width, i.height)
  c.getContext('2d').drawImage(i, 0, 0)
  pics.set(m.name, {
    id: m.sha256,
    width: i.width,
    height: i.height,
    rgba: c.getContext('2d').getImageData(0, 0, i.width, i.height).data,
  })
}
const scene = new Scene(t, { fonts, picture: (n) => pics.get(n) })
const studio = new Studio({
  surface: (w, h) => {
    const canvas = createCanvas(w, h)
    return { canvas, context: canvas.getContext('2d'), width: w, height: h }
  },
  path: (d) => new Path2D(d),
  image: (p) => {
    const c = createCanvas(p.width, p.height)
    const x = c.getContext('2d')
    x.putImageData(new ImageData(p.rgba, p.width, p.height), 0, 0)
    return c
  },
})
const out = createCanvas(1280, 1080)
const o = out.getContext('2d')
o.fillStyle = '#55696b'
o.fillRect(0, 0, 1280, 1080)
const rows = [
  {},
  {
    name: 'Maximiliana Theodora von Hollenstein',
    role: 'Head of sediment and tidal-flat restoration',
    mark: 'lamp.png',
  },
  { name: 'ليلى الساحلي', role: 'باحثة في المد والجزر', mark: 'mill.png' },
  { name: 'Ngọc Ánh Đặng', role: '', mark: 'eel.png' },
  { name: '海野 さくら 🦀', role: '潮汐研究員', mark: 'gull.png' },
]
let y = 0
const T = scene.timing()
const put = (v, f) => {
  const s = scene.settle(v)
  const list = scene.frame(s, T, f)
  const su = studio.surface(1920, 1080)
  paint(list, su, studio)
  o.drawImage(su.canvas, 0, 800, 1920, 280, (y % 2) * 640, Math.floor(y / 2) * 94, 640, 93)
  y++
}
for (const v of rows) put(v, 20)
for (const f of [1, 3, 5, 7, 9, 11, 13, 14, 110, 112, 116, 118, 121, 123, 124]) put(rows[0], f)
fs.writeFileSync('/tmp/demo/out.png', out.toBuffer('image/png'))
const s = scene.settle(rows[1])
console.log(
  s.blocks.filter(Boolean).map((b) => ({ text: b.text, fit: b.fit, missing: b.missing, size: b.size })),
  scene.region(s, T),
)
s.rest.order.parts.forEach((p, i) =>
  console.log(p.name, s.rest.start[0][i], s.rest.start[1][i], s.rest.size[0][i], s.rest.size[1][i]),
)
const t0 = performance.now()
for (let i = 0; i < 300; i++)
  scene.settle({ name: 'Maximiliana Theodora von Hollenstein' + (i % 97), role: 'Head of sediment and tidal-flat' + i })
console.log('settle us', ((performance.now() - t0) / 300) * 1000)
