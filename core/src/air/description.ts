import { limits } from '../limits/index.ts'
import {
  bool,
  either,
  type Infer,
  identifier,
  list,
  map,
  number,
  oneOf,
  optional,
  record,
  type Schema,
  text,
  variant,
  whole,
} from '../schema/index.ts'

const id = identifier
const words = text(limits.cellCharacters.most)
/** Texts by the keys of a template's fields. */
const cells = map(words)
const seconds = (least: number, most: number) => number(least, most, { unit: 'seconds', step: 0.1 })

/** What a field shows while its source is not there, or says what the field does not take. */
const dead = variant('shows', { after: seconds(0, 3600) }, { last: {}, nothing: {}, text: { text: words } })

/** What changes a field by itself. */
const binding = variant(
  'kind',
  {},
  {
    /**
     * `path`: RFC 9535, in the rows of a sheet as objects by column: the first value that it finds; of a list of texts
     * all of them. `most`: changes a second, the latest wins.
     */
    value: {
      sheet: whole(1, Number.MAX_SAFE_INTEGER),
      path: text(limits.pathCharacters.most, { least: 1 }),
      most: number(0.1, 25),
      dead,
    },
    /** A clock: the time of day, or seconds since or until a moment (local, ISO 8601), or since the title was taken. */
    clock: { shows: oneOf('time', 'since', 'until', 'since take'), moment: optional(text(40)) },
  },
)

const item = record({
  id,
  /** Of a published version. */
  version: whole(1, Number.MAX_SAFE_INTEGER),
  layer: id,
  cells,
  /** Where its words were taken from. */
  row: optional(record({ sheet: whole(1, Number.MAX_SAFE_INTEGER), n: whole(1, limits.rows.most) })),
  /** Seconds that it is held; absent: until it is told to leave. */
  hold: optional(seconds(0, 86_400)),
  live: map(binding),
})

const ids = list(id, 2000, { least: 1 })
const layer = optional(id)

/** What somebody asks of a channel. */
const asked = variant(
  'kind',
  {},
  {
    /** Makes a title the next one. */
    cue: { item: id },
    /** Puts the next title on air; `anyway`: whatever its checks say; `seen`: as it was when it was looked at. */
    take: { item: optional(id), anyway: optional(bool), seen: optional(whole(0, Number.MAX_SAFE_INTEGER)) },
    out: { layer },
    /** Takes away at once, without Out. */
    cut: { layer },
    /** Everything at once, and nothing is next. */
    clear: {},
    /** Texts of fields that may change while the title is up. */
    update: { layer, cells, anyway: optional(bool) },
    /** A field that was set by hand follows its source again. */
    release: { layer, field: text(100, { least: 1 }) },
    pause: { layer, paused: bool },
    /** A notice before all others. */
    first: { layer, text: words },
    add: { items: list(item, 500, { least: 1 }), before: optional(id) },
    move: { items: ids, before: optional(id) },
    change: {
      item: id,
      cells: optional(cells),
      hold: optional(either('seconds, or "by hand"', seconds(0, 86_400), oneOf('by hand'))),
      layer,
      live: optional(map(binding)),
    },
    remove: { items: ids },
    /** Nothing of the list was on air yet. */
    again: {},
    set: {
      over: optional(oneOf('out first', 'goes over')),
      runs: optional(oneOf('by hand', 'by itself')),
      loops: optional(bool),
    },
    rehearse: { on: bool },
  },
)

export const askedSchema: Schema<Asked> = asked
export type Asked = Infer<typeof asked>
export type AirItem = Infer<typeof item>
export type Binding = Infer<typeof binding>
export type ValueBinding = Extract<Binding, { kind: 'value' }>
export type ClockBinding = Extract<Binding, { kind: 'clock' }>
export type AirCells = Infer<typeof cells>
export type ItemId = string
export type LayerId = string
