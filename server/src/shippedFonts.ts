import { readdirSync, readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { basename, dirname, join } from 'node:path'
import { demand } from '@hoja/core/refusal'
import type { Template } from '@hoja/core/template'
import { type Coverage, coverageOf } from '@hoja/core/text'
import type { Asset } from './store/assets.ts'
import { hashOf } from './store/files.ts'
import type { Store } from './store/index.ts'

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

/** Puts a shipped font among the assets. @throws Refusal for one that does not ship. */
export function addShippedFont(store: Store, id: string): Asset {
  demand(
    shippedFonts().some((font) => font.id === id),
    'font.none',
    `No font "${id.slice(0, 60)}" ships with Hoja; choose one of the list or add a file.`,
  )
  const file = shippedFile(id)
  return store.assets.add(readFileSync(file), basename(file))
}

/** What a new template carries, so that a text in any of the demo's scripts can be written at once. */
export function firstFonts(store: Store): Pick<Template, 'fonts' | 'fallbacks'> {
  const carried = [
    ['semibold', 'barlow-condensed/600SemiBold'],
    ['medium', 'barlow-condensed/500Medium'],
    ['arabic', 'noto-sans-arabic/600SemiBold'],
    ['japanese', 'm-plus-1p/700Bold'],
    ['emoji', 'noto-emoji/600SemiBold'],
  ] as const
  const fonts = carried.map(([id, from]) => {
    const asset = addShippedFont(store, from)
    const { family, style } = shippedFonts().find((font) => font.id === from)!
    return { id, family, style, file: `fonts/${asset.name}`, sha256: asset.sha256 }
  })
  return { fonts, fallbacks: ['arabic', 'japanese', 'emoji'] }
}
