/** Characters that some file system refuses, or that a shell or a URL reads as something else. */
const unsafe = /[\u0000-\u001f\u007f<>:"/\\|?*#%&{}$!'`@+=^~[\]();,]+/g

/** A text as part of a file name on any system: letters of every script stay, the rest becomes `_`. */
export function safeName(text: string): string {
  const name = text
    .normalize('NFC')
    .replace(unsafe, '_')
    .replace(/\s+/g, '_')
    .replace(/_+/g, '_')
    .replace(/^[._]+|[._]+$/g, '')
    .slice(0, 80)
  return /^(con|prn|aux|nul|com\d|lpt\d)$/i.test(name) ? `${name}_` : name || 'untitled'
}
