/** One place of a document that is otherwise now, as RFC 6902 has it: `remove` where it is gone. */
export type Patch =
  | { op: 'put'; path: (string | number)[]; value: unknown }
  | { op: 'remove'; path: (string | number)[] }

type Json = Record<string, unknown>
const isObject = (value: unknown): value is Json => typeof value === 'object' && value !== null && !Array.isArray(value)

/**
 * The places in which one value of JSON differs from another. What the two share is not looked at, so that the cost is
 * that of the difference. Lists of another length are put whole.
 */
export function patchesBetween(from: unknown, to: unknown, path: (string | number)[] = []): Patch[] {
  if (from === to) return []
  if (Array.isArray(from) && Array.isArray(to) && from.length === to.length)
    return to.flatMap((one, i) => (one === from[i] ? [] : patchesBetween(from[i], one, [...path, i])))
  if (isObject(from) && isObject(to)) {
    const own = (value: Json, key: string) => (Object.hasOwn(value, key) ? value[key] : undefined)
    const patches: Patch[] = []
    for (const key of Object.keys(from))
      if (from[key] !== undefined && own(to, key) === undefined) patches.push({ op: 'remove', path: [...path, key] })
    for (const key of Object.keys(to)) {
      const [was, is] = [own(from, key), to[key]]
      if (is !== undefined && is !== was) patches.push(...patchesBetween(was, is, [...path, key]))
    }
    return patches
  }
  return [{ op: 'put', path, value: to }]
}

/** A value with patches carried out, one after another; what they don't touch is shared. */
export function patched<T>(value: T, patches: readonly Patch[]): T {
  return patches.reduce<unknown>((now, patch) => at(now, patch.path, 0, patch), value) as T
}

function at(value: unknown, path: readonly (string | number)[], depth: number, patch: Patch): unknown {
  if (depth === path.length) return patch.op === 'put' ? patch.value : undefined
  const key = path[depth]!
  if (Array.isArray(value)) return value.with(key as number, at(value[key as number], path, depth + 1, patch))
  const own = (value ?? {}) as Json
  const next = at(Object.hasOwn(own, key) ? own[key] : undefined, path, depth + 1, patch)
  if (next !== undefined) return { ...own, [key]: next }
  const { [key]: _, ...rest } = own
  return rest
}
