import { Resvg } from '@resvg/resvg-js'
import { drawn } from '../testing/raster.ts'
import { sceneOf } from '../testing/speaker.ts'
import { artworkParts, readSvgArtwork } from './index.ts'

const size = { width: 160, height: 120 }
const svg = (inside: string) =>
  `<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" viewBox="0 0 160 120" width="160" height="120">${inside}</svg>`

/** Drawings of what SVG 1.1 can say and parts can, too. */
const drawings: Record<string, string> = {
  'a linear gradient over a box':
    '<linearGradient id="g"><stop offset="0" stop-color="red"/><stop offset=".3" stop-color="#ffd"/><stop offset="1" stop-color="navy" stop-opacity=".5"/></linearGradient><rect x="10" y="10" width="120" height="70" fill="url(#g)"/>',
  'a linear gradient by a line of its own, turned':
    '<linearGradient id="g" gradientUnits="userSpaceOnUse" x1="30" y1="20" x2="70" y2="80" gradientTransform="rotate(20 50 50)"><stop offset="10%" stop-color="#0a0"/><stop offset="90%" stop-color="#fa0"/></linearGradient><path d="M10 20L140 30L120 110L30 90Z" fill="url(#g)"/>',
  'a gradient over a box that is scaled unevenly':
    '<linearGradient id="g" x1="0" y1="0" x2="1" y2="1"><stop offset="0" stop-color="#fff"/><stop offset="1" stop-color="#024"/></linearGradient><g transform="translate(10 10) scale(2 .8)"><rect width="60" height="90" fill="url(#g)"/></g>',
  'a gradient that takes over another, and goes back and forth':
    '<linearGradient id="a"><stop offset="0" stop-color="#e33"/><stop offset="1" stop-color="#33e"/></linearGradient><linearGradient id="g" xlink:href="#a" gradientUnits="userSpaceOnUse" x1="20" x2="60" y1="0" y2="0" spreadMethod="reflect"/><rect x="5" y="5" width="150" height="50" fill="url(#g)"/><linearGradient id="h" xlink:href="#a" gradientUnits="userSpaceOnUse" x1="20" x2="60" y1="0" y2="0"/><rect x="5" y="60" width="150" height="50" fill="url(#h)"/>',
  'a round gradient, in the middle and aside':
    '<radialGradient id="g"><stop offset="0" stop-color="#ff8"/><stop offset="1" stop-color="#803"/></radialGradient><circle cx="40" cy="60" r="35" fill="url(#g)"/><radialGradient id="h" gradientUnits="userSpaceOnUse" cx="100" cy="40" r="50" gradientTransform="translate(4 6)"><stop offset=".2" stop-color="#fff"/><stop offset="1" stop-color="#046"/></radialGradient><rect x="85" y="15" width="70" height="90" fill="url(#h)"/>',
  'a clip of two shapes, in a transform':
    '<clipPath id="c"><circle cx="40" cy="40" r="30"/><rect x="60" y="30" width="40" height="40" transform="rotate(10)"/></clipPath><g clip-path="url(#c)" transform="translate(20 10)"><rect width="140" height="60" fill="#168"/><rect y="40" width="140" height="60" fill="#fb0"/></g>',
  'a clip by shares of the box, with a hole':
    '<clipPath id="c" clipPathUnits="objectBoundingBox"><path clip-rule="evenodd" d="M0 0H1V1H0ZM.3 .3H.7V.7H.3Z"/></clipPath><rect x="20" y="20" width="100" height="60" fill="#6a3" clip-path="url(#c)"/>',
  'a mask of luminance, its gradient too':
    '<linearGradient id="g"><stop offset="0" stop-color="#000"/><stop offset="1" stop-color="#fff"/></linearGradient><mask id="m"><rect width="160" height="120" fill="url(#g)"/></mask><g mask="url(#m)"><rect x="10" y="10" width="130" height="50" fill="#d22"/><circle cx="80" cy="80" r="30" fill="#22d"/></g>',
  'a mask whose region ends before what it masks':
    '<mask id="m" maskUnits="userSpaceOnUse" x="30" y="20" width="60" height="50"><rect width="160" height="120" fill="#fff"/></mask><rect x="10" y="10" width="130" height="90" fill="#284" mask="url(#m)"/>',
  'a group with opacity, whose shapes overlap':
    '<g opacity=".5"><rect x="10" y="10" width="80" height="60" fill="red"/><rect x="50" y="40" width="80" height="60" fill="blue"/></g>',
  'blend modes':
    '<rect width="160" height="120" fill="#fc8"/><g style="mix-blend-mode:multiply"><circle cx="60" cy="60" r="40" fill="#08f"/></g><circle style="mix-blend-mode:screen" cx="100" cy="60" r="30" fill="#a30"/>',
  'what is used again':
    '<defs><g id="wave"><path d="M0 20q20-40 40 0z"/><rect y="22" width="40" height="6"/></g><symbol id="dot"><circle cx="8" cy="8" r="8"/></symbol></defs><use xlink:href="#wave" x="10" y="20" fill="#048"/><use href="#wave" transform="translate(70 30) scale(1.5)" fill="#c40"/><use href="#dot" x="40" y="90" fill="#393"/>',
  'the even-odd rule, rings within rings':
    '<path fill="#246" fill-rule="evenodd" d="M10 10H150V110H10ZM30 25H130V95H30ZM50 40V80H110V40ZM65 50a10 10 0 0 1 20 0a10 10 0 0 1-20 0Z"/>',
  'nested groups with transforms':
    '<g id="outer" transform="translate(20 10)"><g id="inner" transform="rotate(8)"><rect width="50" height="30" fill="#333"/><rect x="10" y="40" width="50" height="30" fill="#777"/></g><rect x="80" y="5" width="30" height="90" fill="#aac"/></g>',
}

