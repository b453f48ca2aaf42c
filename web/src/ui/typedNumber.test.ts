import fc from 'fast-check'
import { typedNumber } from './typedNumber.ts'

test('a number is itself, a sum its result; what begins with a sign goes on from what stands there', () => {
  for (const [text, value] of [
    ['12', 12],
    ['12,5', 12.5],
    ['.5', 0.5],
    ['-5', -5],
    ['−5', -5],
    ['+10', 40],
    ['*2', 60],
    ['/4', 7.5],
    ['× 2', 60],
    ['1/3', 1 / 3],
    ['(2 + 3) * 4 - 6/2', 17],
    ['2*-3', -6],
    ['100-7', 93],
  ] as const)
    expect(typedNumber(text, 30)).toBeCloseTo(value, 12)
  for (const text of ['', 'abc', '1+', '(2', '2)', '1..2', '3 px', '1/0', '--', '*'])
    expect(typedNumber(text, 30)).toBeNaN()
})

test('what is typed counts as JavaScript counts it', () => {
  const number = fc.nat(99).map(String)
  const sum = fc
    .tuple(number, fc.array(fc.tuple(fc.constantFrom('+', '-', '*', '/'), number), { maxLength: 5 }))
    .map(([first, more]) => first + more.flat().join(''))
  fc.assert(
    fc.property(sum, (text) => {
      const expected = Number(new Function(`return ${text.replace(/\b0+(?=\d)/g, '')}`)())
      const found = typedNumber(text, 1)
      if (Number.isFinite(expected)) expect(found).toBeCloseTo(expected, 6)
      else expect(found).toBeNaN()
    }),
  )
})

test('a per cent sign means per cent where that is shown, else a share of what stands there', () => {
  expect(typedNumber('50%', 80, true)).toBe(50)
  expect(typedNumber('50 %', 80)).toBe(40)
  expect(typedNumber('100/3 %', 300)).toBeCloseTo(100, 9)
  expect(typedNumber('%', 80)).toBeNaN()
})
