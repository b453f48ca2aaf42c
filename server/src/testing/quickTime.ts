import { readFileSync } from 'node:fs'

/** An atom as the QuickTime File Format Specification (Apple, 2001 and later) has them: four characters and a length. */
export interface Atom {
  type: string
  /** What follows size and type. */
  data: Buffer
  /** Of it, what stands before the atoms that it holds. */
  own: Buffer
  atoms: Atom[]
}

/** Atoms that hold others, and how many bytes of their own stand before those. */
const holders: Record<string, number> = {
  moov: 0,
  trak: 0,
  edts: 0,
  mdia: 0,
  minf: 0,
  dinf: 0,
  stbl: 0,
  udta: 0,
  tref: 0,
  gmhd: 0,
  tmcd: 0,
  stsd: 8,
  dref: 8,
  meta: 8,
}

/** Bytes of a picture's sample description before the atoms that extend it. */
const description = 78

function atomsIn(bytes: Buffer, within: string): Atom[] {
  const atoms: Atom[] = []
  for (let at = 0; at + 8 <= bytes.length; ) {
    let size = bytes.readUInt32BE(at)
    let head = 8
    const type = bytes.toString('latin1', at + 4, at + 8)
    if (size === 1) {
      size = Number(bytes.readBigUInt64BE(at + 8))
      head = 16
    }
    if (size === 0) size = bytes.length - at
    if (size < head || at + size > bytes.length) break
    const data = bytes.subarray(at + head, at + size)
    // A time code's own description has the name of the atom that holds one.
    const isDescription = within === 'stsd'
    const own = isDescription ? (type === 'tmcd' || type === 'text' ? undefined : description) : holders[type]
    atoms.push({
      type,
      data,
      own: data.subarray(0, own ?? data.length),
      atoms: own === undefined ? [] : atomsIn(data.subarray(own), type),
    })
    at += size
  }
  return atoms
}

export const atomsOf = (file: string): Atom[] => atomsIn(readFileSync(file), '')

/** The atoms at a way down, as `moov/trak/mdia`. */
export function atomsAt(atoms: readonly Atom[], way: string): Atom[] {
  return way.split('/').reduce<Atom[]>((found, type, i) => {
    const from = i === 0 ? [...atoms] : found.flatMap((atom) => atom.atoms)
    return from.filter((atom) => atom.type === type)
  }, [])
}

/** What a picture track says of itself. */
export function pictureTrack(file: string) {
  const tracks = atomsAt(atomsOf(file), 'moov/trak')
  const handlerOf = (track: Atom) => atomsAt(track.atoms, 'mdia/hdlr')[0]!.data.toString('latin1', 8, 12)
  const track = tracks.find((one) => handlerOf(one) === 'vide')!
  const at = (way: string) => atomsAt(track.atoms, way)
  const sample = at('mdia/minf/stbl/stsd')[0]!.atoms[0]!
  const extension = (type: string) => sample.atoms.find((atom) => atom.type === type)?.data
  const numbers = (type: string, size: 2 | 4) => {
    const data = extension(type)
    return data && Array.from({ length: Math.floor(data.length / size) }, (_, i) => data.readUIntBE(i * size, size))
  }
  const colr = extension('colr')
  const edit = at('edts/elst')[0]!.data
  const hdlr = at('mdia/hdlr')[0]!.data
  return {
    tracks: tracks.map(handlerOf),
    codec: sample.type,
    vendor: sample.data.toString('latin1', 12, 16),
    size: [sample.data.readUInt16BE(24), sample.data.readUInt16BE(26)],
    depth: sample.data.readUInt16BE(74),
    extensions: sample.atoms.map(({ type }) => type),
    colr: colr && [
      colr.toString('latin1', 0, 4),
      colr.readUInt16BE(4),
      colr.readUInt16BE(6),
      colr.readUInt16BE(8),
      ...(colr.length > 10 ? [colr[10]! >> 7] : []),
    ],
    fiel: extension('fiel') && [...extension('fiel')!],
    pasp: numbers('pasp', 4),
    /** One entry: its length by the movie's clock, where in the media it begins, and its rate (16.16). */
    edit: [edit.readUInt32BE(8), edit.readInt32BE(12), edit.readUInt32BE(16)],
    handler: [hdlr.toString('latin1', 4, 8), hdlr.toString('latin1', 8, 12), hdlr.subarray(24).toString('latin1')],
    clock: at('mdia/mdhd')[0]!.data.readUInt32BE(12),
    /** Frames and the ticks of each, run by run. */
    times: ((stts) =>
      Array.from({ length: stts.readUInt32BE(4) }, (_, i) => [
        stts.readUInt32BE(8 + 8 * i),
        stts.readUInt32BE(12 + 8 * i),
      ]))(at('mdia/minf/stbl/stts')[0]!.data),
  }
}
