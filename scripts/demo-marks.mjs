import { createHash } from 'node:crypto'
import { readFileSync, writeFileSync } from 'node:fs'
import { createCanvas } from '@napi-rs/canvas'

// The marks and pictures of Estuary Week, on nothing: whatever mount they are laid on shows between their shapes.
const side = 320
const night = '#12343b'
const teal = '#58a39b'
const amber = '#e3a24a'
const shell = '#f4ead5'

/** A wave across the picture, its middle at `y`. */
function wave(c, y, colour, height) {
  c.strokeStyle = colour
  c.beginPath()
  for (let x = 50; x <= 270; x += 2) c.lineTo(x, y - height * Math.sin(((x - 50) / 220) * 6 * Math.PI))
  c.stroke()
}

const marks = {
  vado(c) {
    c.fillStyle = teal
    c.beginPath()
    c.moveTo(66, 254)
    c.bezierCurveTo(40, 120, 150, 66, 258, 64)
    c.bezierCurveTo(266, 190, 190, 272, 66, 254)
    c.fill()
    c.strokeStyle = shell
    c.lineWidth = 11
    c.lineCap = 'round'
    c.beginPath()
    c.moveTo(76, 246)
    c.bezierCurveTo(110, 196, 156, 152, 206, 122)
    c.stroke()
  },
  lamp(c) {
    for (const [from, to] of [
      [118, 22],
      [202, 298],
    ]) {
      // The light is gone before the picture ends.
      const beam = c.createLinearGradient(from, 0, to, 0)
      beam.addColorStop(0, `${amber}ff`)
      beam.addColorStop(1, `${amber}00`)
      c.fillStyle = beam
      c.beginPath()
      c.moveTo(from, 92)
      c.lineTo(to, 52)
      c.lineTo(to, 156)
      c.lineTo(from, 118)
      c.fill()
    }
    c.fillStyle = night
    c.beginPath()
    c.roundRect(126, 64, 68, 72, 10)
    c.fill()
    c.beginPath()
    c.moveTo(132, 146)
    c.lineTo(188, 146)
    c.lineTo(194, 188)
    c.lineTo(126, 188)
    c.fill()
    c.beginPath()
    c.moveTo(122, 208)
    c.lineTo(198, 208)
    c.lineTo(208, 270)
    c.lineTo(112, 270)
    c.fill()
  },
  mill(c) {
    c.translate(160, 160)
    c.strokeStyle = night
    c.fillStyle = night
    c.lineWidth = 16
    c.beginPath()
    c.arc(0, 0, 84, 0, 2 * Math.PI)
    c.stroke()
    for (let i = 0; i < 8; i++) {
      c.rotate(Math.PI / 4)
      c.fillRect(-6, -84, 12, 84)
      c.beginPath()
      c.roundRect(-17, -120, 34, 44, 8)
      c.fill()
    }
    c.fillStyle = amber
    c.beginPath()
    c.arc(0, 0, 34, 0, 2 * Math.PI)
    c.fill()
  },
  reef(c) {
    c.lineWidth = 18
    c.lineCap = 'round'
    c.lineJoin = 'round'
    for (const [y, colour] of [
      [104, teal],
      [162, night],
      [220, amber],
    ])
      wave(c, y, colour, 15)
  },
  eel(c) {
    c.strokeStyle = night
    c.lineWidth = 38
    c.lineCap = 'round'
    c.lineJoin = 'round'
    c.beginPath()
    c.moveTo(62, 206)
    c.bezierCurveTo(80, 96, 132, 92, 152, 158)
    c.bezierCurveTo(174, 236, 236, 236, 252, 116)
    c.stroke()
    c.fillStyle = amber
    c.beginPath()
    c.arc(252, 114, 10, 0, 2 * Math.PI)
    c.fill()
  },
  gull(c) {
    c.lineCap = 'round'
    c.lineJoin = 'round'
    c.strokeStyle = night
    c.lineWidth = 20
    c.beginPath()
    c.moveTo(52, 150)
    c.bezierCurveTo(84, 92, 138, 100, 160, 148)
    c.bezierCurveTo(182, 100, 236, 92, 268, 150)
    c.stroke()
    c.lineWidth = 14
    wave(c, 222, teal, 10)
    wave(c, 258, teal, 10)
  },
}

for (const [template, names] of Object.entries({
  speaker: Object.keys(marks),
  'speaker-rtl': ['vado', 'lamp'],
  species: ['eel', 'gull'],
})) {
  const path = `demo/templates/${template}/template.json`
  let text = readFileSync(path, 'utf8')
  const document = JSON.parse(text)
  for (const name of names) {
    const canvas = createCanvas(side, side)
    const context = canvas.getContext('2d')
    marks[name](context)
    const bytes = canvas.toBuffer('image/png')
    const entry = document.media.find((one) => one.name === `${name}.png`)
    writeFileSync(`demo/templates/${template}/${entry.file}`, bytes)
    text = text.replace(entry.sha256, createHash('sha256').update(bytes).digest('hex'))
  }
  writeFileSync(path, text)
}
