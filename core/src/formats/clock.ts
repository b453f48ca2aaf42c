/** Seconds as a clock has them, to the millisecond: `0:01:05.250`. */
export function clockOf(seconds: number): string {
  const all = Math.max(0, Math.round(seconds * 1000))
  const pad = (value: number, digits = 2) => String(value).padStart(digits, '0')
  const [hours, minutes] = [Math.floor(all / 3_600_000), Math.floor(all / 60_000) % 60]
  return `${hours}:${pad(minutes)}:${pad(Math.floor(all / 1000) % 60)}.${pad(all % 1000, 3)}`
}
