/**
 * A description of data: what may stand where, within what bounds, in what unit, and what names what. It is a value, and
 * everything that has to know the data is derived from it: the validator (`faultIn`), the JSON Schema (`jsonSchemaOf`),
 * the visitor of references (`references`, `withReferences`), the limits of controls, and the TypeScript type (`Infer`).
 *
 * It says only what JSON Schema can say too, so that the two agree on every document; what hangs on two places at once
 * (a name that must be there, an order) is checked behind it.
 */
declare const described: unique symbol

/** Carries the TypeScript type that a description stands for; there is nothing of it at run time. */
export interface Typed<T> {
  readonly [described]?: T
}

export type Infer<S> = S extends Typed<infer T> ? T : never

export type Unit = 'px' | 'px/s' | 'degrees' | 'share' | 'em/1000' | 'lines' | 'frames' | 'seconds' | 'dB'

/** The bounds of a number, the step by which a hand changes it, and its unit. */
export interface Bounds {
  least: number
  most: number
  step: number
  unit?: Unit | undefined
}

/** What a text can name. Colours are named as `palette:ID`, pictures by their name, the others by their id. */
export type Referred = 'part' | 'field' | 'font' | 'picture' | 'colour' | 'section'

/** What a reference is to whoever holds it, for sentences about it. */
export interface Reference {
  to: Referred
  as: string
}

export interface NumberNode extends Bounds {
  kind: 'number'
  whole: boolean
}
export interface TextNode {
  kind: 'text'
  /** Characters, counted as code points. */
  least: number
  most: number
  /** ECMAScript, with the flag u; the whole text has to match. */
  pattern?: string
  /** What it must be, for whoever wrote something else. */
  like: string
  refers?: Reference
  /** What stands in the place of what it named when that is let go; without it, it goes. */
  otherwise?: string
}
export interface SwitchNode {
  kind: 'switch'
}
export interface OneOfNode {
  kind: 'oneOf'
  values: readonly (string | number | null)[]
}
export interface ListNode {
  kind: 'list'
  of: Schema
  least: number
  most: number
  /** The member, one of a few words, that no two entries share. */
  distinct?: string
}
export interface TupleNode {
  kind: 'tuple'
  of: readonly Schema[]
}
export interface RecordNode extends LetGo {
  kind: 'record'
  members: Members
  about: About
}
export interface MapNode {
  kind: 'map'
  of: Schema
}
/** A record that is one of several, told apart by a word in one of its members. */
export interface VariantNode extends LetGo {
  kind: 'variant'
  tag: string
  /** By that word: every member of such a record, the shared ones too. */
  records: ReadonlyMap<string, RecordNode>
}
export interface EitherNode {
  kind: 'either'
  of: readonly Schema[]
  like: string
}
export interface NamedNode {
  kind: 'named'
  name: string
  of: () => Schema
}
export interface AnyNode {
  kind: 'any'
}
export interface OptionalNode {
  kind: 'optional'
  of: Schema
}

/** What becomes of a record when what it names is let go. */
export interface LetGo {
  /** What stands in its place; without it, it goes too. */
  otherwise?: unknown
  /** It goes whole as soon as anything in it does. */
  whole?: boolean
}

export type Node =
  | NumberNode
  | TextNode
  | SwitchNode
  | OneOfNode
  | ListNode
  | TupleNode
  | RecordNode
  | MapNode
  | VariantNode
  | EitherNode
  | NamedNode
  | AnyNode
  | OptionalNode
// biome-ignore lint/suspicious/noExplicitAny: a description of anything; `unknown` would not hold the others.
export type Schema<T = any> = Node & Typed<T>
export type Members = Readonly<Record<string, Schema>>
/** What members mean: keywords that their JSON Schemas carry besides. */
export type About = Readonly<Record<string, Readonly<Record<string, unknown>>>>

type Plain<T> = { [K in keyof T]: T[K] }
type OptionalKeys<M extends Members> = { [K in keyof M]: M[K] extends OptionalNode ? K : never }[keyof M]
export type InferMembers<M extends Members> = Plain<
  { [K in Exclude<keyof M, OptionalKeys<M>>]: Infer<M[K]> } & { [K in OptionalKeys<M>]?: Infer<M[K]> }
