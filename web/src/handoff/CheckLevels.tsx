import { type CheckLevel, checkKinds, type Template } from '@hoja/core/template'
import { useDraft } from '../session/draft.ts'
import { Choice } from '../ui/Choice.tsx'
import { classes } from '../ui/controls.tsx'

const words: [CheckLevel, string][] = [
  ['stop', 'stop'],
  ['look', 'look'],
  ['off', 'not told'],
]

/** What every check weighs when this template is filled. */
export function CheckLevels({ template }: { template: Template }) {
  const { change } = useDraft.getState()
  const set = (code: string, level: CheckLevel) => {
    const { [code]: _, ...rest } = template.levels ?? {}
    const levels = level === checkKinds[code]!.level ? rest : { ...rest, [code]: level }
    change({ kind: 'levels', levels }, 'what a check weighs')
  }
  return (
    <div className="px-3.5 pt-2 pb-4">
      <p className="pb-2 text-soft">
        A row with a <b className="font-semibold text-stop">stop</b> is not rendered; at a{' '}
        <b className="font-semibold text-look">look</b> a person should look. Limits of fields always stop.
      </p>
      <ul className="grid grid-cols-[repeat(auto-fit,minmax(330px,1fr))] gap-x-6">
        {Object.entries(checkKinds).map(([code, { label, level }]) => {
          const own = template.levels?.[code]
          return (
            <li key={code} className="flex items-center gap-2 border-b border-rule py-1">
              <span className={classes('flex-1', own && 'font-semibold')} title={own && `${level} elsewhere`}>
                {label}
              </span>
              <Choice label={label} value={own ?? level} options={words} onValue={(next) => set(code, next)} />
            </li>
          )
        })}
      </ul>
    </div>
  )
}
