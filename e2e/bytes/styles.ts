import { type Keyframe, newPart, type Part, type PartKind, type Template, type Tracks } from '@hoja/core/template'

const place = (at: number, size: number) => ({ ties: [], place: at, size: { kind: 'fixed' as const, value: size } })
const part = (kind: PartKind, id: string, style: object, tracks: Tracks = {}, more: object = {}): Part =>
  ({
    ...newPart(kind, id, id),
    x: kind === 'text' ? { ties: [], place: 300, size: { kind: 'content' } } : place(260, 620),
    y: kind === 'text' ? { ties: [], place: 320, size: { kind: 'content' } } : place(280, 240),
    style,
    motion: { anchor: { x: 0.5, y: 0.5 }, tracks, out: 'mirror' },
    ...more,
  }) as Part
const keys = (from: number, to: number): Keyframe[] => [
  { span: 'in', at: 0, value: from, ease: { bezier: [0.16, 1, 0.3, 1] } },
  { span: 'in', at: 12, value: to, ease: 'linear' },
]
const gradient = {
  kind: 'linear',
  angle: 30,
  stops: [
    { at: 0, colour: '#12343b' },
    { at: 0.4, colour: '#58a39b' },
    { at: 1, colour: '#f4ead5' },
  ],
}
const wave = {
  outlines: [
    {
      closed: false,
      points: [
        { x: 0, y: 0.6, out: [0.2, -0.7] },
        { x: 0.5, y: 0.5, in: [-0.15, 0.3], out: [0.15, -0.3], smooth: true },
        { x: 1, y: 0.4, in: [-0.2, 0.7] },
      ],
    },
  ],
  fill: null,
  stroke: '#e3a24a',
  strokeWidth: 13,
}
const below = part('box', 'below', { fill: gradient })
const words = { content: [{ text: 'Ebb and flow 1984' }], font: 'semibold', size: 96, colour: '#f4ead5' }

