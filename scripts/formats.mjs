import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { installPackages, installPrograms, root, run } from './setup.mjs'

// The table of formats: what ffprobe reads of each, and how far its frames are from the raster, measured on the demo.
installPackages()
installPrograms(['ffmpeg', 'webpmux'])
run('node', ['scripts/build.mjs', '--no-web'])
const { formatIds, outputFormats, templateFor } = await import('../core/dist/output/index.js')
const { Scene } = await import('../core/dist/scene/index.js')
const { openPackage } = await import('../server/dist/packageFolder.js')
const { loadAssets } = await import('../server/dist/render/assets.js')
const { fromLinear } = await import('../server/dist/render/decoded.js')
const { writeMovie } = await import('../server/dist/render/movie/write.js')
const { webpOf } = await import('../server/dist/render/movie/webp.js')
const { pictureCoder } = await import('../server/dist/render/pictures/coder.js')
const { Raster } = await import('../server/dist/render/raster.js')
const { framePng } = await import('../server/dist/render/still.js')
const { movieOf, planTitle } = await import('../server/dist/render/plan.js')

const size = { width: 1280, height: 720 }
const opened = await openPackage(`${root}/demo/templates/speaker`)
const template = templateFor({ size }, opened.template)
const scene = new Scene(template, await loadAssets(template, (entry) => opened.files[entry.file]))
const raster = new Raster()
const plan = planTitle(scene, scene.layout(template.poster.values), scene.timing(40))
const movie = movieOf(plan, raster, scene)
const folder = mkdtempSync(join(tmpdir(), 'hoja-formats-'))
const pixels = size.width * size.height * 4

/** A frame in its place, as the raster gives it. */
function whole(frame) {
  const out = Buffer.alloc(pixels)
  const { region } = movie
  const rgba = movie.draw(movie.frames[frame])
  for (let y = 0; y < region.height; y++)
    out.set(
      rgba.subarray(y * region.width * 4, (y + 1) * region.width * 4),
      ((region.y + y) * size.width + region.x) * 4,
    )
  return out
}
/** Frames of the move and of the hold. */
const looked = [4, 9, 14, 20]
const still = 15

const asRgb =
  'scale=in_color_matrix=bt709:in_range=tv:out_range=pc:flags=accurate_rnd+full_chroma_int+full_chroma_inp+bicubic'
function decoded(file, frame, format) {
  const yuv = [
    'mov',
    'pair',
    'prores422',
    'prores422-mxf',
    'dnxhr',
    'dnxhr-mxf',
    'dnxhr444',
    'dnxhr444-mxf',
    'webm',
    'mp4',
  ]
  const decoder = file.endsWith('.webm') ? ['-c:v', 'libvpx-vp9'] : []
  const filters = [
    `select=eq(n\\,${frame})`,
    ...(yuv.includes(format) ? [asRgb] : format === 'exr' ? [fromLinear] : []),
  ]
  return execFileSync(
    'ffmpeg',
    [
      '-v',
      'error',
      ...decoder,
      '-i',
      file,
      '-vf',
      filters.join(','),
      '-frames:v',
      '1',
      '-f',
      'rawvideo',
      '-pix_fmt',
      'rgba',
      '-',
    ],
    { maxBuffer: 1 << 28 },
  )
}

/** How far a format's frames are from the raster: where they are seen, by as much as they are. */
function errors(format, file, frames, at = (frame) => frame) {
  const { alpha } = outputFormats[format]
  let [worst, sum, count, worstAlpha] = [0, 0, 0, 0]
  for (const frame of frames) {
    const want = whole(frame)
    const got = decoded(file(frame), at(frame), format)
    if (got.length !== pixels) throw new Error(`${format}: frame ${frame} could not be decoded`)
    for (let i = 0; i < pixels; i += 4) {
      const a = want[i + 3]
      if (alpha !== 'none' && format !== 'pair') worstAlpha = Math.max(worstAlpha, Math.abs(got[i + 3] - a))
      if (a === 0) continue
      for (let c = 0; c < 3; c++) {
        const seen = want[i + c] * a
        const off = alpha === 'none' ? got[i + c] - seen / 255 : ((got[i + c] - want[i + c]) * a) / 255
        worst = Math.max(worst, Math.abs(off))
        sum += off * off
        count++
      }
    }
  }
  const psnr = sum === 0 ? Number.POSITIVE_INFINITY : 10 * Math.log10(255 ** 2 / (sum / count))
  return { worst, psnr, worstAlpha }
}

