import { safeName } from '@hoja/core/formats'
import { checkPattern, type OutputSettings, outputFormats, patternFor, patternWords } from '@hoja/core/output'
import { useQuery } from '@tanstack/react-query'
import { api } from '../../api.ts'
import { Line, Select, TextInput, Tick } from '../../ui/controls.tsx'
import { Section } from './Section.tsx'
import { type SectionProps, wrongWith } from './settings.ts'

/** What files are called, and where they lie. */
export function FilesSection({ settings, template, change }: SectionProps) {
  const facts = outputFormats[settings.format]
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
      {!facts.still && (
        <Tick
          label="Pieces"
          note="In, Hold and Out as files of their own, which join without a seam: Hold as often as you like."
          checked={settings.pieces ?? false}
          onChange={(on) => change({ pieces: on || undefined })}
        />
      )}
      {!facts.still && !settings.pieces && (
        <Tick
          label="Marks"
          note={`In, Hold and Out ${facts.chapters ? 'as chapters, and ' : ''}in an OTIO file beside each.`}
          checked={settings.marks ?? false}
          onChange={(on) => change({ marks: on || undefined })}
        />
      )}
      {!facts.still && !settings.pieces && (
        <Tick
          label="Conform lists"
          note="OTIO and EDL: the files where their rows say, or end to end."
          checked={settings.conform ?? false}
          onChange={(on) => change({ conform: on || undefined })}
        />
      )}
      <Tick
        label="Contact sheet"
        note="One picture of all titles, beside them."
        checked={settings.contactSheet ?? false}
        onChange={(on) => change({ contactSheet: on || undefined })}
      />
    </Section>
  )
}

/** A folder that follows the sheet: which one, and what becomes of titles that are no longer asked for. */
export function KeepSection({ settings, change, sheet }: SectionProps & { sheet: string }) {
  const { keep } = settings
  const roots = useQuery({ queryKey: ['keep-roots'], queryFn: () => api.keepRoots() })
  const all = roots.data ?? []
  return (
    <Section title="Folder">
      <Tick
        label="Keep current"
        note="A folder of this computer holds exactly these titles and follows the sheet, file by file, under the same names: what is placed in an edit is refreshed."
        checked={keep !== undefined}
        onChange={(on) =>
          change({
            keep: on
              ? { root: all[0]?.name ?? 'kept', folder: safeName(sheet.replace(/\.[a-z]{2,4}$/i, '')) }
              : undefined,
          })
        }
      />
      {keep && (
        <>
          <Line label="In" note={`${all.find(({ name }) => name === keep.root)?.path ?? keep.root}/${keep.folder}`}>
            {(id) => (
              <span className="flex items-center gap-1.5">
                {all.length > 1 ? (
                  <Select
                    id={id}
                    className="!w-36"
                    value={keep.root}
                    options={all.map(({ name }): [string, string] => [name, name])}
                    onChange={(event) => change({ keep: { ...keep, root: event.target.value } })}
                  />
                ) : (
                  <span className="text-soft">{keep.root}</span>
                )}
                /
                <TextInput
                  aria-label="Folder to keep current"
                  value={keep.folder}
                  onChange={(event) => change({ keep: { ...keep, folder: event.target.value } })}
                />
              </span>
            )}
          </Line>
          <Tick
            label="Set aside"
            note="Titles that are no longer asked for go to _superseded/; else they are removed."
            checked={keep.superseded ?? false}
            onChange={(on) => {
              const { superseded: _, ...rest } = keep
              change({ keep: on ? { ...rest, superseded: true } : rest })
            }}
          />
        </>
      )}
    </Section>
  )
}
