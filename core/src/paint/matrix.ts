/** A 2D affine map as Canvas 2D and SVG write it: x' = ax + cy + e, y' = bx + dy + f. */
export type Matrix = readonly [a: number, b: number, c: number, d: number, e: number, f: number]

export const identity: Matrix = [1, 0, 0, 1, 0, 0]
export const translation = (x: number, y: number): Matrix => [1, 0, 0, 1, x, y]
export const scaling = (x: number, y = x): Matrix => [x, 0, 0, y, 0, 0]

/** Turn by degrees, clockwise on the screen. */
export function rotationMatrix(degrees: number): Matrix {
  const angle = (degrees * Math.PI) / 180
  const [c, s] = [Math.cos(angle), Math.sin(angle)]
  return [c, s, -s, c, 0, 0]
}

/** `outer` after `inner`. */
export function multiply(outer: Matrix, inner: Matrix): Matrix {
  const [a, b, c, d, e, f] = outer
  const [g, h, i, j, k, l] = inner
  return [a * g + c * h, b * g + d * h, a * i + c * j, b * i + d * j, a * k + c * l + e, b * k + d * l + f]
}

export function aboutPoint(x: number, y: number, map: Matrix): Matrix {
  return multiply(translation(x, y), multiply(map, translation(-x, -y)))
}

export function apply([a, b, c, d, e, f]: Matrix, x: number, y: number): [number, number] {
  return [a * x + c * y + e, b * x + d * y + f]
}

/** Mean factor by which lengths grow. */
export function lengthFactor([a, b, c, d]: Matrix): number {
  return Math.sqrt(Math.abs(a * d - b * c))
}

/** Parts of a pixel that coordinates are rounded to: finer than any raster tells, and a power of two, so that adding whole pixels to them is exact in the raster's single precision. */
export const gridStep = 1 / 128

export function onGrid(value: number): number {
  return Math.round(value / gridStep) * gridStep
}

/** A map whose shift lies on the grid, so that moving what is drawn by whole pixels moves its bytes and changes none. */
export function gridded([a, b, c, d, e, f]: Matrix): Matrix {
  return [a, b, c, d, onGrid(e), onGrid(f)]
}

/** The map that takes a map back; undefined for one that flattens everything. */
export function inverse([a, b, c, d, e, f]: Matrix): Matrix | undefined {
  const area = a * d - b * c
  if (Math.abs(area) < 1e-12) return undefined
  return [d / area, -b / area, -c / area, a / area, (c * f - d * e) / area, (b * e - a * f) / area]
}
