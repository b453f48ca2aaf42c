/** Runs work under a name of User Timing (W3C), so that the browser's own profiler and `bench/` can tell it from the rest. */
export function timed<T>(name: string, work: () => T): T {
  const start = performance.now()
  const result = work()
  performance.measure(name, { start, end: performance.now() })
  // The profiler has heard of it; kept, the entries of a working day would pile up.
  performance.clearMeasures(name)
  return result
}
