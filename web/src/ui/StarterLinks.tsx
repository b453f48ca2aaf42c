import { address } from '@hoja/core/api'

const kinds = {
  csv: 'a default that begins like a formula with an apostrophe before it, which Hoja takes off again',
  xlsx: 'a workbook',
  json: 'with each field described',
}

/** Links to data files with every field of a version, its note and its default, ready to fill. */
export function StarterLinks({ version, before = '' }: { version: number; before?: string }) {
  return Object.entries(kinds).map(([kind, about]) => (
    <a
      key={kind}
      className="font-medium text-leaf hover:underline"
      href={address.starter({ id: version, kind })}
      title={`A data file with every field, its note and its default, as ${kind}: ${about}`}
    >
      {before}
      {kind}
    </a>
  ))
}
