import { readFileSync } from 'node:fs'
import { chromium } from '@playwright/test'
import { chromiumLaunch } from '../scripts/chromium.mjs'
import { sideBySide, speakerScene } from './kit.mjs'

/** Shape + fit + solve of one row against bare `measureText` of the same strings in Chromium. */
export async function benchRow() {
  const scene = await speakerScene()
  const count = 400
  // Names and roles of as many characters as the demo's longest, no word of which came before: a browser remembers
  // the widths of words it has measured.
  const strings = Array.from({ length: 36 * count }, (_, n) => {
    const word = (length, salt) =>
      Array.from({ length }, (_, k) =>
        String.fromCharCode(97 + ((n * 7919 + salt * 104729 + k * k * 31 + Math.floor(n / 26 ** (k % 3))) % 26)),
      ).join('')
    return { name: `${word(11, 1)} ${word(8, 2)} ${word(11, 3)}`, role: `${word(8, 4)} ${word(12, 5)} ${word(10, 6)}` }
  })
  const row = (round, i) => strings[((round + 5) * count + i) % strings.length]
  const browser = await chromium.launch(chromiumLaunch)
  const page = await browser.newPage()
  const fonts = scene.template.fonts
    .slice(0, 2)
    .map((font) => readFileSync(`demo/templates/speaker/${font.file}`).toString('base64'))
  await page.evaluate(async (list) => {
    for (const [i, data] of list.entries()) {
      const face = new FontFace(`bench${i}`, `url(data:font/ttf;base64,${data})`)
      document.fonts.add(await face.load())
    }
    window.bench = document.createElement('canvas').getContext('2d')
  }, fonts)
  const inPage = []
  const measureText = async (round) => {
    const spent = await page.evaluate(
      (rows) => {
        const context = window.bench
        const start = performance.now()
        for (const { name, role } of rows) {
          context.font = '78px bench0'
          context.measureText(name)
          context.font = '43px bench1'
          context.measureText(role)
        }
        return performance.now() - start
      },
      Array.from({ length: count }, (_, i) => row(round, i)),
    )
    if (round >= 0) inPage.push(spent)
  }
  const layout = (round) => {
    for (let i = 0; i < count; i++) scene.layout(row(round, i))
  }
  const times = await sideBySide({ layout, measureText }, 30, 5)
  await browser.close()
  inPage.sort((a, b) => a - b)
  const reference = { least: inPage[0], median: inPage[Math.floor(inPage.length / 2)] }
  const us = (ms) => ((ms / count) * 1000).toFixed(0)
  return {
    name: 'Shape, fit and solve of one row',
    figures: [
      `a row: ${us(times.layout.median)} µs (least ${us(times.layout.least)})`,
      `two measureText calls in Chromium: ${us(reference.median)} µs (least ${us(reference.least)})`,
    ],
    ratios: [
      {
        claim: "times bare measureText of the row's strings",
        want: 4,
        median: times.layout.median / reference.median,
        least: times.layout.least / reference.least,
        atLeast: false,
      },
    ],
  }
}
