import { checkLayout, type Looks, leastContrast, textContrast, textOfLength } from '../data/index.ts'
import { putBelow } from '../layout/index.ts'
import { deadKeys, deadKeysWords } from '../motion/index.ts'
import { boundsOf, pixelRegion } from '../paint/index.ts'
import type { Scene } from '../scene/index.ts'
import {
  allParts,
  type Change,
  drivenBy,
  type Field,
  type FieldValue,
  findPart,
  kindNames,
  languageFieldOf,
  reachedBy,
  type Template,
  type Values,
} from '../template/index.ts'
import { embeddingOf } from '../text/index.ts'

/** Something about a hand-off that a person who fills it would trip over. Advice, not a rule: nothing is refused. */
export interface Advice {
  code: string
  message: string
  field?: string
  part?: string
  /** What would put it right, where that is plain. */
  fix?: { words: string; change: Change }
}

/** More fields than this take an editor longer to find than to fill. */
const mostFields = 12
/** The longest text that is tried where a limit says more. */
const longestTried = 400

/**
 * Everything worth saying about a template before it is handed over, the fields first.
 * @param looks looks at what is drawn
 */
export function adviceOn(scene: Scene, looks: Looks): Advice[] {
  const { template } = scene
  return [
    ...template.fields.flatMap((field) => [
      ...aboutName(template, field),
      ...aboutLimit(scene, field),
      ...aboutEffect(scene, field),
    ]),
    ...aboutNumber(template),
    ...aboutSeen(scene, looks),
    ...aboutContrast(scene),
    ...aboutFonts(scene),
    ...aboutPoster(scene),
    ...aboutTime(template),
    ...aboutKeys(template),
    ...aboutUnseen(template),
  ]
}

const put = (field: Field): Change => ({ kind: 'field', field })

function aboutName(template: Template, field: Field): Advice[] {
  const name = field.name.trim()
  const about = { code: 'name', field: field.id }
  if (name === '') return [{ ...about, message: 'A field has no name; say what an editor should give.' }]
  const kinds = Object.values(kindNames).join('|')
  if (new RegExp(`^(field|f|${kinds})\\s*\\d*$`, 'i').test(name))
    return [{ ...about, message: `"${name}" says nothing to an editor; name it after what it shows.` }]
  const twin = template.fields.find(
    (other) => other.id !== field.id && other.name.trim().toLowerCase() === name.toLowerCase(),
  )
  return twin && twin.id > field.id ? [{ ...about, message: `Two fields are called "${name}"; tell them apart.` }] : []
}

/** The parts that show a text field. */
const showing = (template: Template, field: Field) =>
  drivenBy(template, field).flatMap(({ part, property }) => (property === 'content' ? [part] : []))

/** Whether the layout holds a text of so many characters, the other fields at their defaults. */
function holds(scene: Scene, field: Field, parts: Set<string>, count: number): boolean {
  const layout = scene.layout({ [field.key]: textOfLength(field, count) })
  return !checkLayout(scene, layout, scene.timing(layout)).some(
    (finding) =>
      finding.part !== undefined &&
      parts.has(finding.part) &&
      ['overflow', 'cut', 'safe.title', 'along'].includes(finding.code),
  )
}

/** The most characters of a text field that the layout holds, up to `most`; filled with common words and bisected. */
export function longestHeld(scene: Scene, field: Field, most: number): number {
  const parts = new Set(showing(scene.template, field))
  let [low, high] = [0, most]
  if (holds(scene, field, parts, most)) return most
  while (high - low > 1) {
    const middle = (low + high) >> 1
    if (holds(scene, field, parts, middle)) low = middle
    else high = middle
  }
  return low
}

function aboutLimit(scene: Scene, field: Field): Advice[] {
  if (field.type !== 'text' || showing(scene.template, field).length === 0) return []
  const most = Math.min(field.limit ?? longestTried, longestTried)
  const held = longestHeld(scene, field, most)
  const fix =
    held > 0 && held < longestTried
      ? { fix: { words: `Limit it to ${held}`, change: put({ ...field, limit: held }) } }
      : {}
  if (field.limit === undefined)
    return [
      {
        code: 'limit.none',
        field: field.id,
        message: `${field.name} has no limit; ${held < longestTried ? `the layout holds about ${held} characters` : 'give one, so that an editor knows how much to write'}.`,
        ...fix,
      },
    ]
  if (held >= most) return []
  return [
    {
      code: 'limit.wide',
      field: field.id,
      message: `${field.name} allows ${field.limit} characters, but the layout holds about ${held}.`,
      ...fix,
    },
  ]
}

