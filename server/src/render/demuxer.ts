import { closeSync, openSync, readSync } from 'node:fs'
import { resolve } from 'node:path'
import { limits } from '@hoja/core/limits'

const ascii = (head: Buffer, at: number, length: number) => head.toString('latin1', at, at + length)

/** Atoms with which files of ISO/IEC 14496-12, and of QuickTime before it, begin. */
const atoms = ['ftyp', 'moov', 'mdat', 'wide', 'free', 'skip', 'pnot']

/** ffmpeg's readers of files that others bring, each by the bytes that such a file begins with. */
const demuxers: [name: string, kind: 'movie' | 'picture' | 'sound', begins: (head: Buffer) => boolean][] = [
  ['mov', 'movie', (head) => atoms.includes(ascii(head, 4, 4))],
  ['matroska', 'movie', (head) => head.readUInt32BE(0) === 0x1a45dfa3],
  ['avi', 'movie', (head) => ascii(head, 0, 4) === 'RIFF' && ascii(head, 8, 4) === 'AVI '],
  ['gif', 'movie', (head) => ascii(head, 0, 4) === 'GIF8'],
  ['apng', 'movie', (head) => ascii(head, 1, 3) === 'PNG'],
  ['png_pipe', 'picture', (head) => ascii(head, 1, 3) === 'PNG'],
  ['jpeg_pipe', 'picture', (head) => head.readUInt16BE(0) === 0xffd8],
  ['webp_pipe', 'picture', (head) => ascii(head, 0, 4) === 'RIFF' && ascii(head, 8, 4) === 'WEBP'],
  ['wav', 'sound', (head) => ascii(head, 0, 4) === 'RIFF' && ascii(head, 8, 4) === 'WAVE'],
  ['ogg', 'sound', (head) => ascii(head, 0, 4) === 'OggS'],
  ['mp3', 'sound', (head) => ascii(head, 0, 3) === 'ID3' || (head[0] === 0xff && (head[1]! & 0xe0) === 0xe0)],
]

function headOf(path: string): Buffer {
  const head = Buffer.alloc(16)
  const file = openSync(path, 'r')
  try {
    readSync(file, head, 0, 16, 0)
  } finally {
    closeSync(file)
  }
  return head
}

/**
 * ffmpeg's input arguments for a file that somebody brought: with the reader that its own bytes name, of a list, nothing
 * that it refers to opened, and no picture larger than Hoja takes. A playlist that is called `m.mp4` would else be followed.
 * @returns undefined for what is no such file
 */
export function inputOf(path: string, kind: 'movie' | 'picture' | 'sound'): string[] | undefined {
  const head = headOf(path)
  const demuxer = demuxers.find(([, own, begins]) => own === kind && begins(head))?.[0]
  if (!demuxer) return undefined
  const bound = kind === 'sound' ? [] : ['-max_pixels', String(limits.picturePixels.most)]
  return [...bound, '-protocol_whitelist', 'file', '-f', demuxer, '-i', `file:${resolve(path)}`]
}
