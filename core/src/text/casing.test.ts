import { execFileSync } from 'node:child_process'
import { drawnText, headCase, lowerCase, upperCase } from './index.ts'

// Unicode SpecialCasing.txt and the CLDR tailorings: worked examples, from memory of the published files.
test('capitals by language: Turkish i, Greek without accents, German ß, Lithuanian and Dutch', () => {
  expect([upperCase('ışık iğne', 'tr'), lowerCase('ISPARTA İZMİR', 'tr')]).toEqual(['IŞIK İĞNE', 'ısparta izmir'])
  expect([upperCase('iki', 'az'), upperCase('iki', 'en'), upperCase('iki')]).toEqual(['İKİ', 'IKI', 'IKI'])
  expect([upperCase('Θαλασσινός αέρας', 'el'), upperCase('Μάιος')]).toEqual(['ΘΑΛΑΣΣΙΝΟΣ ΑΕΡΑΣ', 'ΜΆΙΟΣ'])
  expect([upperCase('Straße', 'de'), upperCase('Straße', 'de', () => false), upperCase('Straße')]).toEqual([
    'STRAẞE',
    'STRASSE',
    'STRASSE',
  ])
  expect([headCase('ijsselmeer', 'nl'), headCase('ijsselmeer', 'en'), headCase('ißt', 'de')]).toEqual([
    'IJsselmeer',
    'Ijsselmeer',
    'Ißt',
  ])
  expect([headCase('ilgaz', 'tr'), headCase('ǆep', 'hr'), lowerCase('ΟΔΟΣ', 'el')]).toEqual(['İlgaz', 'ǅep', 'οδος'])
})

test('the process’s own locale changes nothing', () => {
  const script = `
    const { upperCase, headCase } = await import('${new URL('../../dist/text/index.js', import.meta.url)}')
    process.stdout.write(upperCase('iğne') + upperCase('iğne', 'tr') + headCase('ilgaz', 'en'))`
  const told = ['C', 'tr_TR.UTF-8', 'lt_LT.UTF-8'].map((locale) =>
    execFileSync(process.execPath, ['--input-type=module', '-e', script], {
      encoding: 'utf8',
      env: { ...process.env, LC_ALL: locale, LANG: locale },
    }),
  )
  expect(told).toEqual(['IĞNEİĞNEIlgaz', 'IĞNEİĞNEIlgaz', 'IĞNEİĞNEIlgaz'])
})

test('a tab is drawn as one space, other control characters as nothing, lines stay lines', () => {
  expect(drawnText('a\tb\u0007c\u001bd\r\ne\u0085f')).toBe('a bcd\nef')
})
