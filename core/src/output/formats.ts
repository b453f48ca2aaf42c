/** What titles are rendered to. The names are those that people type on the command line, too. */
export const formatIds = [
  'mov',
  'mov-png',
  'mov-rle',
  'pair',
  'cineform',
  'utvideo',
  'prores422',
  'prores422-mxf',
  'dnxhr',
  'dnxhr-mxf',
  'dnxhr444',
  'dnxhr444-mxf',
  'png',
  'png16',
  'tiff',
  'tiff16',
  'tga',
  'exr',
  'webm',
  'apng',
  'webp',
  'gif',
  'mp4',
  'mkv',
  'still',
  'still-tiff',
  'still-webp',
  'svg',
] as const
export type FormatId = (typeof formatIds)[number]

export interface OutputFormat {
  name: string
  /** What a person wants it for: formats are offered by it. */
  use:
    | 'For editing'
    | 'For editing, without alpha'
    | 'Frame by frame'
    | 'For the web and chat'
    | 'For looking'
    | 'For archives'
    | 'One frame'
  /** A plain line: what it is for, and what it does with alpha. */
  note: string
  /** Endings of a title's files; of a sequence, what stands behind the name of its folder. */
  endings: readonly string[]
  /** Ending of the pictures of a sequence. */
  pictures?: string
  /** `either`: straight or premultiplied, as the order says. `on or off`: a pixel is clear or not. */
  alpha: 'straight' | 'premultiplied' | 'either' | 'on or off' | 'none'
  /** Bits a channel; `half`: floating point of 16. For these and for 16, titles are drawn in more than 8, too. */
  bits: 8 | 10 | 12 | 16 | 'half'
  /** Whether something lies under the title: always, when asked for, never. */
  backdrop: 'always' | 'may' | 'never'
  timecode: boolean
  sound: boolean
  /** One frame: the settled one, or another that is asked for. */
  still: boolean
  /** Written by ffmpeg. */
  encoder: boolean
  /** Colour is kept for two pixels, or for two by two, so that the width, or both sides, are even. */
  halved: 'no' | 'across' | 'both'
  /** Can say that its frames are two fields. */
  fields: boolean
  /** Where Hold begins and ends is marked in the file itself. */
  chapters: boolean
  /** Least sides that the codec takes, px. */
  least?: readonly [width: number, height: number]
  /** Sides are multiples of these, px. */
  step?: readonly [width: number, height: number]
}

const clip = {
  bits: 8,
  backdrop: 'never',
  timecode: true,
  sound: true,
  still: false,
  encoder: true,
  halved: 'no',
  fields: true,
  chapters: true,
} as const
const picture = { ...clip, timecode: false, sound: false, encoder: false, fields: false, chapters: false } as const
const opaque = { ...clip, bits: 10, alpha: 'none', backdrop: 'always', use: 'For editing, without alpha' } as const
/** ffmpeg's MXF says of every ProRes that its frames are whole. */
const mxf = { endings: ['.mxf'], chapters: false, fields: false } as const
const sequence = { ...picture, use: 'Frame by frame', endings: [''] } as const
const still = { ...picture, use: 'One frame', still: true } as const

