import fc from 'fast-check'
import { contrastRatio } from '../colour/index.ts'
import type { Part } from '../template/index.ts'
import { axis, box, fixed, text } from '../testing/parts.ts'
import { sceneOf } from '../testing/speaker.ts'
import { leastContrast, textContrast } from './index.ts'

const at = (place: number, size: number) => axis([], fixed(size), { place })

describe('contrast', () => {
  // WCAG 2.2, definitions of contrast ratio and relative luminance: from 1:1 to 21:1, black on white being the latter.
  test('black on white is 21:1, a colour on itself 1:1', () => {
    expect(contrastRatio('#000000', '#ffffff')).toBeCloseTo(21, 10)
    expect(contrastRatio('#336699', '#336699')).toBe(1)
  })

  // Worked examples from W3C's technique G18 and its tests, from memory: #767676 is the lightest grey that passes 4.5:1 on white.
  test('the lightest grey that passes on white is #767676', () => {
    expect(contrastRatio('#767676', '#ffffff')).toBeGreaterThanOrEqual(4.5)
    expect(contrastRatio('#777777', '#ffffff')).toBeLessThan(4.5)
    expect(contrastRatio('#ff0000', '#ffffff')).toBeCloseTo(3.998, 2)
  })

  test('it is the same both ways, and never outside 1 to 21', () => {
    const colour = fc.integer({ min: 0, max: 0xffffff }).map((n) => `#${n.toString(16).padStart(6, '0')}`)
    fc.assert(
      fc.property(colour, colour, (a, b) => {
        const ratio = contrastRatio(a, b)
        expect(ratio).toBe(contrastRatio(b, a))
        expect(ratio).toBeGreaterThanOrEqual(1)
        expect(ratio).toBeLessThanOrEqual(21.0000001)
      }),
    )
  })

  test('large texts may have less: 24 px and more, at 1080 lines', () => {
    expect([leastContrast(23, 1080), leastContrast(24, 1080), leastContrast(24, 2160)]).toEqual([4.5, 3, 4.5])
  })

  const behind = (...parts: Part[]) => {
    const scene = sceneOf([...parts, text('words', 'Maren', axis([], undefined, { place: 100 }), { size: 40 })])
    return textContrast(scene.layout({}), parts.length)
  }
  test('a text is measured against the box that covers it; nobody knows the footage', () => {
    expect(behind()).toBeUndefined()
    expect(behind(box('far', at(900, 100), at(0, 100), { fill: '#000000' }))).toBeUndefined()
    const black = box('plate', at(50, 600), at(-20, 120), { fill: '#000000' })
    expect(behind(black)?.ratio).toBeCloseTo(21, 5)
    // Half a white over the black: the colours mix, and the text loses.
    const veil = box('veil', at(50, 600), at(-20, 120), { fill: '#ffffff', opacity: 0.5 })
    expect(behind(black, veil)).toMatchObject({ behind: '#808080', text: '#ffffff' })
    // A veil over footage alone hides nothing.
    expect(behind(veil)).toBeUndefined()
    // Of a gradient the worst end counts; a picture is as unknown as the footage.
    const stops = [
      { at: 0, colour: '#000000' },
      { at: 1, colour: '#eeeeee' },
    ]
    const gradient = box('g', at(50, 600), at(-20, 120), { fill: { kind: 'linear', angle: 0, stops } })
    expect(behind(gradient)?.ratio).toBeLessThan(1.3)
    const picture = box('p', at(50, 600), at(-20, 120), {
      fill: { kind: 'picture', picture: 'eel.png', scaling: 'cover' },
    })
    expect(behind(black, picture)).toBeUndefined()
  })
})
