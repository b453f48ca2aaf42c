import { readFileSync } from 'node:fs'
import { chromium } from '@playwright/test'
import { chromiumArguments, sideBySide, speakerScene } from './kit.mjs'

/** Shape + fit + solve of one row against bare `measureText` of the same strings in Chromium. */
export async function benchSettle() {
  const scene = await speakerScene()
  const count = 400
  const values = (round, i) => ({ name: `Maximiliana Theodora ${round} ${i}`, role: `Head of sediment and tidal-flat ${round} ${i}` })
  const browser = await chromium.launch({ executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium', args: chromiumArguments })
  const page = await browser.newPage()
  const fonts = scene.template.fonts.slice(0, 2).map((font) => readFileSync(`demo/templates/speaker/${font.file}`).toString('base64'))
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
      ([r, n]) => {
        const context = window.bench
        const start = performance.now()
        for (let i = 0; i < n; i++) {
          context.font = '78px bench0'
          context.measureText(`Maximiliana Theodora ${r} ${i}`)
          context.font = '43px bench1'
          context.measureText(`Head of sediment and tidal-flat ${r} ${i}`)
        }
        return performance.now() - start
      },
      [round, count],
    )
    if (round >= 0) inPage.push(spent)
  }
  const settle = (round) => {
    for (let i = 0; i < count; i++) scene.settle(values(round, i))
  }
  const times = await sideBySide({ settle, measureText }, 30, 5)
  await browser.close()
  inPage.sort((a, b) => a - b)
  const reference = { least: inPage[0], median: inPage[Math.floor(inPage.length / 2)] }
  const us = (ms) => ((ms / count) * 1000).toFixed(0)
  return {
    name: 'Shape, fit and solve of one row',
    figures: [`a row: ${us(times.settle.median)} µs (least ${us(times.settle.least)})`, `two measureText calls in Chromium: ${us(reference.median)} µs (least ${us(reference.least)})`],
    ratios: [{ claim: "times bare measureText of the row's strings", want: 4, median: times.settle.median / reference.median, least: times.settle.least / reference.least, atLeast: false }],
  }
}
