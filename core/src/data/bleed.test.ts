import { Scene } from '../scene/index.ts'
import { newTemplate, type Part, type Template } from '../template/index.ts'
import { axis, box, fixed } from '../testing/parts.ts'
import { assets } from '../testing/speaker.ts'
import { pastDrawn } from './safe.ts'

/** How far a strip that was drawn in one place is told to stand outside action-safe in another; frame of 1920 px, 3.5 % (67.2 px) at each side (EBU R 95). */
function told(drawn: [x: number, width: number], now: [x: number, width: number]): number {
  const of = ([x, width]: [number, number]) => {
    const part: Part = box('strip', axis([], fixed(width), { place: x }), axis([], fixed(100), { place: 500 }))
    const template: Template = { ...newTemplate('t', 'T'), parts: [part] }
    return new Scene(template, assets).layout({})
  }
  return pastDrawn(of(now), of(drawn), 0, 'action')
}

test.each([
  ['drawn inside, brought out', [200, 400], [1500, 400], 1900 - (1920 - 67.2)],
  ['drawn from edge to edge', [0, 1920], [0, 1920], Number.NEGATIVE_INFINITY],
  ['drawn beyond the safe area, and there it stays', [1500, 400], [1500, 400], Number.NEGATIVE_INFINITY],
  ['drawn inside, grown until it ends with the frame', [200, 400], [200, 1720], Number.NEGATIVE_INFINITY],
  ['drawn inside, grown beyond the frame', [200, 400], [200, 1730], 1930 - (1920 - 67.2)],
] as const)('%s', (_, drawn, now, by) => {
  expect(told([...drawn], [...now])).toBeCloseTo(by, 3)
})
