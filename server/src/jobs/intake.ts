import { basename } from 'node:path'
import {
  apngFrames,
  type FontInstead,
  missingFonts,
  readDocument,
  readImageHeader,
  readPackage,
  readSoundHeader,
  type TemplatePackage,
  unzipPackage,
  unzipped,
} from '@hoja/core/formats'
import { limits, most } from '@hoja/core/limits'
import { Refusal } from '@hoja/core/refusal'
import { carriedBy, type FontFile } from '@hoja/core/template'
import { Font, fontFacts } from '@hoja/core/text'
import type { Rate } from '@hoja/core/time'
import { plainFont } from '../fontFile.ts'
import { readFolder } from '../packageFolder.ts'
import { releasePixels } from '../render/memory.ts'
import { aboutOf } from '../store/about.ts'
import type { Asset } from '../store/assets.ts'
import { FileStore, isFolder, readRegular } from '../store/files.ts'
import type { Brought, Results, Stand } from './tasks.ts'
import { demandWholePicture } from './wholePicture.ts'

const soundTypes = { wav: 'audio/wav', mp3: 'audio/mpeg', ogg: 'audio/ogg' }

/** @throws Refusal for what is no font */
function fontOf(bytes: Uint8Array, name: string) {
  const { family, style } = new Font(bytes, name)
  return { kind: 'font' as const, family, style }
}

/** @throws Refusal for what is no picture, or not a whole one: a header can lie, so it is decoded */
async function pictureOf(bytes: Uint8Array, name: string) {
  const { kind, width, height } = readImageHeader(bytes, name)
  demandWholePicture(bytes, kind, name)
  const { decodePicture } = await import('../render/raster.ts')
  await decodePicture(bytes, name, name)
  return { kind: 'picture' as const, width, height, type: `image/${kind}` }
}

function soundOf(bytes: Uint8Array, name: string) {
  const { kind, seconds } = readSoundHeader(bytes, name)
  return { kind: 'sound' as const, seconds, type: soundTypes[kind] }
}

/** A movie by now: an animated PNG of whole frames. */
function framesOf(bytes: Uint8Array, name: string, rate: Rate) {
  const { width, height, frames } = apngFrames(bytes, name)
  return { kind: 'picture' as const, width, height, type: 'image/apng', movie: { frames: frames.length, rate } }
}

/** Takes in what somebody brought: what is whole and what it says it is lies in the store afterwards, by its SHA-256. */
export class Intake {
  private readonly store: FileStore

  constructor(files: string) {
    this.store = new FileStore(files)
  }

  private kept(bytes: Uint8Array, name: string, info: object): Asset {
    return { ...info, sha256: this.store.put(bytes), name, size: bytes.length } as Asset
  }

  async font(file: Brought): Promise<Asset> {
    const { bytes, name } = await plainFont(readRegular(file.path), file.name)
    return this.kept(bytes, name, fontOf(bytes, name))
  }

  /** What a font of the store says of itself. */
  fontFacts(sha256: string): Results['fontFacts'] {
    return fontFacts(this.store.get(sha256))
  }

  sound({ path, name }: Brought): Asset {
    const bytes = readRegular(path)
    return this.kept(bytes, name, soundOf(bytes, name))
  }

  async picture({ path, name }: Brought): Promise<Asset> {
    const bytes = readRegular(path)
    const asset = this.kept(bytes, name, await pictureOf(bytes, name))
    await releasePixels()
    return asset
  }

  async movie({ path, name }: Brought): Promise<Asset> {
    const { decodeMovie } = await import('../render/movieIn.ts')
    const { bytes, rate } = await decodeMovie(path, name)
    return this.kept(bytes, name, framesOf(bytes, name, rate))
  }

  async footage({ path, name }: Brought): Promise<Results['takeFootage']> {
    const { probeFootage } = await import('../render/footage.ts')
    const footage = await probeFootage(path, name)
    return { ...(await this.store.take(path)), footage }
  }

