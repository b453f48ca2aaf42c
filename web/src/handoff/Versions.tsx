import { address, type Version } from '@hoja/core/api'
import { StarterLinks } from '../ui/StarterLinks.tsx'
import { day } from '../ui/words.ts'

/** Every published version, the newest first, with what it can be taken away as. */
export function Versions({ versions }: { versions: Version[] }) {
  if (versions.length === 0)
    return (
      <p className="px-3.5 py-3 text-soft">Not published yet. Publish a version, and it can be filled and passed on.</p>
    )
  return (
    <ol aria-label="Versions">
      {versions.map((version) => (
        <li key={version.id} className="flex items-center gap-3 border-b border-rule px-3.5 py-1.5">
          <b className="w-20 shrink-0 font-semibold">Version {version.number}</b>
          <span className="min-w-0 flex-1 truncate" title={version.note}>
            {version.note || <span className="text-soft">no note</span>}
          </span>
          <span className="text-soft">{day(version.created)}</span>
          <span className="flex gap-2 text-xs font-medium text-leaf">
            <a className="hover:underline" href={address.versionPackage({ id: version.id })}>
              .hoja
            </a>
            <StarterLinks version={version.id} before="starter " />
          </span>
        </li>
      ))}
    </ol>
  )
}
