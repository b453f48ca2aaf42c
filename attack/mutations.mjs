import { crc32 } from 'node:zlib'
import { strToU8, unzipSync, zipSync } from 'fflate'

// Hostile versions of good files, made by those who know how such a file is built: a parser is tried behind its first check.

const text = (bytes) => new TextDecoder().decode(bytes)

/** Any bytes: some flipped, cut off, doubled, or filled. */
function bytes(good, { below, pick }) {
  const out = Buffer.from(good)
  switch (pick(['flip', 'flip', 'flip', 'cut', 'double', 'fill', 'swap'])) {
    case 'flip':
      for (let n = 1 + below(8); n > 0; n--) out[below(out.length)] ^= 1 << below(8)
      return out
    case 'cut':
      return out.subarray(0, below(out.length))
    case 'double':
      return Buffer.concat([out, out.subarray(below(out.length))])
    case 'fill': {
      const at = below(out.length)
      return out.fill(pick([0, 0xff, 0x41]), at, Math.min(out.length, at + 1 + below(64)))
    }
    default: {
      const [a, b, n] = [below(out.length), below(out.length), 1 + below(32)]
      const piece = Buffer.from(out.subarray(a, a + n))
      out.set(piece.subarray(0, Math.min(piece.length, out.length - b)), b)
      return out
    }
  }
}

/** Where the entries of a zip's directory begin. */
export function directoryOf(zip) {
  const entries = []
  for (let at = zip.indexOf('PK\x01\x02', 0, 'latin1'); at >= 0; at = zip.indexOf('PK\x01\x02', at + 1, 'latin1'))
    entries.push(at)
  return entries
}

/** Zip: what the directory says of an entry, its name, its place. */
function zip(good, own) {
  const { below, pick } = own
  const out = Buffer.from(good)
  const entry = pick(directoryOf(out))
  const number = () => pick([0, 1, 0xffff, 0x7fffffff, 0xfffffffe, below(2 ** 31)])
  switch (pick(['size', 'packed', 'place', 'crc', 'method', 'name', 'count', 'doubled', 'path', 'bytes'])) {
    case 'size':
      out.writeUInt32LE(number(), entry + 24)
      return out
    case 'packed':
      out.writeUInt32LE(number(), entry + 20)
      return out
    case 'place':
      out.writeUInt32LE(number(), entry + 42)
      return out
    case 'crc':
      out.writeUInt32LE(number(), entry + 16)
      return out
    case 'method':
      out.writeUInt16LE(pick([0, 8, 9, 12, 14, 99]), entry + 10)
      return out
    case 'name':
      out.writeUInt16LE(pick([0, 3, 5000, 65_535]), entry + 28)
      return out
    case 'count':
      out.writeUInt16LE(pick([0, 1, 5000, 65_535]), out.length - 12)
      return out
    case 'doubled':
      return Buffer.concat([out, out])
    case 'path': {
      const files = unzipSync(good)
      const [first] = Object.values(files)
      return zipSync({ ...files, [pick(['../../evil', '/etc/evil', 'a/../../evil', 'C:\\evil', 'a\0b', '.'])]: first })
    }
    default:
      return bytes(good, own)
  }
}

/** XML: tags that open and do not close, close and were not opened, nest, refer, and go on. */
function xml(good, own) {
  const { below, pick } = own
  const words = text(good)
  const tags = [...words.matchAll(/<[^<>]+>/g)]
  const at = pick(tags).index
  const put = (more) => strToU8(words.slice(0, at) + more + words.slice(at))
  switch (
    pick(['open', 'close', 'deep', 'entity', 'entities', 'cdata', 'comment', 'attribute', 'signs', 'lost', 'bytes'])
  ) {
    case 'open':
      return put('<a b="c">'.repeat(1 + below(2000)))
    case 'close':
      return put('</a>'.repeat(1 + below(50)))
    case 'deep': {
      const n = 100 + below(5000)
      return put('<a>'.repeat(n) + '</a>'.repeat(n))
    }
    case 'entity':
      return strToU8(
        `<!DOCTYPE a [<!ENTITY x SYSTEM "file:///etc/passwd">]>${words.replace(/<\?xml[^>]*>/, '').replace('<title>', '<title>&x;')}`,
      )
    case 'entities': {
      const lines = Array.from({ length: 12 }, (_, i) => `<!ENTITY e${i + 1} "${`&e${i};`.repeat(10)}">`)
      return strToU8(
        `<!DOCTYPE a [<!ENTITY e0 "x">${lines.join('')}]>${words.replace(/<\?xml[^>]*>/, '').replace('<title>', '<title>&e12;')}`,
      )
    }
    case 'cdata':
      return put('<![CDATA['.repeat(1 + below(3)) + ']]>'.repeat(below(2)))
    case 'comment':
      return put(`<!--${'-'.repeat(below(2000))}`)
    case 'attribute':
      return put(`<a ${'b="'.repeat(1 + below(3000))}>`)
    case 'signs':
      return put(pick(['&#0;', '&#xffffffff;', '&'.repeat(3000), '\0', '\ufffe', ']]>']))
    case 'lost':
      return strToU8(words.replace(pick(tags)[0], ''))
    default:
      return bytes(good, own)
  }
}

