const words: Record<string, string> = {
  mod: 'Ctrl',
  alt: 'Alt',
  shift: 'Shift',
  left: '←',
  right: '→',
  up: '↑',
  down: '↓',
  delete: 'Delete',
  comma: ',',
  period: '.',
  bracketleft: '[',
  bracketright: ']',
  backslash: '\\',
  home: 'Home',
  end: 'End',
  pageup: 'Page Up',
  pagedown: 'Page Down',
}

/** A shortcut as people read it: `mod+shift+z` is Ctrl Shift Z. */
export function shortcutWords(keys: string): string {
  return keys
    .split('+')
    .map((key) => words[key] ?? key.toUpperCase())
    .join(' ')
}
