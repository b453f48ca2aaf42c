import type { Template } from '@hoja/core/template'

/** Lets the interface itself write every script that the template can: its fallbacks stand behind the interface's font. */
export function lendFonts(template: Pick<Template, 'fonts' | 'fallbacks'>): void {
  if (typeof document === 'undefined') return
  const families = template.fallbacks.flatMap((id) => {
    const font = template.fonts.find((f) => f.id === id)
    if (!font) return []
    const family = `carried-${font.sha256.slice(0, 8)}`
    if (![...document.fonts].some((f) => f.family === family))
      document.fonts.add(new FontFace(family, `url(/api/assets/${font.sha256})`))
    return [`"${family}"`]
  })
  if (families.length > 0)
    document.documentElement.style.setProperty('--carried-fonts', `${families.join(', ')}, sans-serif`)
}
