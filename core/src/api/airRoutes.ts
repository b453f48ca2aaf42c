import { array, boolean, mixed, number, object, string } from 'yup'
import type { Asked } from '../air/index.ts'
import { limits } from '../limits/index.ts'
import * as answers from './answers.ts'
import { route } from './route.ts'

const slug = () =>
  string()
    .matches(/^[a-z0-9][a-z0-9-]{0,59}$/, '${path} must be small letters, digits and -')
    .required()
const channel = object({ channel: slug() })
const layer = () => string().meta({ description: 'by its id; absent: the only one on which something is up' })
const side = () => number().integer().min(16).max(limits.frameSide.most).required()

/** What becomes of a command: its number, and the frame of the channel at which it was carried out. */
const done = { answer: answers.carriedOut, errors: [404, 409, 422] } as const

/** Channels, and what is done to them. The short ones are for macro pads and automation as well. */
export const airRoutes = {
  channels: route({
    method: 'get',
    path: '/api/air',
    summary: 'The channels, and how each layer of them stands.',
    answer: array(answers.channelSummary).required(),
  }),
  newChannel: route({
    method: 'post',
    path: '/api/air',
    summary: 'A new channel; its output page is /out/ and its name.',
    body: object({
      name: slug(),
      title: string().trim().min(1).max(80).required(),
      production: number().integer().min(1),
      width: side(),
      height: side(),
      rate: string().required().meta({ description: 'frames a second, as 50, 59.94 or 60000/1001' }),
      layers: array(string().trim().min(1).max(40).required()).min(1).max(8).required(),
    }),
    status: 201,
    answer: answers.channelSummary,
    errors: [409, 422],
  }),
  channel: route({
    method: 'get',
    path: '/api/air/{channel}',
    summary: 'A channel as it stands, and the clock of the server.',
    params: channel,
    answer: answers.channelDetail,
  }),
  removeChannel: route({
    method: 'delete',
    path: '/api/air/{channel}',
    summary: 'Removes a channel; not while something is up on it.',
    params: channel,
    errors: [409],
  }),
  askChannel: route({
    method: 'post',
    path: '/api/air/{channel}/commands',
    summary: 'Any command of a channel: those below, and what is done to its running list.',
    params: channel,
    raw: true,
    body: object({ command: mixed<Asked>().required().meta({ name: 'Asked' }) }),
    ...done,
  }),
  cue: route({
    method: 'post',
    path: '/api/air/{channel}/cue',
    summary:
      'Makes a title the next one: by its id, by its place in the running list (from 1), or the one before or after.',
    params: channel,
    body: object({
      item: string(),
      place: number().integer().min(1),
      step: number().oneOf([-1, 1] as const),
    }),
    ...done,
  }),
  take: route({
    method: 'post',
    path: '/api/air/{channel}/take',
    summary: 'Puts the next title on air, or one that is named. A title that must not go out needs `anyway`.',
    params: channel,
    body: object({ item: string(), anyway: boolean() }),
    ...done,
  }),
  takeOut: route({
    method: 'post',
    path: '/api/air/{channel}/out',
    summary: 'Plays the Out of the title that is up.',
    params: channel,
    body: object({ layer: layer() }),
    ...done,
  }),
  updateUp: route({
    method: 'post',
    path: '/api/air/{channel}/update',
    summary:
      'Other texts for the title that is up, by the keys of its fields; those that are locked while it is up are refused.',
    params: channel,
    body: object({
      layer: layer(),
      cells: mixed<Record<string, string>>().required().meta({ name: 'Cells' }),
      anyway: boolean(),
    }),
    ...done,
  }),
  cut: route({
    method: 'post',
    path: '/api/air/{channel}/cut',
    summary: 'Takes what is up away at once, without Out.',
    params: channel,
    body: object({ layer: layer() }),
    ...done,
  }),
  clear: route({
    method: 'post',
    path: '/api/air/{channel}/clear',
    summary: 'Takes everything away at once; nothing is next.',
    params: channel,
    ...done,
  }),
  airNews: route({
    method: 'get',
    path: '/api/air/{channel}/events',
    summary:
      'Server-sent events: the state, then every command with its number as the id. With Last-Event-ID the commands since; the state where they are not kept any more.',
    params: channel,
    media: 'text/event-stream',
  }),
  airPages: route({
    method: 'put',
    path: '/api/air/{channel}/pages',
    summary: 'How many output pages hear through a connection, by the number that it was told with the state.',
    params: channel,
    body: object({
      listener: number().integer().min(1).required(),
      pages: number().integer().min(0).max(1000).required(),
    }),
  }),
  airClock: route({
    method: 'get',
    path: '/api/air/{channel}/clock',
    summary: 'The clock of the server, ms of the epoch: frames are counted by it.',
    params: channel,
    answer: object({ now: number().required(), offset: number().required() }),
  }),
  asRun: route({
    method: 'get',
    path: '/api/air/{channel}/as-run',
    summary: 'What was on air when, the last first.',
    params: channel,
    query: object({ most: number().integer().min(1) }),
    answer: array(answers.asRunLine).required(),
  }),
  asRunCsv: route({
    method: 'get',
    path: '/api/air/{channel}/as-run.csv',
    summary: 'The same as a table.',
    params: channel,
    media: 'text/csv',
  }),
} as const