/** Parts for every way of drawing that a template can ask for, by what they show. */
const drawings: Record<string, Part[]> = {
  'three shadows and a glow': [
    part('box', 'a', {
      fill: '#58a39b',
      radiusTopLeft: 40,
      radiusBottomRight: 90,
      shadows: [
        { x: 0, y: 0, blur: 40, colour: '#ffffffcc' },
        { x: 9, y: 14, blur: 22, colour: '#00000099' },
        { x: -30, y: 20, blur: 0, colour: '#b4472e80' },
      ],
    }),
  ],
  'a blurred gradient': [part('ellipse', 'a', { fill: gradient, blur: 9.5 })],
  'a blur that lifts': [part('text', 'a', words, { blur: { keys: keys(18, 0) }, fade: { keys: keys(0, 1) } })],
  'a blurred edge of the frame': [
    part('box', 'a', { fill: '#e3a24a', blur: 30 }, {}, { x: place(-100, 300), y: place(900, 300) }),
  ],
  ...Object.fromEntries(
    ['multiply', 'screen', 'overlay', 'soft-light', 'color-dodge', 'difference', 'hue', 'luminosity'].map((blend) => [
      `the blend mode ${blend}`,
      [below, part('ellipse', 'a', { fill: '#b4472ecc', blend })],
    ]),
  ),
  'leaning sides': [
    part('box', 'a', { fill: gradient, leanLeft: 24, leanRight: -18, radiusTopLeft: 30, radiusBottomRight: 44 }),
  ],
  'a path drawn on': [part('path', 'a', { ...wave, ends: 'round' }, { trim: { from: 'start', keys: keys(0, 1) } })],
  'a dashed path': [part('path', 'a', { ...wave, dash: 17, corners: 'bevel' })],
  'a picture in a fill': [
    part('ellipse', 'a', {
      fill: { kind: 'picture', picture: 'mill.png', scaling: 'cover' },
      strokeWidth: 6,
      stroke: '#ffffff',
      shadows: [{ x: 0, y: 8, blur: 20, colour: '#000000aa' }],
    }),
  ],
  'text along a path': [part('path', 'way', wave), part('text', 'a', { ...words, size: 64, along: 'way' })],
  'text with a gradient and a stroke': [
    part('text', 'a', { ...words, fill: gradient, stroke: '#0b2329', strokeWidth: 3, features: ['smcp', 'tnum'] }),
  ],
  'letters that draw together': [
    part('text', 'a', words, { track: { keys: keys(260, 0) }, colour: { to: '#e3a24a', keys: keys(1, 0) } }),
  ],
  'a curve over its area, drawn on': [
    part(
      'curve',
      'a',
      { values: [3, 4.4, 2.1, 6, 5.2, 7], fill: gradient, stroke: '#ffffff', strokeWidth: 7, ends: 'round' },
      { trim: { from: 'start', keys: keys(0, 1) } },
    ),
  ],
  'a crawl': [part('text', 'a', { ...words, crawl: 433 }, {}, { x: place(300, 520) })],
  ...Object.fromEntries(
    [
      [0, 'left'],
      [14, 'left'],
      [14, 'bottom'],
      [0, 'bottom'],
    ].map(([slant, from]) => [
      `a hard wipe over letters from the ${from}, leaning ${slant}`,
      [
        part('text', 'a', words, {
          reveal: { from: from as 'left', soft: 0, slant: slant as number, keys: keys(0, 1) },
        }),
      ],
    ]),
  ),
  ...Object.fromEntries(
    (['alpha', 'luminance'] as const).flatMap((by) =>
      [false, true].flatMap((invert) =>
        [false, true].map((shadows) => [
          `a picture under a matte by ${by}${invert ? ', inverted' : ''}, ${shadows ? 'with' : 'without'} its shadow, cut itself, in a moving group`,
          [
            part(
              'group',
              'g',
              {},
              { shiftY: { unit: 'px', keys: keys(90, 0) } },
              {
                x: place(0, 1920),
                y: place(0, 1080),
                parts: [
                  part(
                    'ellipse',
                    'mask',
                    {
                      fill: gradient,
                      blur: 3,
                      shadows: [{ x: 30, y: 40, blur: 30, colour: '#000000cc' }],
                    },
                    {},
                    { matte: { part: 'hole', by: 'alpha', invert: true } },
                  ),
                ],
              },
            ),
            part('box', 'hole', { matteOnly: true, radiusTopLeft: 50 }, {}, { x: place(500, 120), y: place(330, 90) }),
            part('picture', 'a', { picture: 'mill.png' }, {}, { matte: { part: 'mask', by, invert, shadows } }),
          ],
        ]),
      ),
    ),
  ),
  ...Object.fromEntries(
    [
      ['tr', 'fikir iğne ısı'],
      ['de', 'Straßenbahn'],
      ['el', 'Θαλασσινός αέρας'],
      ['ca', 'col·lecció'],
    ].map(([language, said]) => [
      `capitals and letters in ${language}`,
      [
        part('text', 'a', { ...words, content: [{ text: said }], language, case: 'upper' }),
        part(
          'text',
          'b',
          { ...words, content: [{ text: said }], language },
          {},
          { y: { ties: [], place: 500, size: { kind: 'content' } } },
        ),
      ],
    ]),
  ),
  'words that are parted': [
    part(
      'text',
      'a',
      {
        ...words,
        content: [{ text: 'Restoration of tidal flats' }],
        language: 'en',
        hyphenate: true,
        fit: [{ step: 'wrap', to: 6 }],
      },
      {},
      { room: { kind: 'width', value: 330 } },
    ),
  ],
  'a soft wipe under a luminance matte': [
    part('box', 'mask', { fill: gradient, matteOnly: true }),
    part(
      'text',
      'a',
      words,
      { reveal: { from: 'left', soft: 160, slant: 12, keys: keys(0, 1) } },
      { matte: { part: 'mask', by: 'luminance', invert: true } },
    ),
  ],
}

/** A movie as a part of its own and behind a matte, under the name `boats.mov`. */
export const movieParts: Part[] = [
  part('picture', 'a', { picture: 'boats.mov', playing: 'over and over', zoom: 1.3 }),
  part('picture', 'b', { picture: 'boats.mov', scaling: 'contain', opacity: 0.6 }, {}, { y: place(620, 300) }),
]

/** The demo template with these parts instead of its own, one for every way of drawing. */
export function styleTemplates(base: Template): [name: string, template: Template][] {
  return Object.entries(drawings).map(([name, parts]) => [name, { ...base, fields: [], proofs: [], parts }])
}
