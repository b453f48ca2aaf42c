import {
  clampChroma,
  formatHex,
  formatHex8,
  modeLrgb,
  modeOklab,
  modeOklch,
  modeRgb,
  parseHex,
  parseNamed,
  useMode,
  wcagContrast,
  wcagLuminance,
} from 'culori/fn'

useMode(modeRgb)
useMode(modeLrgb)
useMode(modeOklab)
const oklch = useMode(modeOklch)

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

/** Relative luminance of an opaque colour, 0..1 (WCAG 2.2, "relative luminance"), of bytes or fractions of them. */
export const luminanceOf = ([r, g, b]: readonly number[]): number =>
  wcagLuminance({ mode: 'rgb', r: r! / 255, g: g! / 255, b: b! / 255 })

/** With its lightness changed (OKLCH, CSS Color 4), as much of its colourfulness as sRGB has there, and its opacity. */
function withLightness(colour: string, by: number, change: (lightness: number) => number): string {
  if (by === 0) return colour
  const { alpha, ...own } = oklch(parseHex(colour)!)
  const changed = clampChroma({ ...own, l: change(own.l) }, 'oklch')
  return alpha === undefined ? formatHex(changed) : formatHex8({ ...changed, alpha })
}

/**
 * A colour as people write it in data: hex of 3, 4, 6 or 8 digits, with or without #, or a name of CSS Color 4; as `#rrggbb`,
 * or `#rrggbbaa` where it is not opaque. Undefined for anything else.
 */
export function readColour(words: string): string | undefined {
  const text = words.trim().toLowerCase()
  if (text === 'transparent') return '#00000000'
  const colour = /^#?([0-9a-f]{3,4}|[0-9a-f]{6}|[0-9a-f]{8})$/.test(text)
    ? parseHex(text.startsWith('#') ? text : `#${text}`)
    : parseNamed(text as Parameters<typeof parseNamed>[0])
  if (!colour) return undefined
  const { alpha = 1 } = colour
  return alpha < 1 ? formatHex8(colour) : formatHex(colour)
}

/** A share of the way to white. @param by 0 to 1 */
export const lighter = (colour: string, by: number): string => withLightness(colour, by, (l) => l + (1 - l) * by)

/** A share of the way to black. @param by 0 to 1 */
export const darker = (colour: string, by: number): string => withLightness(colour, by, (l) => l * (1 - by))