const rows = []
for (const format of formatIds) {
  const facts = outputFormats[format]
  const ending = facts.endings[0]
  let file = join(folder, `${format}${ending}`)
  let measured
  if (facts.still) {
    const bytes = await {
      still: () => framePng(plan.lists[plan.frames[still]], raster),
      'still-tiff': () => pictureCoder('tiff', movie, undefined)(movie.frames[still]),
      'still-webp': () =>
        webpOf({ ...movie, region: { x: 0, y: 0, ...size }, draw: () => new Uint8ClampedArray(whole(still)) }),
      svg: () => undefined,
    }[format]()
    if (bytes) {
      writeFileSync(file, bytes)
      measured = errors(
        format,
        () => file,
        [still],
        () => 0,
      )
    }
  } else if (facts.pictures) {
    const code = pictureCoder(format, movie, undefined)
    const path = (frame) => join(folder, `${format}-${frame}${facts.pictures}`)
    for (const frame of looked) writeFileSync(path(frame), code(movie.frames[frame]))
    file = path(looked[0])
    measured = errors(format, path, looked, () => 0)
  } else if (!['apng', 'webp', 'gif'].includes(format)) {
    const paths = facts.endings.map((end) => join(folder, `${format}${end}`))
    await writeMovie(format, movie, paths, { timecode: '10:00:00:00' })
    file = paths[0]
    measured = format === 'pair' ? undefined : errors(format, () => file, looked)
  } else if (format !== 'apng') await writeMovie(format, movie, [file], {})
  let stream = {}
  if (!['svg', 'apng', 'webp'].includes(format))
    [stream] = JSON.parse(
      execFileSync('ffprobe', ['-v', 'error', '-select_streams', 'v', '-show_streams', '-of', 'json', file], {
        encoding: 'utf8',
      }),
    ).streams
  const tag = stream.codec_tag_string && !/^\[0\]/.test(stream.codec_tag_string) ? ` (${stream.codec_tag_string})` : ''
  const said = (value) => value && value !== 'unknown'
  const colours = [stream.color_space, stream.color_primaries, stream.color_transfer]
  const tags =
    said(stream.color_space) || said(stream.color_primaries)
      ? colours.map((one) => (said(one) ? one : '-')).join(' / ')
      : '-'
  const alphaWords = {
    none: 'none',
    straight: 'straight',
    either: 'straight or premultiplied',
    premultiplied: 'premultiplied',
    'on or off': 'clear or not',
  }
  const level = (value) => (value < 0.05 ? '0' : value.toFixed(1))
  rows.push([
    `\`${format}\``,
    facts.name,
    `${facts.pictures ?? facts.endings.join(', ')}`,
    stream.codec_name ? `${stream.codec_name}${tag}, ${stream.pix_fmt}` : '-',
    tags,
    alphaWords[facts.alpha],
    !measured
      ? '-'
      : measured.psnr === Number.POSITIVE_INFINITY
        ? 'none'
        : `${level(measured.worst)}, ${measured.psnr.toFixed(1)} dB`,
    !measured || facts.alpha === 'none' ? '-' : level(measured.worstAlpha),
  ])
}
rmSync(folder, { recursive: true, force: true })
const head = [
  'Format',
  'Is',
  'Files',
  'Codec and pixels',
  'Matrix / primaries / transfer',
  'Alpha',
  'Colour off by',
  'Alpha off by',
]
const line = (cells) => `| ${cells.join(' | ')} |`
const table = [line(head), line(head.map(() => '---')), ...rows.map(line)].join('\n')
const path = `${root}/docs/formats.md`
const page = readFileSync(path, 'utf8')
const [before, , after] = page.split(/^<!-- table.*-->$/m)
const mark = (what) => `<!-- table ${what}: written by npm run formats -->`
writeFileSync(path, `${before}${mark('begins')}\n\n${table}\n\n${mark('ends')}${after}`)
console.log(table)