/** Values that differ from the one a field stands at. */
function otherValues(template: Template, field: Field): FieldValue[] {
  const { default: now } = field
  switch (field.type) {
    case 'text':
      return [`${now} Hgx`, '', 'I']
    case 'number':
      return [field.min, field.max, Number(now) + 1, Number(now) / 2].flatMap((n) =>
        n === undefined || n === now ? [] : [n],
      )
    case 'moment':
      return ['2026-03-09T07:05', '1999-12-31T23:59']
    case 'texts':
      return [[...(now as string[]), 'Hgx'], ['I']]
    case 'numbers':
      return [[1, 9, 2], [...(now as number[])].reverse()]
    case 'switch':
      return [now !== true]
    case 'colour':
      return ['#ff00ff', '#00ff00', ...template.palette.map((entry) => `palette:${entry.id}`)]
    case 'picture':
      return [...template.media.map((media) => media.name), ''].filter((name) => name !== now)
    case 'choice':
      return (field.options ?? []).map((option) => option.value).filter((value) => value !== now)
    case 'style':
      return [...(field.sizes ?? []).map((size) => ({ size })), ...(field.fonts ?? []).map((font) => ({ font }))]
    // Most words are the same in most languages: what a language changes shows in its own.
    case 'language':
      return ['tr', 'de', 'el', 'ar', 'nl'].filter((tag) => tag !== now)
    case 'shift': {
      const { x = [0, 0], y = [0, 0] } = field.reach ?? {}
      return [
        { x: x[0], y: y[0] },
        { x: x[1], y: y[1] },
      ]
    }
  }
}

/** A settled frame as text: equal frames are equal texts. */
function written(scene: Scene, values: Values): string {
  const list = scene.restFrame(scene.layout(values))
  return JSON.stringify(list, (key, value) => (key === 'pixels' ? value.id : value))
}

function aboutEffect(scene: Scene, field: Field): Advice[] {
  const { template } = scene
  // It says the language of whatever is written: where rows don't differ yet, nothing may come of it.
  if (field.id === languageFieldOf(template)?.id) return []
  const about = { code: 'effect', field: field.id }
  if (reachedBy(template, field).length === 0)
    return [
      {
        ...about,
        message: `${field.name} drives nothing; point it at a part or remove it.`,
        fix: { words: 'Remove it', change: { kind: 'removeField', field: field.id } },
      },
    ]
  const before = written(scene, {})
  const changes = otherValues(template, field).some((value) => written(scene, { [field.key]: value }) !== before)
  return changes ? [] : [{ ...about, message: `${field.name} changes nothing that is seen, whatever it is given.` }]
}

function aboutNumber(template: Template): Advice[] {
  const { length } = template.fields
  return length > mostFields
    ? [{ code: 'many', message: `${length} fields are many to fill; more than ${mostFields} are rarely all needed.` }]
    : []
}

function aboutContrast(scene: Scene): Advice[] {
  const { template } = scene
  const layout = scene.layout({})
  return layout.rest.order.parts.flatMap((part, i): Advice[] => {
    const found = textContrast(layout, i)
    const block = layout.blocks[i]
    if (!found || !block) return []
    const least = leastContrast(block.size * (part.style.scale ?? 1), template.frame.height)
    if (found.ratio >= least) return []
    return [
      {
        code: 'contrast',
        part: part.id,
        message: `${part.name} stands out ${found.ratio.toFixed(1)}:1 from what lies behind it (${found.text} on ${found.behind}); WCAG asks for ${least}:1.`,
      },
    ]
  })
}

