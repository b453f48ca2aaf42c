import { readdirSync, readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { dirname, join } from 'node:path'
import { Refusal } from '@hoja/core/refusal'
import { type Coverage, coverageOf } from '@hoja/core/text'
import { hashOf } from './store/files.ts'

/** A font that ships with Hoja and can be added to any template. */
export interface ShippedFont {
  id: string
  family: string
  style: string
}

const families: [folder: string, family: string][] = [
  ['barlow-condensed', 'Barlow Condensed'],
  ['barlow', 'Barlow'],
  ['archivo', 'Archivo'],
  ['ibm-plex-serif', 'IBM Plex Serif'],
  ['noto-sans-arabic', 'Noto Sans Arabic'],
  ['noto-sans-hebrew', 'Noto Sans Hebrew'],
  ['m-plus-1p', 'M PLUS 1p'],
  ['noto-emoji', 'Noto Emoji'],
]

const require = createRequire(import.meta.url)
const folderOf = (folder: string) => dirname(require.resolve(`@expo-google-fonts/${folder}/package.json`))

/** `500Medium_Italic` as people say it. */
const styleName = (weight: string) => weight.replace(/^\d+/, '').replace('_', ' ').replace('Regular Italic', 'Italic')

let known: ShippedFont[] | undefined

/** Every font that ships, family by family, from light to heavy. */
export function shippedFonts(): ShippedFont[] {
  known ??= families.flatMap(([folder, family]) =>
    readdirSync(folderOf(folder))
      .filter((name) => /^\d{3}\w+$/.test(name))
      .sort()
      .map((weight) => ({ id: `${folder}/${weight}`, family, style: styleName(weight) })),
  )
  return known
}

/** A font that ships, by its id. @throws Refusal for one that does not. */
export function knownShipped(id: string, status: 404 | 422 = 422): ShippedFont {
  const font = shippedFonts().find((one) => one.id === id)
  if (!font)
    throw new Refusal(
      'font.none',
      `No font "${id.slice(0, 60)}" ships with Hoja; choose one of the list or add a file.`,
      status,
    )
  return font
}

let covered: Coverage[] | undefined

/** What every family that ships covers. */
export function shippedCoverage(): Coverage[] {
  covered ??= families.map(([folder, family]) => {
    const { id } = shippedFonts().find((font) => font.id.startsWith(`${folder}/`))!
    return coverageOf(readFileSync(shippedFile(id)), family)
  })
  return covered
}

let hashes: Set<string> | undefined

/** Whether a stored font is one that ships. */
export function isShipped(sha256: string): boolean {
  hashes ??= new Set(shippedFonts().map(({ id }) => hashOf(readFileSync(shippedFile(id)))))
  return hashes.has(sha256)
}

/** Where a shipped font lies on the disk. */
export function shippedFile(id: string): string {
  const [family, weight] = id.split('/') as [string, string]
  const folder = join(folderOf(family), weight)
  return join(folder, readdirSync(folder).find((name) => name.endsWith('.ttf'))!)
}
