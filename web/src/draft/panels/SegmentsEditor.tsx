import { described, type Segments } from '@hoja/core/template'
import { Checkbox, Line, Select } from '../../ui/controls.tsx'
import { NumberInput } from '../../ui/NumberInput.tsx'

/** How the pieces of a text go one after another. */
export function SegmentsEditor({
  segments,
  onSegments,
}: {
  segments: Segments
  onSegments: (segments: Segments) => void
}) {
  return (
    <>
      <Line label="By">
        {(id) => (
          <Select
            id={id}
            value={segments.by}
            options={['character', 'word', 'line'].map((s) => [s, s])}
            onChange={(event) => onSegments({ ...segments, by: event.target.value as Segments['by'] })}
          />
        )}
      </Line>
      <Line label="Order">
        {(id) => (
          <Select
            id={id}
            value={segments.order}
            options={[
              ['forward', 'forward'],
              ['backward', 'backward'],
              ['middle', 'from the middle'],
              ['random', 'random'],
            ]}
            onChange={(event) => onSegments({ ...segments, order: event.target.value as Segments['order'] })}
          />
        )}
      </Line>
      <Line label="Caret">
        {(id) => (
          <Checkbox
            id={id}
            aria-label="Caret"
            checked={segments.caret ?? false}
            onValue={(on) => {
              const { caret: _, ...rest } = segments
              onSegments(on ? { ...rest, caret: true } : rest)
            }}
          />
        )}
      </Line>
      {(segments.order === 'random' || segments.tracks.settle?.as === 'scramble') && (
        <Line label="Draw of the lot">
          {(id) => (
            <NumberInput
              id={id}
              bounds={described.seed}
              value={segments.seed}
              onValue={(seed) => onSegments({ ...segments, seed })}
            />
          )}
        </Line>
      )}
      <Line label="Overlap, %">
        {(id) => (
          <NumberInput
            id={id}
            bounds={described.overlap}
            percent
            value={segments.overlap}
            onValue={(overlap) => onSegments({ ...segments, overlap })}
          />
        )}
      </Line>
    </>
  )
}
