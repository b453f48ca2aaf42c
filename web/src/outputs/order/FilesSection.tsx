import { checkPattern, type OutputSettings, patternFor, patternWords } from '@hoja/core/output'
import { Line, Select, TextInput } from '../../ui/controls.tsx'
import { Section } from './Section.tsx'
import { type SectionProps, wrongWith } from './settings.ts'

/** What files are called, and where they lie. */
export function FilesSection({ settings, template, change }: SectionProps) {
  const pattern = settings.pattern ?? patternFor(template)
  return (
    <Section title="Files">
      <Line
        label="File names"
        wrong={wrongWith(() => checkPattern(pattern, template))}
        note={`Filled in: ${[...patternWords, ...template.fields.map(({ key }) => key)].map((word) => `{${word}}`).join(' ')}`}
      >
        {(id) => <TextInput id={id} value={pattern} onChange={(event) => change({ pattern: event.target.value })} />}
      </Line>
      <Line label="Folders">
        {(id) => (
          <Select
            id={id}
            value={settings.folders ?? ''}
            options={[
              ['', 'none'],
              ['sheet', 'one for the sheet'],
              ['template', 'one for the template'],
            ]}
            onChange={(event) => change({ folders: (event.target.value || undefined) as OutputSettings['folders'] })}
          />
        )}
      </Line>
    </Section>
  )
}
