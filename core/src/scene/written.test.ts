import fc from 'fast-check'
import { allParts, edit, type Run, type Template } from '../template/index.ts'
import { assets, speaker } from '../testing/speaker.ts'
import { Scene } from './scene.ts'
import { writtenText } from './written.ts'

const first = speaker.fields.find((field) => field.type === 'text')!
function written(content: Run[], style: object = {}, own: 'text' | 'field' = 'text') {
  const part = allParts(speaker.parts).find(({ kind }) => kind === 'text')!
  const changes = Object.entries({ content, ...style }).map(
    ([key, value]) => ({ kind: 'style', part: part.id, key, value }) as const,
  )
  const template: Template = edit(speaker, { kind: 'several', changes })
  const layout = new Scene(template, assets).layout({})
  const index = layout.rest.order.index.get(part.id)!
  return { ...writtenText(template, layout, index, own), drawn: layout.blocks[index]!.text }
}

test('every written place is drawn somewhere, in order, and is found again from there', () => {
  const texts = fc.array(fc.constantFrom('a', 'ß', 'Ǆ', 'İ', 'é', 'e\u0301', '👩‍🔬', 'ل', ' ', '\n', '\t', '\u00ad'), {
    maxLength: 8,
  })
  fc.assert(
    fc.property(texts, fc.constantFrom('as written', 'upper', 'lower'), (list, letters) => {
      const own = written([{ text: list.join('') }], letters === 'as written' ? {} : { case: letters })
      expect(own.words).toBe(list.join(''))
      expect([own.toDrawn(0), own.toDrawn(own.words.length)]).toEqual([0, own.drawn.length])
      let offset = 0
      for (const character of list) {
        const place = own.toDrawn(offset)
        expect(place).toBeLessThanOrEqual(own.toDrawn(offset + character.length))
        // A control that is not drawn shares its place with what follows.
        if (own.toDrawn(offset + character.length) > place) expect(own.toWritten(place)).toBeLessThanOrEqual(offset)
        offset += character.length
      }
    }),
    { numRuns: 60 },
  )
  const sharp = written([{ text: 'Straße 1' }], { case: 'upper' })
  expect([sharp.drawn, sharp.toDrawn(5), sharp.toWritten(sharp.toDrawn(6))]).toEqual(['STRASSE 1', 6, 6])
})

test('a field among words is one character; where it is all there is, its own words are written', () => {
  const name = String(first.default)
  const own = written([{ text: 'by ' }, { field: first.id }, { text: '!' }])
  expect([own.words, own.drawn]).toEqual(['by \ufffc!', `by ${name}!`])
  expect([own.toDrawn(3), own.toDrawn(4), own.toDrawn(5)]).toEqual([3, 3 + name.length, 4 + name.length])
  expect([own.toWritten(4), own.toWritten(2 + name.length)]).toEqual([3, 4])
  expect(own.tokens).toEqual([{ start: 3, end: 3 + name.length, field: first.id }])
  const whole = written([{ field: first.id }], {}, 'field')
  expect([whole.words, whole.tokens, whole.toDrawn(2)]).toEqual([name, [], 2])
})

test('what a cut leaves out stands at its end', () => {
  const own = written([{ text: 'Harbour pilot of the whole wide estuary and all its many islands' }], {
    fit: [{ step: 'cut' }],
  })
  expect(own.toDrawn(own.words.length)).toBe(own.drawn.length)
  expect(own.toWritten(own.drawn.length)).toBe(own.words.length)
})