export const outputFormats: Record<FormatId, OutputFormat> = {
  mov: {
    ...clip,
    name: 'QuickTime, ProRes 4444',
    use: 'For editing',
    note: 'Drops into editing programs with its alpha. Nearly lossless, 10 bits; the one to take when nothing else is asked for.',
    endings: ['.mov'],
    alpha: 'either',
    bits: 10,
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
    bits: 10,
  },
  cineform: {
    ...clip,
    name: 'QuickTime, CineForm',
    use: 'For editing',
    note: 'RGB of 12 bits with alpha, light to decode, for grading and finishing. Nearly lossless, large.',
    endings: ['.mov'],
    alpha: 'either',
    bits: 12,
    fields: false,
    step: [16, 8],
  },
  utvideo: {
    ...clip,
    name: 'AVI, UT Video',
    use: 'For editing',
    note: 'Lossless with alpha and quick to decode, for compositing programs that read AVI.',
    endings: ['.avi'],
    alpha: 'either',
    timecode: false,
    fields: false,
    chapters: false,
  },
  prores422: {
    ...opaque,
    name: 'QuickTime, ProRes 422 HQ',
    note: 'The finished picture over its backdrop, as post houses take it in. 10 bits.',
    endings: ['.mov'],
    halved: 'across',
  },
  'prores422-mxf': {
    ...opaque,
    ...mxf,
    name: 'MXF, ProRes 422 HQ',
    note: 'The same in MXF OP1a, for deliveries that ask for that container.',
    halved: 'across',
  },
  dnxhr: {
    ...opaque,
    name: 'QuickTime, DNxHR HQX',
    note: 'The finished picture over its backdrop in the other common editing codec. 10 bits.',
    endings: ['.mov'],
    halved: 'across',
    fields: false,
    least: [256, 120],
  },
  'dnxhr-mxf': {
    ...opaque,
    ...mxf,
    name: 'MXF, DNxHR HQX',
    note: 'The same in MXF OP1a, as editing systems keep their media.',
    halved: 'across',
    fields: false,
    least: [256, 120],
  },
  dnxhr444: {
    ...opaque,
    name: 'QuickTime, DNxHR 444',
    note: 'With full colour for every pixel, for keys and fine coloured edges. 10 bits.',
    endings: ['.mov'],
    fields: false,
    least: [256, 120],
  },
  'dnxhr444-mxf': {
    ...opaque,
    ...mxf,
    name: 'MXF, DNxHR 444',
    note: 'The same in MXF OP1a.',
    fields: false,
    least: [256, 120],
  },
  png: {
    ...sequence,
    name: 'PNG sequence',
    note: 'A folder of pictures a title, lossless with straight alpha: opens everywhere.',
    pictures: '.png',
    alpha: 'straight',
  },
  png16: {
    ...sequence,
    name: 'PNG sequence, 16 bits',
    note: 'The same with 16 bits a channel: soft edges and gradients without steps. Large.',
    pictures: '.png',
    alpha: 'straight',
    bits: 16,
  },
  tiff: {
    ...sequence,
    name: 'TIFF sequence',
    note: 'Lossless with alpha, straight or premultiplied as the file itself says, for print and compositing.',
    pictures: '.tif',
    alpha: 'either',
  },
  tiff16: {
    ...sequence,
    name: 'TIFF sequence, 16 bits',
    note: 'The same with 16 bits a channel.',
    pictures: '.tif',
    alpha: 'either',
    bits: 16,
  },
  tga: {
    ...sequence,
    name: 'TGA sequence',
    note: 'Lossless with alpha, for older graphics systems. 8 bits: the format has no more.',
    pictures: '.tga',
    alpha: 'either',
  },
  exr: {
    ...sequence,
    name: 'OpenEXR sequence',
    note: 'Half floats, linear light, premultiplied, with its primaries: for compositing and grading.',
    pictures: '.exr',
    alpha: 'premultiplied',
    bits: 'half',
  },
  webm: {
    ...clip,
    timecode: false,
    name: 'WebM, VP9',
    use: 'For the web and chat',
    note: 'Small, with straight alpha, for web pages and streaming programs. Lossy.',
    endings: ['.webm'],
    alpha: 'straight',
    halved: 'both',
    fields: false,
  },
  apng: {
    ...picture,
    name: 'Animated PNG',
    use: 'For the web and chat',
    note: 'Lossless with straight alpha, plays in browsers and many chats. No sound.',
    endings: ['.apng'],
    alpha: 'straight',
  },
  webp: {
    ...picture,
    encoder: true,
    name: 'Animated WebP',
    use: 'For the web and chat',
    note: 'Lossless with straight alpha and smaller than animated PNG, for web pages. No sound.',
    endings: ['.webp'],
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
    halved: 'both',
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
    ...still,
    name: 'PNG still',
    note: 'One frame of every title, as a rule that in which every part has arrived. Lossless with straight alpha.',
    endings: ['.png'],
    alpha: 'straight',
  },
  'still-tiff': {
    ...still,
    name: 'TIFF still',
    note: 'The same as TIFF, for print and layout programs.',
    endings: ['.tif'],
    alpha: 'either',
  },
  'still-webp': {
    ...still,
    name: 'WebP still',
    note: 'The same as lossless WebP with straight alpha, small enough for web pages.',
    endings: ['.webp'],
    alpha: 'straight',
    encoder: true,
  },
  svg: {
    ...still,
    name: 'SVG still',
    note: 'The same frame as outlines, for print and drawing programs.',
    endings: ['.svg'],
    alpha: 'straight',
  },
}
