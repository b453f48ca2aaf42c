import { formatHex, formatHex8, modeLrgb, modeRgb, parseHex, useMode, wcagContrast } from 'culori/fn'

useMode(modeRgb)
useMode(modeLrgb)

/** A colour by its bytes in sRGB, alpha too. */
export type Bytes = [red: number, green: number, blue: number, alpha: number]

/** The bytes of `#rrggbb` or `#rrggbbaa`. */
export function bytesOf(colour: string): Bytes {
  const { r, g, b, alpha = 1 } = parseHex(colour)!
  return [r, g, b, alpha].map((value) => Math.round(value * 255)) as Bytes
}

/** `#rrggbb` of bytes, or `#rrggbbaa` where alpha is said. Fractions are rounded. */
export function hexOf(r: number, g: number, b: number, a?: number): string {
  const colour = { mode: 'rgb' as const, r: r / 255, g: g / 255, b: b / 255 }
  return a === undefined ? formatHex(colour) : formatHex8({ ...colour, alpha: a / 255 })
}

/** Contrast ratio of two opaque colours, 1 to 21 (WCAG 2.2, "contrast ratio"). */
export const contrastRatio = (one: string, other: string): number => wcagContrast(one, other)
