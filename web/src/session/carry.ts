import type { Asset } from '@hoja/core/api'
import {
  artworkParts,
  layersIn,
  openRasterParts,
  type RasterLayer,
  readOpenRaster,
  readSvgArtwork,
  safeName,
} from '@hoja/core/formats'
import { allParts, type Change, carriedBy, freeId, type Part, type SoundFile, type Template } from '@hoja/core/template'
import { api } from '../api.ts'

/** What a file gives a template: changes to its fonts, pictures or sounds, or artwork as a part. */
export interface Carried {
  changes: Change[]
  part?: Part
  /** SHA-256 of a font that came in, or was there already. */
  font?: string
  /** Name of a picture that came in. */
  picture?: string
  /** What a person should know about how it came in. */
  note?: string
}

const idsOf = (template: Template) => carriedBy(template).map((entry) => entry.id)

/** The change that adds a stored font to a template. */
export function fontChange(template: Template, asset: Asset): Change {
  const known = template.fonts.some((font) => font.sha256 === asset.sha256)
  const font = {
    id: freeId(idsOf(template), 'font'),
    family: asset.family!,
    style: asset.style!,
    file: `fonts/${asset.name}`,
    sha256: asset.sha256,
  }
  return { kind: 'fonts', fonts: known ? template.fonts : [...template.fonts, font], fallbacks: template.fallbacks }
}

function pictureChange(template: Template, asset: Asset, name: string): Change {
  const fresh = {
    id: freeId(idsOf(template), 'picture'),
    name,
    // A movie is kept as its frames, under the name that people know it by.
    file: `media/${asset.movie ? name.replace(/\.[^.]*$/, '.apng') : name}`,
    sha256: asset.sha256,
    width: asset.width!,
    height: asset.height!,
    ...(asset.movie ? { movie: asset.movie } : {}),
  }
  return { kind: 'media', media: [...template.media.filter((m) => m.name !== name), fresh] }
}

/** A sound begins with In until somebody says otherwise. */
function soundChange(template: Template, asset: Asset, name: string): Change {
  const fresh: SoundFile = {
    id: freeId(idsOf(template), 'sound'),
    name,
    file: `sounds/${name}`,
    sha256: asset.sha256,
    seconds: asset.seconds!,
    span: 'in',
    at: 0,
    level: 0,
  }
  return { kind: 'sounds', sounds: [...template.sounds.filter((sound) => sound.name !== name), fresh] }
}

/** What came in as one change. */
export const broughtChange = ({ changes, part }: Carried): Change => ({
  kind: 'several',
  changes: part ? [...changes, { kind: 'addPart', part }] : changes,
})

/** Kinds of file that a template can carry, for a file picker. */
export const carriedKinds =
  '.ttf,.otf,.woff,.woff2,.png,.jpg,.jpeg,.webp,.svg,.ora,.wav,.mp3,.ogg,.oga,.opus,.mov,.mp4,.m4v,.webm,.mkv,.avi,.gif,.apng'

/**
 * Brings a font, a picture, a layered picture, a short movie, a sound or SVG artwork into a template. Artwork becomes
 * parts; what says more than parts can comes in as a picture, drawn at twice its size.
 * @throws Error in one sentence for a file that is none of these.
 */
export async function carryFile(template: Template, file: File): Promise<Carried> {
  if (/\.svg$/i.test(file.name)) return carryArtwork(template, file)
  if (/\.ora$/i.test(file.name)) return carryLayers(template, file)
  const asset = await api.addAsset({ file })
  if (asset.kind === 'font') return { changes: [fontChange(template, asset)], font: asset.sha256 }
  if (asset.kind === 'sound') return { changes: [soundChange(template, asset, file.name)] }
  return { changes: [pictureChange(template, asset, file.name)], picture: file.name }
}

async function carryArtwork(template: Template, file: File): Promise<Carried> {
  const text = await file.text()
  const artwork = readSvgArtwork(text, file.name)
  const name = file.name.replace(/\.svg$/i, '')
  const { beyond, leftOut } = artwork
  const cleaned = leftOut.length > 0 ? `${file.name} held ${leftOut.join(' and ')}, which was left out.` : ''
  if (beyond.length === 0) {
    const part = artworkParts(artwork, partId(template), name, { x: 200, y: 200 })
    return { changes: [], part, ...(cleaned ? { note: cleaned } : {}) }
  }
  const png = await drawnSvg(artwork.safe, artwork.width, artwork.height, file.name)
  const asset = await api.addAsset({ file: png })
  return {
    changes: [pictureChange(template, asset, png.name)],
    picture: png.name,
    note: `${cleaned} ${file.name} holds ${beyond.slice(0, 3).join(', ')}, more than parts can say, so it came in as a picture.`.trim(),
  }
}

/** A layered picture: each of its layers a picture of the template, all of them a group. */
async function carryLayers(template: Template, file: File): Promise<Carried> {
  const read = readOpenRaster(new Uint8Array(await file.arrayBuffer()), file.name)
  const name = file.name.replace(/\.ora$/i, '')
  const names = new Map<RasterLayer, string>()
  const changes: Change[] = []
  let media = template.media
  for (const layer of layersIn(read.nodes)) {
    const own = freeFile(`${name} ${layer.name}`, new Set(media.map((one) => one.name)))
    const asset = await api.addAsset({ file: new File([layer.png as BlobPart], own, { type: 'image/png' }) })
    const change = pictureChange({ ...template, media }, asset, own)
    if (change.kind === 'media') media = change.media
    names.set(layer, own)
  }
  changes.push({ kind: 'media', media })
  const part = openRasterParts(read, partId(template), name, { x: 0, y: 0 }, (layer) => names.get(layer)!)
  const { beyond } = read
  return {
    changes,
    part,
    ...(beyond.length > 0
      ? {
          note: `${file.name} says ${beyond.slice(0, 3).join(', ')}, which parts can't; those layers lie over the others.`,
        }
      : {}),
  }
}

const partId = (template: Template): string =>
  freeId(
    allParts(template.parts).map((part) => part.id),
    'artwork',
  )

function freeFile(stem: string, taken: ReadonlySet<string>): string {
  const plain = safeName(stem)
  for (let n = 1; ; n++) {
    const name = `${plain}${n === 1 ? '' : ` ${n}`}.png`
    if (!taken.has(name)) return name
  }
}

/** An SVG drawn as a PNG at twice its size. */
async function drawnSvg(text: string, width: number, height: number, name: string): Promise<File> {
  const url = URL.createObjectURL(new Blob([text], { type: 'image/svg+xml' }))
  try {
    const image = new Image()
    image.src = url
    await image.decode().catch(() => {
      throw new Error(`"${name}" could not be drawn; export it again as plain SVG or as a picture.`)
    })
    const k = Math.min(2, 4096 / Math.max(width, height))
    const canvas = document.createElement('canvas')
    Object.assign(canvas, { width: Math.max(1, Math.round(width * k)), height: Math.max(1, Math.round(height * k)) })
    canvas.getContext('2d')!.drawImage(image, 0, 0, canvas.width, canvas.height)
    const blob = await new Promise<Blob | null>((done) => canvas.toBlob(done, 'image/png'))
    return new File([blob!], name.replace(/\.svg$/i, '.png'), { type: 'image/png' })
  } finally {
    URL.revokeObjectURL(url)
  }
}
