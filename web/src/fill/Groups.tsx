import { classes } from '../ui/controls.tsx'

/** The groups that the rows make, each with how many they are; one of them can be shown alone. */
export function Groups({
  groups,
  only,
  onOnly,
}: {
  groups: readonly { value: string; rows: number }[]
  only: string | undefined
  onOnly: (only: string | undefined) => void
}) {
  return (
    <ul
      aria-label="Groups"
      className="flex max-h-16 shrink-0 flex-wrap gap-1 overflow-auto border-b border-rule px-2 py-1"
    >
      {groups.map(({ value, rows }) => (
        <li key={value}>
          <button
            type="button"
            aria-pressed={only === value}
            className={classes(
              'h-6 rounded-[3px] border px-2 text-xs',
              only === value ? 'border-leaf bg-leaf-pale' : 'border-rule bg-white',
            )}
            onClick={() => onOnly(only === value ? undefined : value)}
          >
            {value || 'empty'} <span className="text-soft">{rows}</span>
          </button>
        </li>
      ))}
    </ul>
  )
}
