import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { runsOf } from '@hoja/core/output'
import { codings } from '../server/dist/render/movie/codings.js'
import { tagged, toYuv } from '../server/dist/render/movie/colours.js'
import { writeMovie } from '../server/dist/render/movie/write.js'
import { pictureCoder } from '../server/dist/render/pictures/coder.js'
import { movieOf, planTitle } from '../server/dist/render/plan.js'
import { Raster } from '../server/dist/render/raster.js'
import { encoderAlone, sideBySide, speakerScene, synced } from './kit.mjs'

/** Every format that post houses ask for against its encoder alone, and commands as whole processes. */
/** Every picture of a planned title. */
const all = (plan) => Array.from({ length: plan.pictures }, (_, i) => plan.list(i))

export async function benchDelivered() {
  const scene = await speakerScene()
  const { width, height } = scene.template.frame
  const raster = new Raster()
  const folder = mkdtempSync(join(tmpdir(), 'hoja-bench-'))
  let files = 0
  const file = (end) => join(folder, `${files++}${end}`)
  let row = 0
  const movie = (frames) => {
    const name = `Maren Oduya ${String(row++).padStart(3, '0')}`
    return movieOf(planTitle(scene, scene.layout({ name }), scene.timing(scene.layout({}), frames)), raster, scene)
  }
  const whole = { x: 0, y: 0, width, height }
  const plan = planTitle(scene, scene.layout({ name: 'Maren Oduya 999' }), scene.timing(scene.layout({})))
  const pictures = all(plan).map((list) => Buffer.from(raster.draw(list, whole)))
  const deep = all(plan).map((list) => Buffer.from(raster.drawDeep(list, whole).buffer))
  /** Pictures as an encoder of movies over time needs them: each run once. */
  const runs = runsOf(plan.frames).map(({ picture }) => pictures[picture])

  const alone = (frames, bits, args, path) => encoderAlone({ width, height }, frames, bits, args, path)
  /** A sequence's pictures, coded and written in one file. */
  const sequence = (format) => {
    const own = movie(125)
    const code = pictureCoder(format, own, undefined)
    const path = file('.pictures')
    writeFileSync(path, Buffer.concat(Array.from({ length: own.pictures }, (_, i) => code(i))))
    synced(path)
  }
  const coded = ({ by: { filter, args } }) => ['-vf', filter, ...args]
  const backdrop = { kind: 'colour', colour: '#204050' }
  const movies = {
    prores422: ['.mov', 16, coded(codings.prores422)],
    dnxhr: ['.mov', 16, coded(codings.dnxhr)],
    dnxhr444: ['.mov', 16, coded(codings.dnxhr444)],
    cineform: ['.mov', 16, coded(codings.cineform)],
    utvideo: ['.avi', 8, coded(codings.utvideo)],
  }
  const sequences = {
    png16: ['.png', 16, ['-c:v', 'png', '-pred', 'mixed']],
    tiff: ['.tif', 8, ['-c:v', 'tiff', '-compression_algo', 'deflate']],
    tiff16: ['.tif', 16, ['-c:v', 'tiff', '-compression_algo', 'deflate']],
    tga: ['.tga', 8, ['-pix_fmt', 'bgra', '-c:v', 'targa']],
    exr: ['.exr', 16, ['-pix_fmt', 'gbrapf32le', '-c:v', 'exr', '-format', 'half', '-compression', 'zip16']],
  }
  const works = {}
  for (const [format, [end, bits, args]] of Object.entries(movies)) {
    works[format] = () => writeMovie(format, movie(125), [file(end)], { backdrop })
    works[`${format} alone`] = () => alone(bits === 16 ? deep : pictures, bits, args, file(end))
  }
  for (const [format, [end, bits, args]] of Object.entries(sequences)) {
    works[format] = () => sequence(format)
    works[`${format} alone`] = () => alone(bits === 16 ? deep : pictures, bits, args, file(`_%03d${end}`))
  }
  const webp = ['-pix_fmt', 'bgra', '-c:v', 'libwebp_anim', '-lossless', '1', '-compression_level', '4', '-loop', '0']
  works.webp = () => writeMovie('webp', movie(125), [file('.webp')], {})
  works['webp alone'] = () => alone(runs, 8, webp, file('.webp'))
  const times = await sideBySide(works, 5, 1)

  const x264 = ['-vf', toYuv('yuv420p'), '-c:v', 'libx264', '-crf', '16', '-preset', 'fast', ...tagged]
  const vp9 = `-vf ${toYuv('yuva420p')} -c:v libvpx-vp9 -auto-alt-ref 0 -lag-in-frames 0 -crf 12 -b:v 0 -deadline good -cpu-used 4`
  const together = await sideBySide(
    {
      mp4: () => writeMovie('mp4', movie(125), [file('.mp4')], {}),
      'mp4 alone': () => alone(runs, 8, x264, file('.mp4')),
      'mp4 62 s': () => writeMovie('mp4', movie(1550), [file('.mp4')], {}),
      webm: () => writeMovie('webm', movie(125), [file('.webm')], {}),
      'webm alone': () => alone(runs, 8, vp9.split(' '), file('.webm')),
    },
    3,
    0,
  )

  const cli = new URL('../server/dist/app/cli.js', import.meta.url).pathname
  const call = (...args) => execFileSync('node', [cli, ...args], { stdio: 'ignore' })
  const speaker = new URL('../demo/templates/speaker', import.meta.url).pathname
  const data = join(folder, 'one.csv')
  writeFileSync(data, 'name,role\nMaren Oduya,Pilot\n')
  const render = (format, frames) => () =>
    call('render', speaker, data, '--format', format, '--frames', frames, '--out', file('out'))
  const processes = await sideBySide(
    {
      node: () => execFileSync('node', ['-e', '0']),
      help: () => call('--help'),
      measure: () => call('measure', speaker, data),
      render: render('png', '5s'),
      'png 4 s': render('png', '4s'),
      'png 62 s': render('png', '62s'),
      'mov 4 s': render('mov', '4s'),
      'mov 62 s': render('mov', '62s'),
      'mp4 4 s': render('mp4', '4s'),
      'mp4 62 s': render('mp4', '62s'),
    },
    5,
    1,
  )
  rmSync(folder, { recursive: true, force: true })
  const ms = ({ median, least }) => `${median.toFixed(0)} ms (least ${least.toFixed(0)})`
  const ratio = (a, b) => ({ median: a.median / b.median, least: a.least / b.least })
  const pairs = [...Object.keys(movies), ...Object.keys(sequences), 'webp']
  return {
    name: 'Delivered: a 1920x1080, 25 fps title of 5 s, 16 pictures differ',
    figures: [
      ...pairs.map((format) => `${format}: ${ms(times[format])}, its encoder alone ${ms(times[`${format} alone`])}`),
      ...['mp4', 'webm'].map(
        (format) =>
          `${format}: ${ms(together[format])}, its encoder alone with the ${runs.length} runs ${ms(together[`${format} alone`])}`,
      ),
      `mp4 of 62 s: ${ms(together['mp4 62 s'])}`,
      ...Object.entries(processes).map(([name, time]) => `process ${name}: ${ms(time)}`),
    ],
    ratios: [
      ...pairs.map((format) => ({
        claim: `of the encoder alone, ${format}`,
        want: 1.25,
        ...ratio(times[format], times[`${format} alone`]),
        atLeast: false,
      })),
      ...['mp4', 'webm'].map((format) => ({
        claim: `of the encoder alone, fed with each run once, ${format}`,
        want: 1.25,
        ...ratio(together[format], together[`${format} alone`]),
        atLeast: false,
      })),
      ...['png', 'mov', 'mp4'].map((format) => ({
        claim: `of 4 s for 62 s as whole processes, ${format}`,
        want: 1.5,
        ...ratio(processes[`${format} 62 s`], processes[`${format} 4 s`]),
        atLeast: false,
      })),
      { claim: 'of a start of Node, --help', want: 2, ...ratio(processes.help, processes.node), atLeast: false },
    ],
  }
}
