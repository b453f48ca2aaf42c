import { writeFileSync } from 'node:fs'
import { utils, write } from '@e965/xlsx'
import ExcelJS from 'exceljs'
import { gaugeReading } from '../server/dist/feeds/standIns.js'

// The workbooks and the data file of Estuary Week, as `demo/data` holds them. All of it is invented.

/** Speakers and talks, day by day: a worksheet each, under a line that names the festival. */
const days = {
  Thursday: {
    speakers: [
      ['Ioana', 'Brezoiu', 'Tidal geographer', 'lamp.png'],
      ['Håkan', 'Sjö', 'Sluice keeper', ''],
      ['Nguyễn Thị', 'Hạnh', 'Oyster grower', 'reef.png'],
      ['Maximiliana', 'von Hollenstein', 'Head of sediment and tidal-flat restoration', 'vado.png'],
      ['', 'O', 'Percussion', ''],
    ],
    talks: [
      ['What the marsh remembers after a storm', 'Ioana Brezoiu, tidal geographer'],
      ['Eels, and how to count what will not hold still', 'Jean-Baptiste Quéré, Eel survey'],
      ['A night with the gulls', 'Ana María Ibáñez'],
    ],
  },
  Friday: {
    speakers: [
      ['Aoife', 'Ní Loingsigh', 'Salt-marsh ecologist', 'vado.png'],
      ['Świętosława', 'Brzeg', 'Harbour pilot', 'gull.png'],
      ['Gwyneth', 'Pugh', 'Boat builder', 'mill.png'],
      ['さくら', '海野', '潮汐研究員', 'gull.png'],
    ],
    talks: [
      ['Building a boat in nine tides', 'Gwyneth Pugh, boat builder'],
      ['Mud: a love story', 'Aoife Ní Loingsigh'],
    ],
  },
}

async function week() {
  const book = new ExcelJS.Workbook()
  book.created = book.modified = new Date(Date.UTC(2026, 10, 1))
  for (const [day, { speakers, talks }] of Object.entries(days)) {
    const people = book.addWorksheet(`${day} speakers`)
    people.mergeCells('A1:E1')
    people.getCell('A1').value = `Estuary Week, ${day}: who speaks`
    people.addRow([])
    people.addRow(['First', 'Last', 'Name', 'Role', 'Mark'])
    speakers.forEach(([first, last, role, mark], i) => {
      const n = i + 4
      people.addRow([first, last, { formula: `TRIM(A${n}&" "&B${n})`, result: `${first} ${last}`.trim() }, role, mark])
    })
    // The name is put together from two columns that nobody has to see.
    people.getColumn(1).hidden = true
    people.getColumn(2).hidden = true
    const programme = book.addWorksheet(`${day} talks`)
    programme.addRow(['Starts', 'Title', 'Speaker'])
    talks.forEach(([title, speaker], i) => {
      const row = programme.addRow([
        new Date(Date.UTC(2026, 10, day === 'Thursday' ? 26 : 27, 10 + 2 * i)),
        title,
        speaker,
      ])
      row.getCell(1).numFmt = 'yyyy-mm-dd hh:mm'
    })
  }
  const places = book.addWorksheet('Places')
  places.addRow(['Place', 'Coordinates'])
  for (const row of [
    ['Lower Vado saltworks', '43° 31.2′ N   8° 14.7′ W'],
    ['Puerto Brisal, outer mole', '43° 29.8′ N   8° 16.1′ W'],
    ['North Light', '43° 30.4′ N   8° 17.5′ W'],
    ['Boat builders’ hall', ''],
  ])
    places.addRow(row)
  writeFileSync('demo/data/estuary-week.xlsx', Buffer.from(await book.xlsx.writeBuffer()))
}

function species() {
  const rows = [
    ['Latin name', 'Common name', 'Picture'],
    ['Anguilla brisalensis', 'Brisal eel', 'eel.png'],
    ['Larus vadensis', 'Vado gull', 'gull.png'],
    ['Crassostrea hollensteinii', 'Hollenstein oyster', ''],
    ['Zostera puertana', 'Dwarf eelgrass of the inner harbour', 'eel.png'],
    ['Carcinus orillae', 'Orilla shore crab', 'gull.png'],
  ]
  const book = utils.book_new()
  utils.book_append_sheet(book, utils.aoa_to_sheet(rows), 'Species')
  writeFileSync('demo/data/species.ods', write(book, { type: 'buffer', bookType: 'ods' }))
}

await week()
species()
writeFileSync('demo/data/tide.json', `${JSON.stringify(gaugeReading(1_795_000_000), null, 1)}\n`)
