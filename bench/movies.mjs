import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { codings } from '../server/dist/render/movie/codings.js'
import { writeMovie } from '../server/dist/render/movie/write.js'
import { movieOf, planTitle } from '../server/dist/render/plan.js'
import { Raster } from '../server/dist/render/raster.js'
import { encoderAlone, sideBySide, speakerScene } from './kit.mjs'

/** Movies of one title against their encoder alone, fed with whole frames from memory; and what a longer hold costs. */
export async function benchMovies() {
  const scene = await speakerScene()
  const { width, height } = scene.template.frame
  const raster = new Raster()
  const folder = mkdtempSync(join(tmpdir(), 'hoja-bench-'))
  let files = 0
  /** A new one each time, as a row's is: writing over an old one costs more. */
  const file = (end) => join(folder, `${files++}.${end}`)
  let row = 0
  /** Planned anew each time, with another name of one length: nothing is kept from before. */
  const movie = (frames) => {
    const name = `Maren Oduya ${String(row++).padStart(3, '0')}`
    return movieOf(planTitle(scene, scene.layout({ name }), scene.timing(scene.layout({}), frames)), raster, scene)
  }
  const whole = { x: 0, y: 0, width, height }
  const sample = planTitle(scene, scene.layout({ name: 'Maren Oduya 999' }), scene.timing(scene.layout({})))
  const pictures = Array.from({ length: sample.pictures }, (_, i) => sample.list(i)).map((list) =>
    Buffer.from(raster.draw(list, whole)),
  )

  const alone = (frames, args, path) => encoderAlone({ width, height }, frames, 8, args, path)
  const coded = ({ by: { filter, args } }) => ['-vf', filter, ...args]
  const formats = {
    'mov-png': ['mov', ['-c:v', 'png', '-pix_fmt', 'rgba']],
    mov: ['mov', coded(codings.prores)],
    'mov-rle': ['mov', ['-vf', 'format=argb', '-c:v', 'qtrle', '-g', '1']],
    mkv: ['mkv', coded(codings.ffv1)],
  }
  const works = {}
  for (const [format, [end, args]] of Object.entries(formats)) {
    works[`${format} 5 s`] = () => writeMovie(format, movie(125), [file(end)], {})
    works[`${format} alone`] = () => alone(pictures, args, file(end))
    works[`${format} hold 2 s`] = () => writeMovie(format, movie(80), [file(end)], {})
    works[`${format} hold 60 s`] = () => writeMovie(format, movie(1530), [file(end)], {})
  }
  const times = await sideBySide(works, 11, 1)

  const long = movie(250)
  const all = long.frames.map((picture) => pictures[Math.min(picture, pictures.length - 1)])
  const bt709 = 'scale=out_range=tv:out_color_matrix=bt709'
  const piped = {
    webm: `-vf ${bt709},format=yuva420p -c:v libvpx-vp9 -auto-alt-ref 0 -lag-in-frames 0 -crf 12 -b:v 0 -deadline good -cpu-used 4`.split(
      ' ',
    ),
    mp4: `-vf ${bt709},format=yuv420p -c:v libx264 -crf 16 -preset fast`.split(' '),
  }
  const rest = await sideBySide(
    {
      ten: () => writeMovie('mov', movie(250), [file('mov')], {}),
      tenPiped: () => alone(all, formats.mov[1], file('mov')),
      webm: () => writeMovie('webm', movie(125), [file('webm')], {}),
      webmPiped: () => alone(all.slice(0, 125), piped.webm, file('webm')),
      mp4: () => writeMovie('mp4', movie(125), [file('mp4')], {}),
      mp4Piped: () => alone(all.slice(0, 125), piped.mp4, file('mp4')),
    },
    2,
    0,
  )
  rmSync(folder, { recursive: true, force: true })
  const ms = ({ median, least }) => `${median.toFixed(0)} ms (least ${least.toFixed(0)})`
  const ratio = (a, b) => ({ median: a.median / b.median, least: a.least / b.least })
  return {
    name: 'Movies of a 1920x1080, 25 fps title, 16 pictures differ',
    figures: [
      ...Object.keys(formats).map(
        (format) =>
          `${format}: 5 s ${ms(times[`${format} 5 s`])}, its encoder alone with the 16 pictures ${ms(times[`${format} alone`])}, held 2 s ${ms(times[`${format} hold 2 s`])}, 60 s ${ms(times[`${format} hold 60 s`])}`,
      ),
      `ProRes 10 s: ${ms(rest.ten)}, all 250 frames piped ${ms(rest.tenPiped)}`,
      `WebM 5 s: ${ms(rest.webm)}, all 125 frames piped ${ms(rest.webmPiped)}`,
      `MP4 5 s: ${ms(rest.mp4)}, all 125 frames piped ${ms(rest.mp4Piped)}`,
    ],
    ratios: [
      ...Object.keys(formats).flatMap((format) => [
        {
          claim: `of the encoder alone, ${format}`,
          want: 1.25,
          ...ratio(times[`${format} 5 s`], times[`${format} alone`]),
          atLeast: false,
        },
        {
          claim: `of a 2 s hold for a 60 s hold, ${format}`,
          want: 1.5,
          ...ratio(times[`${format} hold 60 s`], times[`${format} hold 2 s`]),
          atLeast: false,
        },
      ]),
      {
        claim: 'faster than piping all frames of 10 s, ProRes',
        want: 3,
        ...ratio(rest.tenPiped, rest.ten),
        atLeast: true,
      },
      {
        claim: 'faster than piping all frames of 5 s, WebM',
        want: 1,
        ...ratio(rest.webmPiped, rest.webm),
        atLeast: true,
      },
      { claim: 'faster than piping all frames of 5 s, MP4', want: 1, ...ratio(rest.mp4Piped, rest.mp4), atLeast: true },
    ],
  }
}
