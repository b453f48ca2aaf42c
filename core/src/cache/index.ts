/** What `cached` keeps values in: a Map, a WeakMap, or one that keeps the last few. */
interface Cache<K, V> {
  get(key: K): V | undefined
  set(key: K, value: V): unknown
}

/** The value that goes with a key, made when it is first asked for. */
export function cached<K, V>(cache: Cache<K, V>, key: K, make: () => V): V {
  let value = cache.get(key)
  if (value === undefined) {
    value = make()
    cache.set(key, value)
  }
  return value
}

/** Keeps the values that were asked for last, at most so many. */
export class LastFew<K, V> implements Cache<K, V> {
  private readonly values = new Map<K, V>()

  constructor(private readonly most: number) {}

  get size(): number {
    return this.values.size
  }

  get(key: K): V | undefined {
    const value = this.values.get(key)
    if (value !== undefined) {
      this.values.delete(key)
      this.values.set(key, value)
    }
    return value
  }

  set(key: K, value: V): void {
    this.values.delete(key)
    if (this.values.size >= this.most) this.values.delete(this.values.keys().next().value!)
    this.values.set(key, value)
  }
}
