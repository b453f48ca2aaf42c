/** Characters that some file system refuses, or that a shell or a URL reads as something else. */
const unsafe = /[\u0000-\u001f\u007f<>:"/\\|?*#%&{}$!'`@+=^~[\]();,]+/g

/** UTF-16 units of a name: with an ending and a number, never more than the 255 bytes of common file systems. */
const longest = 80

/** A text as part of a file name on any system: letters of every script stay, the rest becomes `_`. */
export function safeName(text: string): string {
  const name = text
    .normalize('NFC')
    .replace(unsafe, '_')
    .replace(/\s+/g, '_')
    .replace(/_+/g, '_')
    .replace(/^[._]+/, '')
    .slice(0, longest)
    // Not half of a character, nor what some systems drop from the end of a name.
    .replace(/[\ud800-\udbff]$/, '')
    .replace(/[._]+$/, '')
  return /^(con|prn|aux|nul|com\d|lpt\d)$/i.test(name) ? `${name}_` : name || 'untitled'
}
