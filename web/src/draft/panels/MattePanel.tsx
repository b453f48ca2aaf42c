import { allParts, type Part, type Template } from '@hoja/core/template'
import { useDraft } from '../../session/draft.ts'
import { Line, Select, Tick } from '../../ui/controls.tsx'

/** What cuts the part to a shape. */
export function MattePanel({ template, part }: { template: Template; part: Part }) {
  const { change } = useDraft.getState()
  const { matte } = part
  const put = (value: Part['matte']) =>
    change({ kind: 'matte', part: part.id, matte: value }, `the matte of ${part.name}`)
  const others = allParts(template.parts).filter((other) => other.id !== part.id)
  return (
    <div className="px-3.5 py-2">
      <Line label="Cut to" note={matte ? undefined : 'A matte is a part like any other: its own ties make it follow.'}>
        {(id) => (
          <Select
            id={id}
            value={matte?.part ?? ''}
            options={[['', 'nothing'], ...others.map((o): [string, string] => [o.id, o.name])]}
            onChange={(event) =>
              put(event.target.value ? { by: 'alpha', invert: false, ...matte, part: event.target.value } : undefined)
            }
          />
        )}
      </Line>
      {matte && (
        <>
          <Line label="By its">
            {(id) => (
              <Select
                id={id}
                value={matte.by}
                options={[
                  ['alpha', 'alpha'],
                  ['luminance', 'luminance'],
                ]}
                onChange={(event) => put({ ...matte, by: event.target.value as 'alpha' })}
              />
            )}
          </Line>
          <Tick label="Inverted" checked={matte.invert} onChange={(invert) => put({ ...matte, invert })} />
          <Tick
            label="With its shadows, glows and blur"
            checked={matte.shadows ?? false}
            onChange={(shadows) => {
              const { shadows: _, ...bare } = matte
              put(shadows ? { ...bare, shadows } : bare)
            }}
          />
        </>
      )}
    </div>
  )
}
