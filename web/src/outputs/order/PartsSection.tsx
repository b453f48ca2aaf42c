import { Choice } from '../../ui/Choice.tsx'
import { Line } from '../../ui/controls.tsx'
import { LayerList } from '../LayerList.tsx'
import { Section } from './Section.tsx'
import type { SectionProps } from './settings.ts'

/** How the locked parts become clips, and what they will be. `version`: its id */
export function PartsSection({
  settings,
  change,
  version,
}: Pick<SectionProps, 'settings' | 'change'> & { version: number }) {
  return (
    <Section title="Parts">
      <Line label="Clips">
        {() => (
          <Choice
            label="Clips"
            value={settings.parts ?? 'merged'}
            options={[
              ['merged', 'Neighbours as one clip'],
              ['apart', 'Every part by itself'],
            ]}
            onValue={(parts) => change({ parts })}
          />
        )}
      </Line>
      <LayerList version={version} parts={settings.parts ?? 'merged'} />
    </Section>
  )
}
