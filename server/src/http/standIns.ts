import { api } from '@hoja/core/api'
import { Refusal } from '@hoja/core/refusal'
import { type Response, Router } from 'express'
import { type Behaviour, behaviours, gaugeReading, noticesAtom, noticesRss } from '../feeds/standIns.ts'
import { serving } from './serving.ts'

const names = ['tide-gauge', 'notices'] as const
type StandIn = (typeof names)[number]

/** Two devices that are not there: they ship with Hoja so that everything linked can be tried, and told to go wrong. */
export function standInRoutes(): Router {
  const clock = () => Date.now() / 1000
  const routes = Router()
  const serve = serving(routes)
  const told: Record<StandIn, Behaviour> = { 'tide-gauge': 'well', notices: 'well' }
  const isStandIn = (name: string): name is StandIn => (names as readonly string[]).includes(name)

  const answer = (response: Response, name: StandIn, type: string, text: (lies: boolean) => string): void => {
    const behaviour = told[name]
    // A device that stalls takes the call and says nothing.
    if (behaviour === 'stalls') return
    if (behaviour === 'fails') return void response.status(503).type('text').send('Out of service')
    const whole = text(behaviour === 'lies')
    const said = behaviour === 'breaks off' ? whole.slice(0, Math.floor(whole.length * 0.6)) : whole
    response.type(type).set('Cache-Control', 'no-cache').send(said)
  }
  routes.get('/stand-ins/tide-gauge.json', (_request, response) =>
    answer(response, 'tide-gauge', 'json', (lies) => JSON.stringify(gaugeReading(clock(), lies), null, 1)),
  )
  routes.get('/stand-ins/notices.rss', (_request, response) =>
    answer(response, 'notices', 'application/rss+xml', (lies) => noticesRss(clock(), lies)),
  )
  routes.get('/stand-ins/notices.atom', (_request, response) =>
    answer(response, 'notices', 'application/atom+xml', (lies) => noticesAtom(clock(), lies)),
  )
  serve(api.standIns, () => names.map((name) => ({ name, behaviour: told[name], behaviours: [...behaviours] })))
  serve(api.tellStandIn, ({ name, behaviour }) => {
    if (!isStandIn(name)) throw new Refusal('route', `There is no stand-in "${name}".`, 404)
    const known = behaviours.find((one) => one === behaviour)
    if (!known)
      throw new Refusal('request', `The request is not right: behaviour must be one of ${behaviours.join(', ')}.`, 400)
    told[name] = known
    return { name, behaviour, behaviours: [...behaviours] }
  })
  return routes
}
