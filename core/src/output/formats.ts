/** What titles are rendered to. The names are those that people type on the command line, too. */
export const formatIds = [
  'mov',
  'mov-png',
  'mov-rle',
  'pair',
  'png',
  'webm',
  'apng',
  'gif',
  'mp4',
  'mkv',
  'still',
  'svg',
] as const
export type FormatId = (typeof formatIds)[number]

export interface OutputFormat {
  name: string
  /** What a person wants it for: formats are offered by it. */
  use: 'For editing' | 'For the web and chat' | 'For looking' | 'For archives' | 'One frame'
  /** A plain line: what it is for, and what it does with alpha. */
  note: string
  /** Endings of a title's files; a sequence is a folder of pictures instead. */
  endings: readonly string[]
  /** `either`: straight or premultiplied, as the order says. `on or off`: a pixel is clear or not. */
  alpha: 'straight' | 'either' | 'on or off' | 'none'
  /** Whether something lies under the title: always, when asked for, never. */
  backdrop: 'always' | 'may' | 'never'
  timecode: boolean
  sound: boolean
  /** One frame: the settled one. */
  still: boolean
  /** Written by ffmpeg. */
  encoder: boolean
  /** Colour is kept for two pixels by two, so that width and height are even. */
  even: boolean
}

const clip = { backdrop: 'never', timecode: true, sound: true, still: false, encoder: true, even: false } as const
const picture = { backdrop: 'never', timecode: false, sound: false, still: false, encoder: false, even: false } as const

export const outputFormats: Record<FormatId, OutputFormat> = {
  mov: {
    ...clip,
    name: 'QuickTime, ProRes 4444',
    use: 'For editing',
    note: 'Drops into editing programs with its alpha. Nearly lossless, 10 bits; the one to take when nothing else is asked for.',
    endings: ['.mov'],
    alpha: 'either',
  },
  'mov-png': {
    ...clip,
    name: 'QuickTime, PNG',
    use: 'For editing',
    note: 'Lossless with straight alpha, and small. Editing programs decode it more slowly than ProRes.',
    endings: ['.mov'],
    alpha: 'straight',
  },
  'mov-rle': {
    ...clip,
    name: 'QuickTime, run-length',
    use: 'For editing',
    note: 'Lossless with alpha, read by old programs too. Large where pictures and gradients are.',
    endings: ['.mov'],
    alpha: 'either',
  },
  pair: {
    ...clip,
    name: 'Fill and key pair',
    use: 'For editing',
    note: 'Two ProRes movies without alpha, the colours and the key, for mixers and systems that take them apart.',
    endings: ['_fill.mov', '_key.mov'],
    alpha: 'either',
  },
  png: {
    ...picture,
    name: 'PNG sequence',
    use: 'For editing',
    note: 'A folder of pictures a title, lossless with straight alpha: opens everywhere.',
    endings: [],
    alpha: 'straight',
  },
  webm: {
    ...clip,
    timecode: false,
    name: 'WebM, VP9',
    use: 'For the web and chat',
    note: 'Small, with straight alpha, for web pages and streaming programs. Lossy.',
    endings: ['.webm'],
    alpha: 'straight',
    even: true,
  },
  apng: {
    ...picture,
    name: 'Animated PNG',
    use: 'For the web and chat',
    note: 'Lossless with straight alpha, plays in browsers and many chats. No sound.',
    endings: ['.apng'],
    alpha: 'straight',
  },
  gif: {
    ...picture,
    encoder: true,
    name: 'GIF',
    use: 'For the web and chat',
    note: 'For chat. 256 colours; a pixel is clear or not, so edges are hard unless a colour lies under it.',
    endings: ['.gif'],
    alpha: 'on or off',
    backdrop: 'may',
  },
  mp4: {
    ...clip,
    name: 'MP4, H.264',
    use: 'For looking',
    note: 'No alpha: the title lies over a colour, a still or footage. For looking at, and for backdrops; not for keying.',
    endings: ['.mp4'],
    alpha: 'none',
    backdrop: 'always',
    even: true,
  },
  mkv: {
    ...clip,
    name: 'Matroska, FFV1',
    use: 'For archives',
    note: 'Lossless with alpha, an open standard kept by archives. Few editing programs read it.',
    endings: ['.mkv'],
    alpha: 'either',
  },
  still: {
    ...picture,
    still: true,
    name: 'PNG still',
    use: 'One frame',
    note: 'The frame in which every part has arrived, lossless with straight alpha.',
    endings: ['.png'],
    alpha: 'straight',
  },
  svg: {
    ...picture,
    still: true,
    name: 'SVG still',
    use: 'One frame',
    note: 'The same frame as outlines, for print and drawing programs.',
    endings: ['.svg'],
    alpha: 'straight',
  },
}
