import { RE2JS } from 're2js'
import { cached, LastFew } from '../cache/index.ts'
import { limits, most } from '../limits/index.ts'

/** A pattern as somebody wrote it, ready to be looked for. */
export interface Pattern {
  matches(text: string): boolean
  /** Every occurrence replaced; `$1`, `$<name>`, `$&` and `$$` in `put` as in ECMAScript. */
  replaceAll(text: string, put: string): string
}

const unable: [RegExp, string][] = [
  [/\(\?<?[=!]/, 'looks ahead or behind'],
  [/\\[1-9]|\\k</, 'refers back to a group'],
]

/** Why a pattern can't be used, in words that follow its name; undefined when it can. */
export function refusePatternText(source: string): string | undefined {
  if (source.length > limits.patternCharacters.most) return `is longer than ${most('patternCharacters')}`
  try {
    compiled(source, false)
    return undefined
  } catch {
    const what = unable.find(([sign]) => sign.test(source))?.[1]
    return what ? `${what}, which Hoja's patterns can't` : 'is no pattern; look at its brackets'
  }
}

/**
 * Compiles a pattern that somebody brought by the syntax of RE2 (github.com/google/re2/wiki/Syntax), whose time is linear in
 * the text whatever the pattern.
 * @throws an error for what is no such pattern; `refusePatternText` says why
 */
export function pattern(source: string, options: { ignoreCase?: boolean } = {}): Pattern {
  const re = compiled(source, options.ignoreCase ?? false)
  return {
    matches: (text) => re.matcher(text).find(),
    replaceAll(text, put) {
      const parts: string[] = []
      const matcher = re.matcher(text)
      let at = 0
      while (matcher.find()) {
        parts.push(text.slice(at, matcher.start(0)), filled(put, matcher))
        at = matcher.end(0)
      }
      parts.push(text.slice(at))
      return parts.join('')
    },
  }
}

/** The last ones that were compiled: to compile takes longer than to look for it in a row. */
const known = new LastFew<string, RE2JS>(50)

function compiled(source: string, ignoreCase: boolean): RE2JS {
  const key = `${ignoreCase ? 'i' : '-'}${source}`
  const flags = ignoreCase ? RE2JS.CASE_INSENSITIVE : 0
  return cached(known, key, () => RE2JS.compile(RE2JS.translateRegExp(source), flags))
}

/** ECMA-262, GetSubstitution: what is no group stays as it is written. */
function filled(put: string, matcher: ReturnType<RE2JS['matcher']>): string {
  if (!put.includes('$')) return put
  const groups = matcher.groupCount()
  return put.replace(/\$(\$|&|<[^>]{1,50}>|[1-9]\d?)/g, (all, what: string) => {
    if (what === '$') return '$'
    if (what === '&') return matcher.group(0) ?? ''
    if (what[0] === '<') return named(matcher, what.slice(1, -1)) ?? all
    const two = Number(what)
    if (two <= groups) return matcher.group(two) ?? ''
    const one = Number(what[0])
    return one <= groups ? (matcher.group(one) ?? '') + what.slice(1) : all
  })
}

/** What a group of a name holds; undefined where the pattern has none of that name. */
function named(matcher: ReturnType<RE2JS['matcher']>, name: string): string | undefined {
  try {
    return matcher.group(name) ?? ''
  } catch {
    return undefined
  }
}

/**
 * Runs something whose package makes its patterns by calling `RegExp`, with the linear engine in its place; what that can't
 * read matches nothing, as RFC 9535 (2.4.6) wants it. Nothing may be awaited in it.
 */
export function withLinearPatterns<T>(work: () => T): T {
  const { RegExp: own } = globalThis
  try {
    globalThis.RegExp = ((source: string) => {
      const found = pattern(source)
      return { test: found.matches }
    }) as unknown as RegExpConstructor
    return work()
  } finally {
    globalThis.RegExp = own
  }
}
