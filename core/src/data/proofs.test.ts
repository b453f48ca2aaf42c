import fc from 'fast-check'
import { Scene } from '../scene/index.ts'
import { assets, speaker } from '../testing/speaker.ts'
import { characterCount } from '../text/index.ts'
import { checkLayout, generatedProofs, limitOf, stateOf, textOfLength } from './index.ts'

const name = speaker.fields.find((field) => field.key === 'name')!

test('a text of a length has exactly that many characters, and ends in one that is seen', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 200 }), fc.constantFrom('Íñigo', '👩‍👩‍👧 Ana', ''), (count, words) => {
      const made = textOfLength({ ...name, default: words }, count)
      expect(characterCount(made)).toBe(count)
      expect(made).toBe(made.trimEnd())
    }),
  )
})

test('proofs are made from the fields: shortest, longest, each text empty, accents, right to left, two lines, a missing picture', () => {
  const proofs = generatedProofs(speaker)
  expect(proofs.map((proof) => proof.name)).toEqual([
    'shortest',
    'longest',
    'no name',
    'no role',
    'accents, descenders',
    'right to left',
    'two lines',
    'mark missing',
  ])
  const scene = new Scene(speaker, assets)
  const state = (id: string) => {
    const proof = proofs.find((p) => p.id === `generated-${id}`)!
    return stateOf(checkLayout(scene, scene.layout(proof.values), scene.timing(scene.layout(proof.values))))
  }
  expect(state('missing-mark')).toBe('stop')
  expect(state('shortest')).toBe('fine')
  expect(characterCount(String(proofs[1]!.values.name))).toBe(limitOf(name))
  expect(generatedProofs({ ...speaker, fields: [] })).toEqual([])
})

test('no proof holds more than its field may', () => {
  const fields = speaker.fields.map((field) => (field.type === 'text' ? { ...field, limit: 12, lines: 1 } : field))
  const short = { ...speaker, fields }
  const scene = new Scene(short, assets)
  const proofs = generatedProofs(short)
  expect(proofs.map(({ id }) => id)).not.toContain('generated-two-lines')
  for (const { values } of proofs) {
    const codes = checkLayout(scene, scene.layout(values), scene.timing(scene.layout(values))).map(({ code }) => code)
    expect(codes.filter((code) => ['limit', 'lines', 'spaces'].includes(code))).toEqual([])
  }
})