function byParts(inside: string): Uint8ClampedArray {
  const artwork = readSvgArtwork(svg(inside), 'drawing.svg')
  expect(artwork.beyond).toEqual([])
  const scene = sceneOf([artworkParts(artwork, 'art', 'Art', { x: 0, y: 0 })], {
    frame: { ...size, rate: { num: 25, den: 1 }, safe: { action: 0, title: 0 } },
  })
  const at = drawn(scene.restFrame(scene.layout({})))
  const all = new Uint8ClampedArray(size.width * size.height * 4)
  for (let y = 0; y < size.height; y++) for (let x = 0; x < size.width; x++) all.set(at(x, y), (y * size.width + x) * 4)
  return all
}

/** Over white, as both are seen: what is clear has no colour that could differ. */
const seen = (rgba: ArrayLike<number>, i: number, isPremultiplied: boolean) => {
  const a = rgba[i + 3]! / 255
  return [0, 1, 2].map((k) => (isPremultiplied ? rgba[i + k]! : rgba[i + k]! * a) + 255 * (1 - a))
}

// resvg 0.45 (MPL-2.0): another program's reading of the same drawing. Edges are smoothed otherwise, so few pixels may
// differ by more than a little.
test.each(Object.entries(drawings))('%s is drawn by parts as resvg draws it', (_, inside) => {
  const ours = byParts(inside)
  const theirs = new Resvg(svg(inside)).render().pixels
  let far = 0
  let sum = 0
  for (let i = 0; i < ours.length; i += 4) {
    const [one, other] = [seen(ours, i, false), seen(theirs, i, true)]
    const differs = Math.max(...one.map((value, k) => Math.abs(value - other[k]!)))
    sum += differs
    if (differs > 24) far++
  }
  const count = ours.length / 4
  expect({ far: far / count < 0.012, mean: sum / count < 1.2 }).toEqual({ far: true, mean: true })
})
