/** Runs work under a name of User Timing (W3C), so that the browser's own profiler and `bench/` can tell it from the rest. */
export function timed<T>(name: string, work: () => T): T {
  const start = performance.now()
  const result = work()
  measured(name, start)
  return result
}

/** Tells the profiler of what has taken since `start`, ms of the page's clock. */
export function measured(name: string, start: number): void {
  performance.measure(name, { start, end: performance.now() })
  // The profiler has heard of it; kept, the entries of a working day would pile up.
  performance.clearMeasures(name)
}
