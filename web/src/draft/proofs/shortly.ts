/** A finding in two or three words; the whole sentence is its title. */
export function shortly(finding: { code: string; message: string }): string {
  const words: Record<string, string> = {
    overflow: 'past its room',
    missing: 'a character in no font',
    picture: 'no such picture',
    along: 'past the end of its path',
    'safe.title': 'past title-safe',
    'safe.action': 'past action-safe',
    reading: 'long to read',
    cut: 'cut',
    collide: 'parts meet',
    small: 'hard to read',
    contrast: 'hardly stands out',
    'picture.small': 'a small picture',
  }
  return words[finding.code] ?? finding.message.replace(/\.$/, '')
}
