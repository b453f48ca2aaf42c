import fc from 'fast-check'
import { Scene } from '../scene/index.ts'
import { resources } from '../testing/raster.ts'
import { assets, demoNames, demoScene, speaker } from '../testing/speaker.ts'
import { seenKeys } from './alike.ts'
import { lookAtTitle, wantedParts } from './seenChecks.ts'

const words = fc.oneof(
  fc.string({ minLength: 0, maxLength: 40 }),
  fc.lorem({ maxCount: 5 }),
  fc.constantFrom(
    'Io',
    'O',
    '.',
    'ليلى الساحلي',
    '海野 さくら',
    'Wilhelmina-Alexandrina Fotheringay-Ludlow-Okonkwo',
    'Nguyễn Thị Phương Thảo',
    'Tide\ntables',
    'WWWWWWWWWWWWWW',
    'iiiiiiiiiiiiii',
    '',
  ),
)
const number = fc.double({ min: 0, max: 40, noNaN: true })

/** Templates of which most rows share a look. */
const sharing = new Set(['place', 'score', 'slate', 'speaker', 'speaker-rtl', 'talk'])
/** How many fillings are tried: all demo templates together. */
const runs = Math.ceil(Number(process.env.SEEN_RUNS ?? 360) / demoNames.length)

test.each(demoNames)('%s: what one look says of a title holds for every one that is alike', async (name) => {
  const whole = await demoScene(name)
  const scenes = [whole, ...whole.others.map(({ scene }) => scene)]
  const { fields } = whole.template
  const fillings = fc.record(
    Object.fromEntries(
      fields.map((field) => [
        field.key,
        field.type === 'text'
          ? words
          : field.type === 'number'
            ? number
            : field.type === 'switch'
              ? fc.boolean()
              : field.type === 'picture'
                ? fc.constantFrom('', ...whole.template.media.map(({ name: picture }) => picture))
                : field.type === 'numbers'
                  ? fc.array(number, { minLength: 2, maxLength: 8 })
                  : fc.constant(field.default),
      ]),
    ),
  )
  const clear = new Set<string>()
  let shared = 0
  fc.assert(
    fc.property(fillings, (values) => {
      for (const [n, scene] of scenes.entries()) {
        const layout = scene.layoutInPassing(values as never)
        const at = { scene, layout, own: layout, timing: scene.timing(layout), row: 1 }
        const wanted = wantedParts(at)
        const keys = seenKeys(
          scene,
          layout,
          wanted.map(({ index }) => index),
        )
        if (!keys) continue
        const looked = lookAtTitle(at, resources)
        for (const { part, index } of wanted) {
          const key = `${n} ${keys.get(index)}`
          if (clear.has(key)) {
            shared++
            expect(looked.findings.filter((finding) => finding.part === part.id)).toEqual([])
          } else if (looked.clear.includes(index)) clear.add(key)
        }
      }
    }),
    { numRuns: runs },
  )
  // What is never shared proves nothing.
  if (sharing.has(name)) expect(shared).toBeGreaterThan(0)
})

test('what is seen well enough, and no better, is no pattern for what is like it', () => {
  const grey = (level: number) => `#${level.toString(16).padStart(2, '0').repeat(3)}`
  const name = speaker.parts.flatMap((part) => [part, ...(part.parts ?? [])]).find((part) => part.kind === 'text')!
  const looks = Array.from({ length: 64 }, (_, n) => {
    const template = structuredClone(speaker)
    const own = template.parts.flatMap((part) => [part, ...(part.parts ?? [])]).find(({ id }) => id === name.id)!
    Object.assign(own.style, { colour: grey(n * 4) })
    const scene = new Scene(template, assets)
    const layout = scene.layout({})
    const at = { scene, layout, own: layout, timing: scene.timing(layout), row: 1 }
    const { findings, clear } = lookAtTitle(at, resources)
    const isFine = !findings.some(({ part }) => part === name.id)
    return `${isFine ? 'fine' : 'told'}, ${clear.includes(layout.rest.order.index.get(name.id)!) ? 'clear' : 'not clear'}`
  })
  expect(new Set(looks)).toEqual(new Set(['told, not clear', 'fine, not clear', 'fine, clear']))
})
