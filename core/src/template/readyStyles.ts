import type { SavedStyle } from './types.ts'

/** Styles to begin with. Their colours are their own: a palette entry of the same look is a matter of one press. */
export const readyStyles: readonly SavedStyle[] = [
  { name: 'Deep plate', kind: 'box', style: { fill: '#10272de6', shadows: [soft(6, 22, '#00000059')] } },
  { name: 'Light plate', kind: 'box', style: { fill: '#f6f1e4f2', shadows: [soft(4, 18, '#00000040')] } },
  {
    name: 'Falling light',
    kind: 'box',
    style: {
      fill: {
        kind: 'linear',
        angle: 90,
        stops: [
          { at: 0, colour: '#1d5560' },
          { at: 1, colour: '#0d2429' },
        ],
      },
    },
  },
  { name: 'Line around', kind: 'box', style: { fill: '#00000000', stroke: '#f6f1e4', strokeWidth: 3 } },
  {
    name: 'Rounded',
    kind: 'box',
    style: { radiusTopLeft: 14, radiusTopRight: 14, radiusBottomRight: 14, radiusBottomLeft: 14 },
  },
  { name: 'Headline', kind: 'text', style: { size: 72, leading: 1.05, tracking: -5 } },
  { name: 'Second line', kind: 'text', style: { size: 38, leading: 1.15 } },
  { name: 'Label in capitals', kind: 'text', style: { size: 26, tracking: 80, case: 'upper' } },
  { name: 'Readable on anything', kind: 'text', style: { colour: '#ffffff', shadows: [soft(2, 8, '#000000b3')] } },
]

function soft(y: number, blur: number, colour: string) {
  return { x: 0, y, blur, colour }
}
