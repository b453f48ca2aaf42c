import { strToU8, unzipSync, type Zippable, zipSync } from 'fflate'
import { demand, Refusal } from '../refusal/index.ts'
import { readTemplate, type Template } from '../template/index.ts'
import { Font } from '../text/index.ts'
import { readImageHeader } from './imageHeader.ts'

/** Files of a package by path, with `/` between folders. */
export type PackageFiles = Record<string, Uint8Array>

export interface TemplatePackage {
  template: Template
  /** Fonts, pictures and poster by the path the template names. */
  files: PackageFiles
}

/** Most bytes that a package may unpack to, and most files in it. */
export const packageLimit = 256 * 1024 * 1024
const fileLimit = 500

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
  let total = 0
  let count = 0
  try {
    return unzipSync(bytes, {
      filter: (file) => {
        checkPath(file.name)
        total += file.originalSize
        count++
        demand(
          total <= packageLimit && count <= fileLimit,
          'package.large',
          `"${name}" unpacks to more than ${packageLimit / 1024 / 1024} MB or ${fileLimit} files; it was not opened.`,
        )
        return !file.name.endsWith('/')
      },
    })
  } catch (error) {
    if (error instanceof Refusal) throw error
    throw new Refusal('package.zip', `"${name}" is a damaged package; export it again.`)
  }
}

/**
 * Reads a template and all it carries from a package's files: shape, references, hashes, fonts that are fonts, pictures
 * that are pictures.
 * @throws Refusal with one sentence naming the file
 */
export async function readPackage(files: PackageFiles, name: string): Promise<TemplatePackage> {
  const document = files['template.json']
  demand(document, 'package.template', `"${name}" holds no template.json; choose a template package.`)
  let value: unknown
  try {
    value = JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(document))
  } catch (error) {
    throw new Refusal('package.json', `template.json in "${name}" is not JSON: ${(error as Error).message}.`)
  }
  const template = readTemplate(value)
  const kept: PackageFiles = {}
  for (const entry of [...template.fonts, ...template.media]) {
    checkPath(entry.file)
    const bytes = files[entry.file]
    demand(bytes, 'package.missing', `"${name}" lacks ${entry.file}, which its template uses; export it again.`)
    demand(
      (await sha256(bytes)) === entry.sha256,
      'package.hash',
      `${entry.file} in "${name}" is not the file the template was saved with (its SHA-256 differs); export it again.`,
    )
    kept[entry.file] = bytes
  }
  for (const font of template.fonts) new Font(files[font.file]!, font.file)
  for (const picture of template.media) readImageHeader(files[picture.file]!, picture.file)
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
  const fields = template.fields.map(
    (f) =>
      `${f.key}\n  ${f.name} (${f.type}${f.required ? ', required' : ''}${f.limit ? `, at most ${f.limit} characters` : ''})\n  ${f.note || 'No note.'}\n  Default: ${f.default}\n`,
  )
  return `${template.name}\n${template.note}\n\nA Hoja template: template.json describes it, fonts/ and media/ hold what it uses.\n\nFields\n\n${fields.join('\n')}`
}

/** Writes a `.hoja` file. The same package gives the same bytes: files in order of name, one fixed date. */
export function zipPackage(pack: TemplatePackage): Uint8Array {
  const files = packageFiles(pack)
  const zippable: Zippable = {}
  // ZIP cannot tell a date before 1980; a fixed one keeps equal packages equal.
  for (const path of Object.keys(files).sort())
    zippable[path] = [
      files[path]!,
      { mtime: new Date(1980, 0, 1, 0, 0, 0), level: /\.(png|jpe?g|webp)$/.test(path) ? 0 : 6 },
    ]
  return zipSync(zippable)
}
