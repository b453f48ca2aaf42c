/** The value that goes with a key, made when it is first asked for. */
export function keptFor<K extends object, V>(map: WeakMap<K, V>, key: K, make: () => V): V {
  let value = map.get(key)
  if (value === undefined) {
    value = make()
    map.set(key, value)
  }
  return value
}
