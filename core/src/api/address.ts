import type { Addressed, Route } from './route.ts'
import { type Api, api } from './routes.ts'

type Given = Record<string, unknown>

/** A route's address with what stands in its path and its query; what else is given is its body's. */
export function addressOf(route: Pick<Route, 'path' | 'query'>, given: Given): string {
  const path = route.path.replaceAll(/\{(\w+)\}/g, (_, name: string) => encodeURIComponent(String(given[name])))
  const asked = Object.keys(route.query?.fields ?? {}).filter((key) => given[key] !== undefined)
  return asked.length === 0
    ? path
    : `${path}?${new URLSearchParams(asked.map((key): [string, string] => [key, String(given[key])]))}`
}

type Address<R extends Route> = [keyof Addressed<R>] extends [never] ? () => string : (given: Addressed<R>) => string

/** The address of every route, for what a browser fetches by itself: pictures, links, events. */
export const address = Object.fromEntries(
  Object.entries<Route>(api).map(([name, route]) => [name, (given: Given = {}) => addressOf(route, given)]),
) as unknown as { [Name in keyof Api]: Address<Api[Name]> }
