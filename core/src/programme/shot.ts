import type { Box } from '../geometry/index.ts'
import { type Brush, type DrawList, type Item, scaling, translation } from '../paint/index.ts'

/** The picture that shots are drawn for, px; they grow to any other. */
const drawn = { width: 1920, height: 1080 }

/** What makes one shot differ from another: of the river mouth of Puerto Brisal. */
interface View {
  name: string
  sky: [string, string]
  water: [string, string]
  /** Height of the horizon, and where the hills lie, px. */
  horizon: number
  hills: string
  hill: string
  /** px a frame that the picture goes to the side, as a hand holds it. */
  drift: number
  /** A boat with a hull of this width, which goes so many px a frame; 0: none. */
  boat: { width: number; speed: number; colour: string } | undefined
}

const views: readonly View[] = [
  {
    name: 'River mouth',
    sky: ['#b9cfd4', '#8fb0ac'],
    water: ['#55756f', '#2f4743'],
    horizon: 640,
    hills: 'M-200 632C200 560 420 580 640 612S1180 640 1460 604 1900 590 2200 580V690H-200Z',
    hill: '#5d7c70',
    drift: 0.25,
    boat: { width: 240, speed: 1.5, colour: '#e9e1cf' },
  },
  {
    name: 'Saltworks',
    sky: ['#e6d9bf', '#cdbf9f'],
    water: ['#8d9c90', '#566a63'],
    horizon: 560,
    hills: 'M-200 560H300L420 520 560 556H1120L1260 500 1420 556H2200V600H-200Z',
    hill: '#a89878',
    drift: -0.4,
    boat: undefined,
  },
  {
    name: 'Ferry',
    sky: ['#9fb7c4', '#d7c9b5'],
    water: ['#476269', '#263c42'],
    horizon: 500,
    hills: 'M-200 500C300 440 700 470 1000 486S1700 450 2200 470V520H-200Z',
    hill: '#56706f',
    drift: 0.6,
    boat: { width: 520, speed: -3, colour: '#b96a3f' },
  },
  {
    name: 'Marsh at dusk',
    sky: ['#5b5f78', '#c98f6b'],
    water: ['#6d5a56', '#2d3438'],
    horizon: 600,
    hills: 'M-200 596C0 570 200 590 420 584S900 560 1200 588 1800 576 2200 590V640H-200Z',
    hill: '#3a4440',
    drift: 0.15,
    boat: { width: 160, speed: 0.8, colour: '#20261f' },
  },
]

export const shotNames: readonly string[] = views.map(({ name }) => name)

const rect = (x: number, y: number, width: number, height: number, fill: Brush): Item => ({
  kind: 'path',
  d: `M${x} ${y}h${width}v${height}h${-width}Z`,
  bounds: { x, y, width, height },
  fill,
})

const shape = (d: string, bounds: Box, fill: Brush): Item => ({ kind: 'path', d, bounds, fill })

const at = (x: number, y: number, items: Item[]): Item => ({
  kind: 'layer',
  matrix: translation(x, y),
  opacity: 1,
  items,
})

const down = (from: number, to: number, [above, below]: [string, string]): Brush => ({
  kind: 'linear',
  x0: 0,
  y0: from,
  x1: 0,
  y1: to,
  stops: [
    [0, above],
    [1, below],
  ],
})

/** Which of seven strokes a digit has: top, upper left, upper right, middle, lower left, lower right, bottom. */
const strokes = [
  '1110111',
  '0010010',
  '1011101',
  '1011011',
  '0111010',
  '1101011',
  '1101111',
  '1010010',
  '1111111',
  '1111011',
]
const digit = { width: 26, height: 46, stroke: 6, step: 36 }

/** A timecode in strokes, so that no font is needed to burn it in; its first digit's upper left corner is at 0, 0. */
function burnt(timecode: string): { items: Item[]; width: number } {
  const { width, height, stroke, step } = digit
  const half = (height - stroke) / 2
  const items: Item[] = []
  let x = 0
  for (const sign of timecode) {
    const places = strokes[Number(sign)]
    if (!/\d/.test(sign) || !places) {
      for (const y of sign === ';' ? [height - stroke] : [half - 6, half + 12])
        items.push(rect(x, y, stroke, stroke, '#ffffff'))
      x += 18
      continue
    }
    const all: [number, number, number, number][] = [
      [0, 0, width, stroke],
      [0, 0, stroke, half + stroke],
      [width - stroke, 0, stroke, half + stroke],
      [0, half, width, stroke],
      [0, half, stroke, half + stroke],
      [width - stroke, half, stroke, half + stroke],
      [0, height - stroke, width, stroke],
    ]
    all.forEach(([dx, dy, w, h], i) => {
      if (places[i] === '1') items.push(rect(x + dx, dy, w, h, '#ffffff'))
    })
    x += step
  }
  return { items, width: x - (step - width) }
}

