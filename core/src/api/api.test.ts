import { readFileSync } from 'node:fs'
import { validate } from '@readme/openapi-parser'
import { api, namedIn, openApi, type Route } from './index.ts'

const routes = Object.entries<Route>(api)

test('the published OpenAPI document is the one that the routes give, and a valid one (OpenAPI 3.1)', async () => {
  const document = JSON.parse(JSON.stringify(openApi()))
  const published = JSON.parse(readFileSync(new URL('../../../docs/openapi.json', import.meta.url), 'utf8'))
  expect(published).toEqual(document)
  expect(await validate(structuredClone(document) as never)).toMatchObject({ valid: true })
})

test('each route is described once, in a sentence, with everything that stands in its path', () => {
  const addresses = routes.map(([, { method, path }]) => `${method} ${path}`)
  expect(new Set(addresses).size).toBe(addresses.length)
  for (const [name, route] of routes) {
    expect([name, namedIn(route.path).sort()]).toEqual([name, Object.keys(route.params?.fields ?? {}).sort()])
    expect([name, route.summary]).toEqual([name, expect.stringMatching(/^[A-Z].*\.$/)])
    expect([name, route.answer !== undefined && route.media !== undefined]).toEqual([name, false])
    // What is refused because it is not there is said of every route that names something.
    expect([name, route.path.includes('{') && !route.errors.includes(404)]).toEqual([name, false])
  }
})
