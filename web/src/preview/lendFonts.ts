import { address } from '@hoja/core/api'
import type { Template } from '@hoja/core/template'

/** Scripts that the interface's own font leaves to the template's fallbacks; Latin in all its forms stays with the system's. */
const beyondLatin = 'U+0370-1DFF, U+2E80-10FFFF'

/** Lets the interface itself write every script that the template can: its fallbacks stand behind the interface's font. */
export function lendFonts(template: Pick<Template, 'fonts' | 'fallbacks'>): void {
  if (typeof document === 'undefined') return
  const families = template.fallbacks.flatMap((id) => {
    const font = template.fonts.find((f) => f.id === id)
    if (!font) return []
    const family = `carried-${font.sha256.slice(0, 8)}`
    if (![...document.fonts].some((f) => f.family === family))
      document.fonts.add(
        new FontFace(family, `url(${address.asset({ sha256: font.sha256 })})`, { unicodeRange: beyondLatin }),
      )
    return [`"${family}"`]
  })
  if (families.length > 0)
    document.documentElement.style.setProperty('--carried-fonts', `${families.join(', ')}, sans-serif`)
}