/** A timecode burnt into a picture, white on a dark bar at its top. */
export function burntTimecode(timecode: string, { width, height }: { width: number; height: number }): Item {
  const scale = Math.min(width / drawn.width, height / drawn.height)
  const { items, width: wide } = burnt(timecode)
  const bar = rect(-18, -14, wide + 36, digit.height + 28, '#000000a6')
  return {
    kind: 'layer',
    matrix: [scale, 0, 0, scale, width / 2 - (wide * scale) / 2, 48 * scale],
    opacity: 1,
    items: [bar, ...items],
  }
}

function boatOf({ width, colour }: NonNullable<View['boat']>, bob: number): Item[] {
  const hull = `M0 0H${width}L${width * 0.88} ${width * 0.16}H${width * 0.14}Z`
  const cabin = { x: width * 0.32, y: -width * 0.2, width: width * 0.3, height: width * 0.2 }
  return [
    at(0, bob, [
      rect(cabin.x, cabin.y, cabin.width, cabin.height, '#f2f1ec'),
      rect(
        cabin.x + cabin.width * 0.12,
        cabin.y + cabin.height * 0.25,
        cabin.width * 0.76,
        cabin.height * 0.32,
        '#3d5054',
      ),
      rect(width * 0.7, -width * 0.42, width * 0.014, width * 0.42, '#3d4a45'),
      shape(hull, { x: 0, y: 0, width, height: width * 0.16 }, colour),
    ]),
  ]
}

/**
 * A drawn shot: a view in which things move, with a timecode burnt in. The same on every machine, and of any length.
 * @param scene which view; they go round
 * @param frame of the shot, from 0
 */
export function shotFrame(
  scene: number,
  frame: number,
  timecode: string,
  { width, height }: { width: number; height: number },
): DrawList {
  const view = views[scene % views.length]!
  const { horizon, boat } = view
  // There and back, so that a long shot does not run out of its hills.
  const sway = 160 * Math.sin((frame * view.drift) / 160)
  const items: Item[] = [
    rect(0, 0, drawn.width, horizon, down(0, horizon, view.sky)),
    at(sway, 0, [shape(view.hills, { x: -200, y: 420, width: 2400, height: 280 }, view.hill)]),
    rect(0, horizon, drawn.width, drawn.height - horizon, down(horizon, drawn.height, view.water)),
  ]
  for (let i = 0; i < 9; i++) {
    const y = horizon + 26 + i * i * 4.6
    const long = 90 + i * 26
    const run = drawn.width + long
    const x = ((((i * 397 + frame * (0.6 + i * 0.22)) % run) + run) % run) - long
    items.push(rect(x, y, long, 2 + i * 0.35, '#ffffff24'))
  }
  if (boat) {
    const run = drawn.width + 2 * boat.width
    const x = ((((700 + frame * boat.speed) % run) + run) % run) - boat.width
    items.push(at(x, horizon + boat.width * 0.3, boatOf(boat, 3 * Math.sin(frame / 14))))
  }
  for (let i = 0; i < 3; i++) {
    const x = ((300 + i * 520 + frame * (1.1 + i * 0.3)) % (drawn.width + 120)) - 60
    const y = 150 + i * 46 + 10 * Math.sin(frame / 9 + i)
    const flap = 9 * Math.sin(frame / 3 + i * 2)
    items.push(
      at(x, y, [
        {
          kind: 'path',
          d: `M-22 ${-flap}Q-10 -8 0 0Q10 -8 22 ${-flap}`,
          bounds: { x: -24, y: -20, width: 48, height: 40 },
          stroke: { brush: '#38433fb0', width: 3.5, cap: 'round' },
        },
      ]),
    )
  }
  const scale = scaling(width / drawn.width, height / drawn.height)
  return {
    width,
    height,
    items: [{ kind: 'layer', matrix: scale, opacity: 1, items }, burntTimecode(timecode, { width, height })],
  }
}
