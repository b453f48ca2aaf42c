import { eased } from '@hoja/core/motion'
import type { Ease } from '@hoja/core/template'

export type Bezier = [number, number, number, number]
export const limit = (value: number, low: number, high: number) => Math.min(high, Math.max(low, value))
export const short = (value: number) => Math.round(value * 100) / 100

/** Speed of an easing, as a multiple of the mean. */
export function speedAt(ease: Ease, progress: number): number {
  const h = 0.004
  const [a, b] = [Math.max(0, progress - h), Math.min(1, progress + h)]
  return (eased(ease, b) - eased(ease, a)) / (b - a)
}

/** The speeds that a cubic-bezier leaves and arrives with, and how much of the way each handle governs. */
export function speedsOf([x1, y1, x2, y2]: Bezier): { leave: number; arrive: number; before: number; after: number } {
  return {
    leave: x1 > 1e-6 ? y1 / x1 : y1 > 0 ? 20 : 0,
    arrive: 1 - x2 > 1e-6 ? (1 - y2) / (1 - x2) : y2 < 1 ? 20 : 0,
    before: x1,
    after: 1 - x2,
  }
}

/** The cubic-bezier with these speeds at its ends. */
export function bezierOf(speeds: { leave: number; arrive: number; before: number; after: number }): Bezier {
  const x1 = limit(speeds.before, 0.001, 1)
  const after = limit(speeds.after, 0.001, 1)
  return [short(x1), short(speeds.leave * x1), short(1 - after), short(1 - speeds.arrive * after)]
}