/** PNG: chunks whose numbers are wrong, that are missing, doubled, or in another order, with or without their sums right. */
function png(good, own) {
  const { below, pick } = own
  const chunks = []
  for (let at = 8; at + 12 <= good.length; ) {
    const length = Buffer.from(good).readUInt32BE(at)
    chunks.push({ type: text(good.slice(at + 4, at + 8)), data: Buffer.from(good.slice(at + 8, at + 8 + length)) })
    at += 12 + length
  }
  const whole = (list, isSummed = true) =>
    Buffer.concat([
      Buffer.from(good.slice(0, 8)),
      ...list.map(({ type, data }) => {
        const chunk = Buffer.alloc(12 + data.length)
        chunk.writeUInt32BE(data.length, 0)
        chunk.write(type, 4, 'latin1')
        data.copy(chunk, 8)
        const sum = crc32(chunk.subarray(4, 8 + data.length))
        chunk.writeUInt32BE(isSummed ? sum : below(2 ** 32), 8 + data.length)
        return chunk
      }),
    ])
  const [head] = chunks
  const i = below(chunks.length)
  switch (pick(['side', 'depth', 'sum', 'lost', 'doubled', 'order', 'data', 'data', 'short', 'bytes'])) {
    case 'side':
      head.data.writeUInt32BE(pick([0, 1, 11_999, 30_000, 2 ** 31 - 1, 2 ** 32 - 1]), pick([0, 4]))
      return whole(chunks)
    case 'depth':
      head.data[8 + below(5)] = below(256)
      return whole(chunks)
    case 'sum':
      return whole(chunks, false)
    case 'lost':
      return whole(chunks.filter((_, n) => n !== i))
    case 'doubled':
      return whole([...chunks.slice(0, i), chunks[i], ...chunks.slice(i)])
    case 'order':
      return whole([...chunks].reverse())
    case 'data': {
      const { data } = pick(chunks.filter((one) => one.type === 'IDAT'))
      data[below(data.length)] ^= 1 + below(255)
      return whole(chunks)
    }
    case 'short': {
      const own = pick(chunks)
      own.data = own.data.subarray(0, below(own.data.length + 1))
      return whole(chunks)
    }
    default:
      return bytes(good, own)
  }
}

/** TrueType: a directory that points elsewhere, tables that are filled, cut, or somebody else's. */
function ttf(good, own) {
  const { below, pick } = own
  const out = Buffer.from(good)
  const count = out.readUInt16BE(4)
  const record = 12 + 16 * below(count)
  const [at, length] = [out.readUInt32BE(record + 8), out.readUInt32BE(record + 12)]
  const number = () => pick([0, 1, out.length, 0x7fffffff, 0xffffffff, below(out.length)])
  switch (pick(['offset', 'length', 'count', 'tag', 'fill', 'inside', 'inside', 'swap', 'bytes'])) {
    case 'offset':
      out.writeUInt32BE(number(), record + 8)
      return out
    case 'length':
      out.writeUInt32BE(number(), record + 12)
      return out
    case 'count':
      out.writeUInt16BE(pick([0, 1, 65_535, below(65_536)]), 4)
      return out
    case 'tag':
      out.write(pick(['cmap', 'glyf', 'GSUB', 'GPOS', 'xxxx']), record, 'latin1')
      return out
    case 'fill':
      return out.fill(pick([0, 0xff]), at, Math.min(at + length, out.length))
    case 'inside':
      for (let n = 1 + below(30); n > 0; n--)
        out[Math.min(at + below(Math.max(1, length)), out.length - 1)] = below(256)
      return out
    case 'swap': {
      const other = 12 + 16 * below(count)
      out.writeUInt32BE(out.readUInt32BE(other + 8), record + 8)
      return out
    }
    default:
      return bytes(good, own)
  }
}

