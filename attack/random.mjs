/** Numbers that look random and come again with the same seed: xorshift32 (G. Marsaglia, "Xorshift RNGs", 2003). */
export function random(seed) {
  let state = Math.imul(seed + 1, 0x9e3779b1) >>> 0 || 1
  const next = () => {
    state ^= state << 13
    state ^= state >>> 17
    state ^= state << 5
    state >>>= 0
    return state / 2 ** 32
  }
  const below = (n) => Math.floor(next() * n)
  return { next, below, pick: (list) => list[below(list.length)] }
}