  /** A zip of pictures in the order of their names, as a movie of them: nothing of them is coded anew. */
  async sequence({ path, name }: Brought, rate: Rate): Promise<Results['takeSequence']> {
    const { writeSequenceMovie } = await import('../render/sequenceIn.ts')
    const { probeFootage } = await import('../render/footage.ts')
    const movie = await writeSequenceMovie(picturesIn(readRegular(path), name), name, rate, `${path}.mkv`)
    const footage = await probeFootage(movie, name)
    return { ...(await this.store.take(movie)), footage }
  }

  /** One picture, or a zip of them; what can't be read is told, and the others are kept. */
  async pictures({ path, name }: Brought): Promise<Results['takePictures']> {
    const bytes = readRegular(path)
    const isZip = bytes[0] === 0x50 && bytes[1] === 0x4b
    const files = isZip ? picturesIn(bytes, name) : new Map([[name, bytes as Uint8Array]])
    if (files.size === 0) throw new Refusal('zip.empty', `"${name}" holds no pictures; use png, jpg or webp.`)
    const added: Asset[] = []
    const failed: string[] = []
    for (const [own, data] of files)
      try {
        added.push(this.kept(data, basename(own), await pictureOf(data, basename(own))))
        await releasePixels()
      } catch (error) {
        if (!(error instanceof Refusal)) throw error
        failed.push(error.message)
      }
    return { added, failed }
  }

  /** A package's template and all that it carries; of fonts that it lacks, only which. */
  async package(file: Brought, instead: Record<string, Stand>): Promise<Results['takePackage']> {
    const { pack, missing } = await this.opened(file, instead)
    if (!pack) return { missing }
    const assets = carriedBy(pack.template).map((entry) => {
      const bytes = pack.files[entry.file]!
      const name = basename(entry.file)
      if ('movie' in entry && entry.movie) return this.kept(bytes, name, framesOf(bytes, name, entry.movie.rate))
      if (/\.(ttf|otf)$/i.test(name)) return this.kept(bytes, name, fontOf(bytes, name))
      if (/\.(wav|mp3|ogg|oga|opus)$/i.test(name)) return this.kept(bytes, name, soundOf(bytes, name))
      const { kind, width, height } = readImageHeader(bytes, name)
      return this.kept(bytes, name, { kind: 'picture', width, height, type: `image/${kind}` })
    })
    return { draft: { text: JSON.stringify(pack.template), about: aboutOf(pack.template) }, assets }
  }

  /** A `.hoja` file or its folder, every picture in it decoded. @throws Refusal */
  async opened(
    { path, name }: Brought,
    instead: Record<string, Stand>,
  ): Promise<{ pack: TemplatePackage; missing?: never } | { missing: FontFile[]; pack?: never }> {
    const files = isFolder(path) ? readFolder(path) : unzipPackage(readRegular(path), name)
    const missing = missingFonts(readDocument(files, name), files).filter((font) => !Object.hasOwn(instead, font.id))
    if (missing.length > 0) return { missing }
    const fonts = Object.entries(instead).map(([id, { sha256, name: file }]): [string, FontInstead] => [
      id,
      { file: `fonts/${basename(file)}`, bytes: this.store.get(sha256) },
    ])
    const pack = await readPackage(files, name, Object.fromEntries(fonts))
    for (const { file, ...media } of pack.template.media) if (!media.movie) await pictureOf(pack.files[file]!, file)
    return { pack }
  }
}

const isPicture = (name: string) => /\.(png|jpe?g|webp)$/i.test(name)

/** The pictures in a zip. @throws Refusal */
function picturesIn(bytes: Uint8Array, name: string): Map<string, Uint8Array> {
  return unzipped(bytes, {
    bytes: limits.picturesBytes.most,
    files: limits.picturesFiles.most,
    tooMuch: () =>
      new Refusal(
        'zip.large',
        `"${name}" holds more than ${most('picturesBytes')} or ${limits.picturesFiles.most} pictures; send it in parts.`,
        413,
      ),
    broken: () => new Refusal('zip', `"${name}" is not a zip, or a damaged one; make it again and send that.`),
    wanted: (path) => isPicture(path) && !path.startsWith('__MACOSX/') && !basename(path).startsWith('.'),
  })
}
