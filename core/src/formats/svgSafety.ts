import { XMLBuilder, XMLParser } from 'fast-xml-parser'

/** Parsed SVG as the parser gives it: one key an element, its attributes under `:@`. */
export type XmlNode = Record<string, unknown>

const options = { preserveOrder: true, ignoreAttributes: false, attributeNamePrefix: '', trimValues: true } as const

export function parseXml(text: string): XmlNode[] {
  return new XMLParser({ ...options, processEntities: true }).parse(text) as XmlNode[]
}

export function writeXml(nodes: XmlNode[]): string {
  return new XMLBuilder({ ...options, processEntities: true }).build(nodes) as string
}

/** Elements that run or bring in something that is not drawn. */
const active = new Set([
  'script',
  'foreignobject',
  'iframe',
  'object',
  'embed',
  'audio',
  'video',
  'handler',
  'listener',
])

/** An address within the file, or of a picture that is written out in it. */
const isInside = (address: string) => /^\s*(#|data:image\/(png|jpe?g|webp|gif)[;,])/i.test(address)
const outsideUrl = /url\(\s*['"]?(?!#|data:image\/)[^)'"]+['"]?\s*\)/gi

/**
 * SVG without what could act or fetch: scripts, event handlers, foreign content, addresses outside the file. What was left
 * out is said, once each.
 */
export function safeSvg(nodes: readonly XmlNode[]): { nodes: XmlNode[]; leftOut: string[] } {
  const leftOut = new Set<string>()
  const attributesOf = (own: Record<string, string>, element: string): Record<string, string> =>
    Object.fromEntries(
      Object.entries(own).flatMap(([name, value]): [string, string][] => {
        const plain = name.toLowerCase()
        if (plain.startsWith('on')) {
          leftOut.add('a script')
          return []
        }
        if ((plain === 'href' || plain.endsWith(':href')) && !isInside(value)) {
          // Where a link leads is nothing that is drawn.
          if (element !== 'a') leftOut.add('a reference to outside')
          return []
        }
        return [[name, withoutOutside(value)]]
      }),
    )
  const withoutOutside = (text: string): string => {
    if (typeof text !== 'string') return text
    const next = text.replace(outsideUrl, 'none').replace(/@import[^;]*;?/gi, '')
    if (next !== text) leftOut.add('a reference to outside')
    return next
  }
  const visit = (list: readonly XmlNode[]): XmlNode[] =>
    list.flatMap((node): XmlNode[] => {
      const name = Object.keys(node).find((key) => key !== ':@')
      if (name === undefined) return [node]
      if (name === '#text') return [{ '#text': withoutOutside(node[name] as string) }]
      const element = name.toLowerCase().replace(/^.*:/, '')
      // Style sheets and the like, named in the prolog.
      if (name === '?xml-stylesheet') {
        leftOut.add('a reference to outside')
        return []
      }
      if (active.has(element)) {
        leftOut.add(element === 'script' ? 'a script' : 'foreign content')
        return []
      }
      const own = node[':@'] as Record<string, string> | undefined
      const attributes = own && attributesOf(own, element)
      const children = Array.isArray(node[name]) ? visit(node[name] as XmlNode[]) : node[name]
      return [{ [name]: children, ...(attributes && Object.keys(attributes).length > 0 ? { ':@': attributes } : {}) }]
    })
  return { nodes: visit(nodes), leftOut: [...leftOut] }
}
