import type { Ease } from '../template/index.ts'

/** Named curves under Hoja's own names; `css` tells the CSS Easing keyword where there is one. */
export const easePresets: { id: string; name: string; ease: Ease; css?: string }[] = [
  { id: 'even', name: 'Even', ease: 'linear', css: 'linear' },
  { id: 'drift', name: 'Drift', ease: { bezier: [0.25, 0.1, 0.25, 1] }, css: 'ease' },
  { id: 'set-off', name: 'Set off', ease: { bezier: [0.42, 0, 1, 1] }, css: 'ease-in' },
  { id: 'land', name: 'Land', ease: { bezier: [0, 0, 0.58, 1] }, css: 'ease-out' },
  { id: 'tide', name: 'Tide', ease: { bezier: [0.42, 0, 0.58, 1] }, css: 'ease-in-out' },
  { id: 'moor', name: 'Moor', ease: { bezier: [0.16, 1, 0.3, 1] } },
  { id: 'swell', name: 'Swell', ease: { bezier: [0.34, 1.4, 0.64, 1] } },
  { id: 'jump', name: 'Jump', ease: { steps: 1, jump: 'end' }, css: 'step-end' },
]

/**
 * Progress after CSS Easing Functions Level 2. `progress` 0..1 in, usually 0..1 out (a bezier may swing past).
 */
export function eased(ease: Ease, progress: number): number {
  if (ease === 'linear') return progress
  if ('bezier' in ease) return cubicBezier(ease.bezier, progress)
  if ('steps' in ease) return steps(ease.steps, ease.jump, progress)
  return linearPoints(ease.points, progress)
}

/** cubic-bezier(x1, y1, x2, y2): solves x(t) = progress, by Newton's method with bisection to fall back on. */
function cubicBezier([x1, y1, x2, y2]: [number, number, number, number], progress: number): number {
  if (progress <= 0) return 0
  if (progress >= 1) return 1
  const curve = (a: number, b: number, t: number) => ((1 - 3 * b + 3 * a) * t + (3 * b - 6 * a)) * t * t + 3 * a * t
  const slope = (a: number, b: number, t: number) => 3 * (1 - 3 * b + 3 * a) * t * t + 2 * (3 * b - 6 * a) * t + 3 * a
  let t = progress
  for (let i = 0; i < 8; i++) {
    const error = curve(x1, x2, t) - progress
    if (Math.abs(error) < 1e-9) return curve(y1, y2, t)
    const d = slope(x1, x2, t)
    if (Math.abs(d) < 1e-6) break
    t -= error / d
  }
  let low = 0
  let high = 1
  t = progress
  for (let i = 0; i < 60; i++) {
    const x = curve(x1, x2, t)
    if (Math.abs(x - progress) < 1e-12) break
    if (x < progress) low = t
    else high = t
    t = (low + high) / 2
  }
  return curve(y1, y2, t)
}

/** steps(n, jump-*) of the standard: `none` holds both ends, `both` neither. */
function steps(count: number, jump: 'start' | 'end' | 'none' | 'both', progress: number): number {
  const jumps = jump === 'both' ? count + 1 : jump === 'none' ? Math.max(1, count - 1) : count
  let current = Math.floor(progress * count)
  if (jump === 'start' || jump === 'both') current++
  if (progress >= 0 && current < 0) current = 0
  if (progress <= 1 && current > jumps) current = jumps
  return current / jumps
}

/** linear() with explicit inputs: straight lines between [input, output] points, carried on past the ends. */
function linearPoints(points: readonly [number, number][], progress: number): number {
  let i = 0
  while (i < points.length - 2 && points[i + 1]![0] <= progress) i++
  const [x0, y0] = points[i]!
  const [x1, y1] = points[i + 1]!
  return x1 === x0 ? y1 : y0 + ((progress - x0) / (x1 - x0)) * (y1 - y0)
}