/** JSON: other types, numbers beyond all bounds, keys that every object has, depth, and things that are missing or twice. */
function json(good, own) {
  const { below, pick } = own
  const value = JSON.parse(text(good))
  const places = []
  const visit = (at) => {
    for (const key of Object.keys(at)) {
      places.push([at, key])
      if (at[key] && typeof at[key] === 'object') visit(at[key])
    }
  }
  visit(value)
  const [at, key] = pick(places)
  switch (pick(['type', 'type', 'number', 'long', 'lost', 'proto', 'deep', 'list', 'text', 'bytes'])) {
    case 'type':
      at[key] = pick([null, true, '', 'x', -1, [], {}, [[]], { a: 1 }])
      return strToU8(JSON.stringify(value))
    case 'number':
      at[key] = pick([1e308, -1e308, 2 ** 53, 0.1, -0])
      return strToU8(JSON.stringify(value))
    case 'long':
      at[key] = pick(['a', '=', '\u202e', '🦀', '\0']).repeat(1 + below(200_000))
      return strToU8(JSON.stringify(value))
    case 'lost':
      if (Array.isArray(at)) at.splice(Number(key), 1)
      else delete at[key]
      return strToU8(JSON.stringify(value))
    case 'proto':
      return strToU8(
        JSON.stringify(value).replace(
          `"${key}":`,
          `"${pick(['__proto__', 'constructor', 'toString', 'hasOwnProperty'])}":`,
        ),
      )
    case 'deep': {
      const n = 150 + below(100_000)
      at[key] = '@@'
      return strToU8(JSON.stringify(value).replace('"@@"', '['.repeat(n) + ']'.repeat(n)))
    }
    case 'list':
      at[key] = Array.from({ length: below(20_000) }, () => at[key])
      return strToU8(JSON.stringify(value))
    case 'text':
      return strToU8(JSON.stringify(value).replace(pick(['"', ',', ':', '}', ']']), pick(['', ',,', '\u0001', 'NaN'])))
    default:
      return bytes(good, own)
  }
}

/** CSV: quotes without end, rows of any width, signs of any kind, formulas, and encodings that are none. */
function csv(good, own) {
  const { below, pick } = own
  const words = text(good)
  const lines = words.split('\n')
  const i = below(lines.length)
  const put = (line) => strToU8([...lines.slice(0, i), line, ...lines.slice(i)].join('\n'))
  switch (pick(['quote', 'quotes', 'wide', 'long', 'signs', 'names', 'twice', 'notes', 'formula', 'utf', 'bytes'])) {
    case 'quote':
      return put('"opened')
    case 'quotes':
      return put('"a""b",'.repeat(1 + below(20_000)))
    case 'wide':
      return put(','.repeat(below(70_000)))
    case 'long':
      return put('x'.repeat(below(300_000)))
    case 'signs':
      return put(pick(['\0', '\u0001\u0002', '\ud800', '\u202e', '\ufeff'.repeat(20)]))
    case 'names':
      return strToU8(
        [pick(['__proto__,constructor', 'name,name', ',,,', '"\n",b', '=1+1,@x']), ...lines.slice(1)].join('\n'),
      )
    case 'twice':
      return strToU8(`${words}${words}`)
    case 'notes':
      return strToU8('#\n'.repeat(below(100_000)) + words)
    case 'formula':
      return put('=cmd|"/c calc"!A1,@SUM(1)')
    case 'utf':
      return Buffer.concat([Buffer.from(pick(['fffe', 'feff', 'efbbbf', '0000feff']), 'hex'), Buffer.from(good)])
    default:
      return bytes(good, own)
  }
}

export const mutations = { zip, xml, png, ttf, json, csv }
