import { strToU8, type Zippable, zipSync } from 'fflate'
import { fieldLine, writeCell } from '../data/index.ts'
import { limits, most } from '../limits/index.ts'
import { demand, Refusal } from '../refusal/index.ts'
import { type FontFile, readTemplate, type Template } from '../template/index.ts'
import { Font } from '../text/index.ts'
import { apngFrames } from './apng.ts'
import { shallowJson } from './depth.ts'
import { readImageHeader } from './imageHeader.ts'
import { readSoundHeader } from './soundHeader.ts'
import { unzipped } from './unzip.ts'

/** Files of a package by path, with `/` between folders. */
export type PackageFiles = Record<string, Uint8Array>

export interface TemplatePackage {
  template: Template
  /** Fonts, pictures and poster by the path the template names. */
  files: PackageFiles
}

export async function sha256(bytes: Uint8Array): Promise<string> {
  const digest = new Uint8Array(await crypto.subtle.digest('SHA-256', bytes as Uint8Array<ArrayBuffer>))
  return Array.from(digest, (byte) => byte.toString(16).padStart(2, '0')).join('')
}

function checkPath(path: string): void {
  const bad =
    path.startsWith('/') ||
    path.includes('\\') ||
    path.includes('\0') ||
    /^[a-zA-Z]:/.test(path) ||
    path.split('/').some((step) => step === '..' || step === '.')
  demand(!bad, 'package.path', `The package holds "${path}", a path that leaves it; it was not opened.`)
}

/** Unpacks a `.hoja` file's bytes, size-limited, without looking at what is in it. @throws Refusal */
export function unzipPackage(bytes: Uint8Array, name: string): PackageFiles {
  demand(
    bytes.length > 3 && bytes[0] === 0x50 && bytes[1] === 0x4b,
    'package.zip',
    `"${name}" is not a template package; choose a .hoja file.`,
  )
  const files = unzipped(bytes, {
    bytes: limits.packageBytes.most,
    files: limits.packageFiles.most,
    tooMuch: () =>
      new Refusal(
        'package.large',
        `"${name}" unpacks to more than ${most('packageBytes')} or ${most('packageFiles')}; it was not opened.`,
      ),
    broken: () => new Refusal('package.zip', `"${name}" is a damaged package; export it again.`),
    wanted(path) {
      checkPath(path)
      return true
    },
  })
  return Object.fromEntries(files)
}

/** A font that takes the place of one that a package lacks. */
export interface FontInstead {
  /** As the package will name it: `fonts/NAME.ttf`. */
  file: string
  bytes: Uint8Array
}

/** Reads a package's document: migrated, its shape and references checked. @throws Refusal */
export function readDocument(files: PackageFiles, name: string): Template {
  const document = files['template.json']
  demand(document, 'package.template', `"${name}" holds no template.json; choose a template package.`)
  let value: unknown
  try {
    value = JSON.parse(
      shallowJson(new TextDecoder('utf-8', { fatal: true }).decode(document), `template.json in "${name}"`),
    )
  } catch (error) {
    if (error instanceof Refusal) throw error
    throw new Refusal('package.json', `template.json in "${name}" is not JSON: ${(error as Error).message}.`)
  }
  return readTemplate(value)
}

/**
 * Files of a package with every SHA-256 that its document leaves out or empty filled in, as a document written by hand
 * has them; one that is there stays, and is held to.
 */
export async function withHashes(files: PackageFiles): Promise<PackageFiles> {
  let document: Record<string, unknown>
  try {
    document = JSON.parse(new TextDecoder().decode(files['template.json']))
  } catch {
    // What is no JSON is told where it is read.
    return files
  }
  if (typeof document !== 'object' || document === null) return files
  for (const list of ['fonts', 'media', 'sounds']) {
    const entries = document[list]
    if (!Array.isArray(entries)) continue
    for (const entry of entries as { file?: unknown; sha256?: unknown }[]) {
      const bytes = typeof entry?.file === 'string' ? files[entry.file] : undefined
      if (bytes && !entry.sha256) entry.sha256 = await sha256(bytes)
    }
  }
  return { ...files, 'template.json': strToU8(JSON.stringify(document)) }
}

/** The fonts that a template names and its package lacks: somebody has to say what takes their place. */
export function missingFonts(template: Template, files: PackageFiles): FontFile[] {
  return template.fonts.filter((font) => !files[font.file])
}

