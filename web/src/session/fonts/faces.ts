import { type Asset, address, type KnownFont } from '@hoja/core/api'
import type { Template } from '@hoja/core/template'
import { type Coverage, familyWith } from '@hoja/core/text'
import { useQuery } from '@tanstack/react-query'
import { api } from '../../api.ts'

/** A font as people look for it: a style of a family. */
export interface Face {
  family: string
  style: string
  /** Its id in the template that carries it. */
  carried?: string
  /** Its SHA-256, where it is carried or was brought. */
  sha256?: string
  /** How Hoja knows it, where it ships or was brought. */
  known?: KnownFont
}

export const faceName = ({ family, style }: Pick<Face, 'family' | 'style'>) => `${family} ${style}`

/** All faces: those that a template carries, and those that Hoja has besides; each once. */
export function facesOf(template: Pick<Template, 'fonts'> | undefined, known: readonly KnownFont[]): Face[] {
  const carried = (template?.fonts ?? []).map(
    (font): Face => ({ family: font.family, style: font.style, carried: font.id, sha256: font.sha256 }),
  )
  const names = new Set(carried.map(faceName))
  const rest = known
    .filter((font) => !names.has(faceName(font)))
    .map(
      (font): Face => ({
        family: font.family,
        style: font.style,
        known: font,
        ...(font.file ? { sha256: font.id } : {}),
      }),
    )
  return [...carried, ...rest]
}

/** A font that is not carried yet, as what is stored of it. */
export async function assetOf({ known, family, style, sha256 }: Face): Promise<Asset> {
  return known!.file
    ? { sha256: sha256!, kind: 'font', name: known!.file, size: 0, family, style }
    : api.addFont({ id: known!.id })
}

/** The name under which the page itself can write in a face; its file is fetched when it is first written in. */
export function familyOf({ sha256, known }: Face): string {
  const name = `face-${sha256 ?? known!.id.replace(/\W/g, '-')}`
  if (![...document.fonts].some((font) => font.family === name)) {
    const url = sha256 ? address.asset({ sha256 }) : address.fontFile({ id: known!.id })
    document.fonts.add(new FontFace(name, `url(${url})`))
  }
  return name
}

/** The fonts that Hoja has. */
export const useKnownFonts = () => useQuery({ queryKey: ['fonts'], queryFn: () => api.fonts() }).data ?? []

/** Whether a family that ships lacks some of a text's characters; of others nothing is said. */
export function useLacks(text: string): (family: string) => boolean {
  const coverage = useQuery({
    queryKey: ['coverage'],
    queryFn: async () => (await api.fontCoverage()) as unknown as Coverage[],
    staleTime: Number.POSITIVE_INFINITY,
  }).data
  const needed = [...new Set([...text].map((letter) => letter.codePointAt(0)!))].filter((code) => code > 32)
  return (family) => {
    const own = coverage?.find((one) => one.family === family)
    return own !== undefined && needed.some((code) => familyWith([own], code) === undefined)
  }
}

const storage = 'hoja.fonts'
const most = 4

/** Faces that this person took last, by their names, the last first. */
export function lastFaces(): string[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(storage) ?? '[]')
    return Array.isArray(kept) ? kept.filter((one) => typeof one === 'string') : []
  } catch {
    return []
  }
}

export function tookFace(face: Face): void {
  const name = faceName(face)
  try {
    localStorage.setItem(storage, JSON.stringify([name, ...lastFaces().filter((one) => one !== name)].slice(0, most)))
  } catch {
    // A browser that keeps nothing has no last ones.
  }
}