function aboutFonts(scene: Scene): Advice[] {
  return scene.template.fonts.flatMap(({ id, family, style }): Advice[] => {
    const font = scene.assets.fonts.get(id)
    const embedding = embeddingOf(font?.fsType ?? 0)
    const about = (message: string): Advice[] => [{ code: 'embedding', message: `${family} ${style} ${message}` }]
    if (embedding.allows === 'restricted')
      return about('forbids embedding (OS/2 fsType 2): ask its maker before you pass it on.')
    if (embedding.bitmapOnly) return about('may be embedded as bitmaps only (OS/2 fsType bit 9): ask its maker.')
    if (embedding.allows === 'preview') return about('may be embedded for viewing and printing only (OS/2 fsType 4).')
    return []
  })
}

function aboutPoster(scene: Scene): Advice[] {
  const { poster, frame } = scene.template
  const timing = scene.timing(scene.layout(poster.values))
  if (poster.frame >= timing.total)
    return [
      {
        code: 'poster',
        message: `The poster is frame ${poster.frame}, and the title has ${timing.total}; choose another.`,
      },
    ]
  const list = scene.frame(scene.layout(poster.values), timing, scene.posterFrame)
  const seen = pixelRegion(boundsOf(list.items), frame.width, frame.height)
  if (seen) return []
  return [
    {
      code: 'poster',
      message: `The poster shows an empty frame (frame ${poster.frame}).`,
      fix: { words: 'Take the settled frame', change: { kind: 'poster', poster: { ...poster, frame: timing.in } } },
    },
  ]
}

/** Kinds of finding that say how the drawing itself is seen. */
const ofSight = new Set(['seen', 'faint', 'sharp', 'turned', 'letters', 'double', 'ground'])

/** What is found by looking at the drawing, and at the poster. */
function aboutSeen(scene: Scene, looks: Looks): Advice[] {
  const { template } = scene
  const fillings: [string, Values][] = [
    ['As drawn', {}],
    ['On the poster', template.poster.values],
  ]
  const told = new Set<string>()
  return fillings.flatMap(([where, values]) => {
    const layout = scene.layout(values)
    return checkLayout(scene, layout, scene.timing(layout), 1, looks).flatMap(
      ({ code, part, message, over }): Advice[] => {
        if (!ofSight.has(code) || told.has(message)) return []
        told.add(message)
        const change = over !== undefined && part !== undefined ? putBelow(template, over, part) : undefined
        const name = findPart(template, part ?? '')?.name
        const fix = change && { words: `Put ${findPart(template, over!)!.name} behind ${name}`, change }
        return [{ code, ...(part ? { part } : {}), message: `${where}: ${message}`, ...(fix ? { fix } : {}) }]
      },
    )
  })
}

/** Keys that never play, where they are. */
const aboutKeys = (template: Template): Advice[] =>
  deadKeys(template).map((one) => ({
    code: 'keys',
    part: one.part,
    message: deadKeysWords(findPart(template, one.part)!.name, one),
  }))

/** What is meant to stay unseen, and why: whoever takes the template over has to know. */
const aboutUnseen = (template: Template): Advice[] =>
  allParts(template.parts).flatMap(({ id, name, unseen }) =>
    unseen ? [{ code: 'unseen', part: id, message: `${name} may stay unseen: ${unseen}` }] : [],
  )

function aboutTime(template: Template): Advice[] {
  const { spans, frame } = template
  const list: Advice[] = []
  if (spans.in > spans.hold.frames)
    list.push({
      code: 'in',
      message: `In takes ${spans.in} frames, and at the default duration the title then stands for ${spans.hold.frames}: it goes as soon as it has come.`,
    })
  // Common practice: what crawls by parts of a pixel a frame trembles.
  for (const part of allParts(template.parts)) {
    const speed = (part.kind === 'text' && part.style.crawl) || 0
    const step = (speed * frame.rate.den) / frame.rate.num
    if (speed === 0 || Math.abs(step - Math.round(step)) < 0.01) continue
    const whole = (Math.max(1, Math.round(Math.abs(step))) * Math.sign(step) * frame.rate.num) / frame.rate.den
    list.push({
      code: 'crawl',
      part: part.id,
      message: `${part.name} crawls ${Number(step.toFixed(2))} px a frame; whole pixels run steadier.`,
      fix: {
        words: `Crawl ${Number(whole.toFixed(3))} px/s`,
        change: { kind: 'style', part: part.id, key: 'crawl', value: whole },
      },
    })
  }
  return list
}