>

export function number(least: number, most: number, more: Partial<Bounds> = {}): NumberNode & Typed<number> {
  return { kind: 'number', step: most - least <= 10 ? 0.05 : 1, ...more, least, most, whole: false }
}

export function whole(least: number, most: number, more: Partial<Bounds> = {}): NumberNode & Typed<number> {
  return { kind: 'number', step: 1, ...more, least, most, whole: true }
}

export function text(
  most: number,
  more: { least?: number; pattern?: string; like?: string; refers?: Reference; otherwise?: string } = {},
): TextNode & Typed<string> {
  const { least = 0, like = lengthWords(least, most), ...rest } = more
  return { kind: 'text', least, most, like, ...rest }
}

const lengthWords = (least: number, most: number) =>
  least > 0 ? `a text of ${least} to ${most} characters` : `a text of at most ${most} characters`

/** What things are told apart by in a document. */
export const identifier = text(64, {
  least: 1,
  pattern: '^[A-Za-z0-9_-]{1,64}$',
  like: 'an id of letters, digits, - and _',
})
export const bool: SwitchNode & Typed<boolean> = { kind: 'switch' }
export const any: AnyNode & Typed<unknown> = { kind: 'any' }

export function oneOf<const V extends string | number | null>(...values: readonly V[]): OneOfNode & Typed<V> {
  return { kind: 'oneOf', values }
}

export function list<S extends Schema>(
  of: S,
  most: number,
  more: { least?: number; distinct?: string } = {},
): ListNode & Typed<Infer<S>[]> {
  return { kind: 'list', of, least: 0, most, ...more }
}

export function tuple<const S extends readonly Schema[]>(
  ...of: S
): TupleNode & Typed<{ -readonly [K in keyof S]: Infer<S[K]> }> {
  return { kind: 'tuple', of }
}

export function optional<S extends Schema>(of: S): OptionalNode & Typed<Infer<S> | undefined> {
  return { kind: 'optional', of }
}

export function record<M extends Members>(
  members: M,
  { about = {}, ...more }: { about?: About } & LetGo = {},
): RecordNode & Typed<InferMembers<M>> {
  return { kind: 'record', members, about, ...more }
}

/** @param own by the word in `tag`: the members that only such a record has */
export function variant<const Tag extends string, C extends Members, O extends Readonly<Record<string, Members>>>(
  tag: Tag,
  common: C,
  own: O,
  { about = {}, ...more }: { about?: About } & LetGo = {},
): VariantNode &
  Typed<
    { [K in keyof O & string]: Plain<{ [T in Tag]: K } & InferMembers<C> & InferMembers<O[K]>> }[keyof O & string]
  > {
  const records = new Map(
    Object.entries(own).map(([word, members]) => [
      word,
      record({ [tag]: oneOf(word), ...common, ...members }, { about }) as RecordNode,
    ]),
  )
  return { kind: 'variant', tag, records, ...more }
}

export function map<S extends Schema>(of: S): MapNode & Typed<Record<string, Infer<S>>> {
  return { kind: 'map', of }
}

export function either<const S extends readonly Schema[]>(
  like: string,
  ...of: S
): EitherNode & Typed<Infer<S[number]>> {
  return { kind: 'either', of, like }
}

/** A description with a name of its own, so that it can hold itself and stands once in the JSON Schema. */
export function named<T>(name: string, of: () => Schema<T>): NamedNode & Typed<T> {
  let known: Schema<T> | undefined
  return { kind: 'named', name, of: () => (known ??= of()) }
}

/** A key by which people and programs keep things of their own in a document; Hoja leaves it as it is. */
export const isOwn = (key: string): boolean => key.startsWith('x-')

/** Names that every object has something by: as the key of a map one would be found where it isn't. */
export const inheritedNames: readonly string[] = Object.getOwnPropertyNames(Object.prototype)
