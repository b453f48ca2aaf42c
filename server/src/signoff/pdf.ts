import { loadImage, PDFDocument, type SKRSContext2D } from '@napi-rs/canvas'
import { pictureSize, type SignOffRow, type SignOffSheet } from './sheet.ts'
import { fontOf, registerFonts } from './sheetFonts.ts'

/** A4, in points. */
const page = { width: 595, height: 842, margin: 36 }
const columns = { n: 36, picture: 62, texts: 272, checks: 416, initials: 522 }
const pictureWidth = 200
const pictureHeight = (pictureWidth * pictureSize.height) / pictureSize.width
const right = page.width - page.margin

const ink = '#20261f'
const soft = '#5b6459'
const stateColours = { stop: '#b3261e', look: '#8f5200', fine: '#1f7a4d' }

/** A text in lines that fit a width; a word that is wider than it is broken. */
function linesOf(context: SKRSContext2D, text: string, width: number): string[] {
  const lines: string[] = []
  for (const paragraph of text.split('\n')) {
    let line = ''
    for (const word of paragraph.split(/(?<=\s)/)) {
      if (line !== '' && context.measureText(line + word.trimEnd()).width > width) {
        lines.push(line.trimEnd())
        line = ''
      }
      line += word
      while (context.measureText(line.trimEnd()).width > width && [...line].length > 1) {
        const letters = [...line]
        let count = letters.length - 1
        while (count > 1 && context.measureText(letters.slice(0, count).join('')).width > width) count--
        lines.push(letters.slice(0, count).join(''))
        line = letters.slice(count).join('')
      }
    }
    lines.push(line.trimEnd())
  }
  return lines
}

interface Written {
  text: string
  size: number
  weight: number
  colour: string
  /** pt to the next baseline. */
  pitch: number
}

function written(
  context: SKRSContext2D,
  text: string,
  width: number,
  size: number,
  colour: string,
  weight = 400,
): Written[] {
  context.font = fontOf(size, weight)
  return linesOf(context, text, width).map((line) => ({ text: line, size, weight, colour, pitch: size * 1.3 }))
}

const heightOf = (lines: readonly Written[]) => lines.reduce((sum, { pitch }) => sum + pitch, 0)

/** Letters stand by themselves, so that what is copied is what was written. */
const apart = '0.01px'

function write(context: SKRSContext2D, lines: readonly Written[], x: number, top: number): void {
  let y = top
  for (const { text, size, weight, colour, pitch } of lines) {
    context.font = fontOf(size, weight)
    context.letterSpacing = apart
    context.fillStyle = colour
    y += pitch
    context.fillText(text, x, y - pitch * 0.28)
  }
}

/** What a row writes, in its two columns. */
function wordsOf(context: SKRSContext2D, row: SignOffRow): { texts: Written[]; checks: Written[] } {
  const textWidth = columns.checks - columns.texts - 12
  const checkWidth = columns.initials - columns.checks - 12
  return {
    texts: row.texts.flatMap(({ name, text }) => [
      ...written(context, name, textWidth, 7, soft),
      ...written(context, text || '—', textWidth, 11, ink, 600),
    ]),
    checks: [
      ...written(context, row.state, checkWidth, 8, stateColours[row.state], 600),
      ...row.findings.flatMap((message) => written(context, message, checkWidth, 7.5, ink)),
      ...(row.note ? written(context, `Note: ${row.note}`, checkWidth, 7.5, soft) : []),
    ],
  }
}

/** A sign-off sheet as PDF, A4: the text in it is text, to be found and copied. */
export async function signOffPdf(sheet: SignOffSheet): Promise<Buffer> {
  registerFonts()
  const document = new PDFDocument({
    title: `${sheet.words.sheet}: ${sheet.title}`,
    creator: 'Hoja',
    encodingQuality: 101,
  })
  // Heights are known before anything is written, so that every page says how many there are.
  // The package's types call it by the browser's name; it is the same context as a canvas has.
  const begin = () => document.beginPage(page.width, page.height) as unknown as SKRSContext2D
  const ruler = begin()
  const head = page.margin + 44
  const foot = page.height - page.margin - 34
  const laid = sheet.rows.map((row) => {
    const words = wordsOf(ruler, row)
    return { row, words, height: Math.max(pictureHeight, heightOf(words.texts), heightOf(words.checks), 44) + 14 }
  })
  const pages: (typeof laid)[] = [[]]
  let used = head
  for (const one of laid) {
    if (used + one.height > foot && pages[pages.length - 1]!.length > 0) {
      pages.push([])
      used = head
    }
    pages[pages.length - 1]!.push(one)
    used += one.height
  }
  for (const [i, list] of pages.entries()) {
    const context = i === 0 ? ruler : begin()
    write(
      context,
      written(context, `${sheet.words.sheet}: ${sheet.title}`, 400, 14, ink, 600),
      page.margin,
      page.margin - 8,
    )
    write(context, written(context, sheet.about, 460, 8, soft), page.margin, page.margin + 11)
    const count = `page ${i + 1} of ${pages.length}`
    write(context, written(context, count, 80, 8, soft), right - 56, page.margin - 4)
    for (const [key, name] of Object.entries(sheet.words.columns))
      write(context, written(context, name, 140, 7, soft), columns[key as keyof typeof columns], page.margin + 26)
    rule(context, head - 4, ink)
    let top = head
    for (const { row, words, height } of list) {
      write(context, written(context, String(row.n), 30, 9, ink), columns.n, top + 4)
      context.fillStyle = '#7a7a77'
      context.fillRect(columns.picture, top + 5, pictureWidth, pictureHeight)
      context.drawImage(
        await loadImage(Buffer.from(row.picture)),
        columns.picture,
        top + 5,
        pictureWidth,
        pictureHeight,
      )
      write(context, words.texts, columns.texts, top + 3)
      write(context, words.checks, columns.checks, top + 3)
      rule(context, top + 40, ink, columns.initials)
      top += height
      rule(context, top - 2, '#d9d6cc')
    }
    for (const [x, words] of [
      [page.margin, 'Approved by'],
      [330, 'Date'],
    ] as const) {
      rule(context, foot + 22, ink, x, x === 330 ? right : 300)
      write(context, written(context, words, 100, 7, soft), x, foot + 23)
    }
    document.endPage()
  }
  return document.close()
}

function rule(context: SKRSContext2D, y: number, colour: string, from = page.margin, to = right): void {
  context.strokeStyle = colour
  context.lineWidth = 0.5
  context.beginPath()
  context.moveTo(from, y)
  context.lineTo(to, y)
  context.stroke()
}
