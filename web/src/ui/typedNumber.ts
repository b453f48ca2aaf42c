/**
 * A number as it is typed into a field that holds one: a number, or a sum of such. What begins with a sign of a sum goes
 * on from what stands there: `+10`, `*2`, `/3`; a minus alone is one, so that values below nothing can be typed.
 * `50%` is fifty where the field shows per cent, else that share of what stands there.
 * @param standing the number in the field, in the unit that is typed
 * @returns NaN for what is neither
 */
export function typedNumber(text: string, standing: number, percent = false): number {
  const share = /^(.*\d)\s*%\s*$/.exec(text)
  if (share) {
    const value = typedNumber(share[1]!, percent ? standing : 100)
    return percent ? value : (standing * value) / 100
  }
  const plain = text
    .replaceAll('−', '-')
    .replaceAll('×', '*')
    .replaceAll('÷', '/')
    .replace(/(\d),(?=\d)/g, '$1.')
    .replace(/\s+/g, '')
  const sum = /^[+*/]/.test(plain) ? `${standing}${plain}` : plain
  const tokens = sum.match(/\d+\.?\d*|\.\d+|[-+*/()]/g)
  if (!tokens || tokens.join('') !== sum) return Number.NaN
  let at = 0
  const factor = (): number => {
    const token = tokens[at++]
    if (token === '-') return -factor()
    if (token === '(') {
      const inside = terms()
      return tokens[at++] === ')' ? inside : Number.NaN
    }
    return token === undefined || /[+*/)]/.test(token) ? Number.NaN : Number(token)
  }
  const product = (): number => {
    let value = factor()
    while (tokens[at] === '*' || tokens[at] === '/') value = tokens[at++] === '*' ? value * factor() : value / factor()
    return value
  }
  const terms = (): number => {
    let value = product()
    while (tokens[at] === '+' || tokens[at] === '-')
      value = tokens[at++] === '+' ? value + product() : value - product()
    return value
  }
  const result = terms()
  return at === tokens.length && Number.isFinite(result) ? result : Number.NaN
}
