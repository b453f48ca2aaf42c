import { Line, Select, TextInput, Tick } from '../../ui/controls.tsx'
import { Section } from './Section.tsx'
import type { SectionProps } from './settings.ts'

/** Which rows of the sheet. */
export function RowsSection({
  settings,
  change,
  count,
  numbers,
  text,
  wrong,
  onText,
}: Pick<SectionProps, 'settings' | 'change'> & {
  /** Rows of the sheet. */
  count: number
  /** Those that are ordered. */
  numbers: readonly number[]
  /** The rows as they are named; undefined: all. */
  text: string | undefined
  /** What is wrong with that text. */
  wrong: string | undefined
  onText: (text: string | undefined) => void
}) {
  const note = `${numbers.length} of ${count}${text === undefined ? '; rows that are switched off are left out' : ''}.`
  return (
    <Section title="Rows">
      <Line label="Which" note={note} wrong={wrong}>
        {(id) => (
          <span className="flex gap-1.5">
            <Select
              id={id}
              value={text === undefined ? 'all' : 'some'}
              options={[
                ['all', 'All of them'],
                ['some', 'Some of them'],
              ]}
              onChange={(event) => onText(event.target.value === 'all' ? undefined : `1-${Math.min(10, count)}`)}
            />
            {text !== undefined && (
              <TextInput aria-label="Rows to render" value={text} onChange={(event) => onText(event.target.value)} />
            )}
          </span>
        )}
      </Line>
      <Tick
        label="Only changed"
        note="What the sheet's outputs in this format hold already is left out."
        checked={settings.changedOnly ?? false}
        onChange={(on) => change({ changedOnly: on || undefined })}
      />
      <Tick
        label="Without stops"
        note="Rows with a stop are left out; else they are held, each with its reason, until they are put right."
        checked={settings.withoutStops ?? false}
        onChange={(on) => change({ withoutStops: on || undefined })}
      />
    </Section>
  )
}
