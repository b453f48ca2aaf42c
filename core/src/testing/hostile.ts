import { strToU8, zipSync } from 'fflate'

/** A feed whose one item has a title. */
export const feedOf = (title: string) =>
  strToU8(`<rss version="2.0"><channel><item><title>${title}</title></item></channel></rss>`)

/** An OpenDocument spreadsheet around what its one table holds. */
export function odsOf(rows: string): Uint8Array {
  const content = `<office:document-content><office:body><office:spreadsheet><table:table table:name="A">${rows}</table:table></office:spreadsheet></office:body></office:document-content>`
  return zipSync({
    mimetype: strToU8('application/vnd.oasis.opendocument.spreadsheet'),
    'content.xml': strToU8(content),
  })
}

/** An ODS row of one cell with a word in it, said to be there so many times. */
export const odsRow = (rows: number, columns = 1) =>
  `<table:table-row table:number-rows-repeated="${rows}"><table:table-cell table:number-columns-repeated="${columns}" office:value-type="string"><text:p>x</text:p></table:table-cell></table:table-row>`

const types = 'http://schemas.openxmlformats.org/package/2006/content-types'
const relations = 'http://schemas.openxmlformats.org/package/2006/relationships'
const office = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships'
const main = 'http://schemas.openxmlformats.org/spreadsheetml/2006/main'

/** A workbook (ECMA-376) of one worksheet: what it says of its size, and what it holds. */
export function xlsxOf(dimension: string, inside: string): Uint8Array {
  const files = {
    '[Content_Types].xml': `<Types xmlns="${types}"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/><Override PartName="/xl/workbook.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.sheet.main+xml"/><Override PartName="/xl/worksheets/sheet1.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.worksheet+xml"/></Types>`,
    '_rels/.rels': `<Relationships xmlns="${relations}"><Relationship Id="rId1" Type="${office}/officeDocument" Target="xl/workbook.xml"/></Relationships>`,
    'xl/workbook.xml': `<workbook xmlns="${main}" xmlns:r="${office}"><sheets><sheet name="A" sheetId="1" r:id="rId1"/></sheets></workbook>`,
    'xl/_rels/workbook.xml.rels': `<Relationships xmlns="${relations}"><Relationship Id="rId1" Type="${office}/worksheet" Target="worksheets/sheet1.xml"/></Relationships>`,
    'xl/worksheets/sheet1.xml': `<worksheet xmlns="${main}"><dimension ref="${dimension}"/>${inside}</worksheet>`,
  }
  return zipSync(Object.fromEntries(Object.entries(files).map(([path, text]) => [path, strToU8(text)])))
}

/** An xlsx row of one cell. */
export const xlsxRow = (row: number, words: string, column = 'A') =>
  `<row r="${row}"><c r="${column}${row}" t="str"><v>${words}</v></c></row>`