/** Puts other fonts in the place of those that a package lacks. */
async function withFonts(
  template: Template,
  files: PackageFiles,
  instead: Readonly<Record<string, FontInstead>>,
): Promise<{ template: Template; files: PackageFiles }> {
  const more: PackageFiles = {}
  const fonts = await Promise.all(
    template.fonts.map(async (font) => {
      const other = files[font.file] ? undefined : instead[font.id]
      if (!other) return font
      const { family, style } = new Font(other.bytes, other.file)
      more[other.file] = other.bytes
      return { ...font, family, style, file: other.file, sha256: await sha256(other.bytes) }
    }),
  )
  return { template: { ...template, fonts }, files: { ...files, ...more } }
}

/** What a template carries, each with the check that its bytes are what they should be. */
function carriedFiles(template: Template): { file: string; sha256: string; check: (bytes: Uint8Array) => unknown }[] {
  return [
    ...template.fonts.map((font) => ({ ...font, check: (bytes: Uint8Array) => new Font(bytes, font.file) })),
    ...template.media.map((media) => ({
      ...media,
      check: (bytes: Uint8Array) => {
        readImageHeader(bytes, media.file)
        if (!media.movie) return
        const { frames } = apngFrames(bytes, media.file)
        demand(
          frames.length === media.movie.frames,
          'movie.frames',
          `${media.file} holds ${frames.length} frames, and the template counts on ${media.movie.frames}; export it again.`,
        )
      },
    })),
    ...template.sounds.map((sound) => ({
      ...sound,
      check: (bytes: Uint8Array) => readSoundHeader(bytes, sound.file),
    })),
  ]
}

/**
 * Reads a template and all it carries from a package's files: shape, references, hashes, fonts that are fonts, pictures
 * that are pictures, sounds that are sounds.
 * @param instead by font id: what takes the place of fonts that the package lacks
 * @throws Refusal with one sentence naming the file
 */
export async function readPackage(
  given: PackageFiles,
  name: string,
  instead: Readonly<Record<string, FontInstead>> = {},
): Promise<TemplatePackage> {
  const { template, files } = await withFonts(readDocument(given, name), given, instead)
  const kept: PackageFiles = {}
  for (const entry of carriedFiles(template)) {
    checkPath(entry.file)
    const bytes = files[entry.file]
    demand(bytes, 'package.missing', `"${name}" lacks ${entry.file}, which its template uses; export it again.`)
    demand(
      (await sha256(bytes)) === entry.sha256,
      'package.hash',
      `${entry.file} in "${name}" is not the file the template was saved with (its SHA-256 differs); export it again.`,
    )
    entry.check(bytes)
    kept[entry.file] = bytes
  }
  if (files['poster.png']) {
    readImageHeader(files['poster.png'], 'poster.png')
    kept['poster.png'] = files['poster.png']
  }
  return { template, files: kept }
}

/** The files of a package: the template, what it carries, and a README of its fields. */
export function packageFiles({ template, files }: TemplatePackage): PackageFiles {
  return {
    'template.json': strToU8(`${JSON.stringify(template, null, 2)}\n`),
    'README.txt': strToU8(readme(template)),
    ...files,
  }
}

function readme(template: Template): string {
  const sections = [undefined, ...template.sections]
  const fields = sections.flatMap((section) => {
    const own = template.fields.filter((field) => field.section === section?.id)
    const lines = own.map(
      (f) =>
        `${f.key}\n  ${f.name} (${fieldLine(template, f)})\n  ${f.note || 'No note.'}\n  Default: ${writeCell(template, f, f.default)}\n`,
    )
    return own.length === 0
      ? []
      : [...(section ? [`${section.name}\n${'-'.repeat(section.name.length)}\n`] : []), ...lines]
  })
  return `${template.name}\n${template.note}\n\nA Hoja template: template.json describes it, fonts/, media/ and sounds/ hold what it uses.\n\nFields\n\n${fields.join('\n')}`
}

/** Writes a `.hoja` file. The same package gives the same bytes: files in order of name, one fixed date. */
export function zipPackage(pack: TemplatePackage): Uint8Array {
  const files = packageFiles(pack)
  const zippable: Zippable = {}
  // ZIP cannot tell a date before 1980; a fixed one keeps equal packages equal.
  for (const path of Object.keys(files).sort())
    zippable[path] = [
      files[path]!,
      { mtime: new Date(1980, 0, 1, 0, 0, 0), level: /\.(a?png|jpe?g|webp|mp3|ogg|opus)$/.test(path) ? 0 : 6 },
    ]
  return zipSync(zippable)
}
