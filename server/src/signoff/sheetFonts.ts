import { GlobalFonts } from '@napi-rs/canvas'
import { shippedFile, shippedFonts } from '../shippedFonts.ts'

/** Families of every script that ships, the first for what is plain. */
const stack = ['Barlow', 'Noto Sans Arabic', 'Noto Sans Hebrew', 'M PLUS 1p', 'Noto Emoji']
let isRegistered = false

/** Makes the shipped fonts known to the canvas that sheets are written on. */
export function registerFonts(): void {
  if (isRegistered) return
  isRegistered = true
  for (const family of stack)
    for (const style of ['Regular', 'SemiBold', 'Bold']) {
      const font = shippedFonts().find((one) => one.family === family && one.style === style)
      if (font) GlobalFonts.registerFromPath(shippedFile(font.id), `Hoja ${family}`)
    }
}

/** A canvas font of every script that ships. */
export const fontOf = (size: number, weight = 400) =>
  `${weight} ${size}px ${stack.map((name) => `"Hoja ${name}"`).join(', ')}`
