/** A row that has been rendered. */
export interface Took {
  milliseconds: number
}

/** Rows by which the time of one is judged: the latest, so that a change of pace is noticed. */
const judgedBy = 24

/**
 * Milliseconds until the last row is rendered; undefined while there is nothing to go by.
 * @param took of rows that were drawn, not of those that were found
 * @param waiting rows that no worker has yet
 * @param running for each row that a worker has, the share of it that is done, 0..1
 * @param lanes workers that share the rows
 */
export function timeLeft(
  took: readonly Took[],
  waiting: number,
  running: readonly number[],
  lanes: number,
): number | undefined {
  if (took.length === 0) return undefined
  // A worker's first row includes its start, several times what a row takes.
  const started = took.slice(Math.min(lanes, took.length - 1))
  const latest = started.slice(-judgedBy).map(({ milliseconds }) => milliseconds)
  // Workers get faster over their first rows, as their code is compiled: until enough are known, the slowest don't count.
  const counted =
    started.length < judgedBy ? latest.sort((a, b) => a - b).slice(0, Math.ceil(latest.length * 0.75)) : latest
  const each = counted.reduce((sum, milliseconds) => sum + milliseconds, 0) / counted.length
  const left = waiting + running.reduce((sum, done) => sum + (1 - done), 0)
  // The last rows leave workers idle: no fewer rounds than the row that has most of its way before it.
  const rounds = Math.max(left / Math.max(1, lanes), running.length > 0 ? 1 - Math.min(...running) : 0)
  return each * rounds
}
