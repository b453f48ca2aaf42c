import type { Backdrop } from '@hoja/core/output'
import { useState } from 'react'
import { api } from '../api.ts'
import { Choice } from '../ui/Choice.tsx'
import { Line } from '../ui/controls.tsx'
import { useWrite } from '../ui/useWrite.ts'

const black = { kind: 'colour', colour: '#000000' } as const

/** What lies under titles that have no alpha. */
export function BackdropInput({
  value,
  needed,
  footage,
  onValue,
}: {
  value: Backdrop | undefined
  /** Something always lies there. */
  needed: boolean
  /** Whether a still or footage can. */
  footage: boolean
  onValue: (backdrop: Backdrop | undefined) => void
}) {
  const [warning, setWarning] = useState<string | null>(null)
  const kind = value?.kind === 'colour' ? 'colour' : value ? 'file' : needed ? 'colour' : 'none'
  const { mutate: bring, isPending: busy } = useWrite((file: File) => api.addUnderneath({ file }), {
    onDone: ({ kind: brought, sha256, name, warning: found }) => {
      onValue({ kind: brought, sha256, name })
      setWarning(found)
    },
  })
  return (
    <Line label="Lies over">
      {(id) => (
        <>
          <span className="flex flex-wrap items-center gap-1.5">
            <Choice
              label="What it lies over"
              value={kind}
              options={[
                ...(needed ? [] : [['none', 'nothing'] as const]),
                ['colour', 'a colour'] as const,
                ...(footage ? [['file', 'a still or footage'] as const] : []),
              ]}
              onValue={(next) => {
                setWarning(null)
                if (next === 'none') onValue(undefined)
                if (next === 'colour') onValue(black)
                if (next === 'file') document.getElementById(`${id}-file`)?.click()
              }}
            />
            {kind === 'colour' && (
              <input
                id={id}
                type="color"
                aria-label="The colour it lies over"
                className="size-7 rounded-[3px] border border-rule bg-white p-0.5"
                value={value?.kind === 'colour' ? value.colour : black.colour}
                onChange={(event) => onValue({ kind: 'colour', colour: event.target.value })}
              />
            )}
          </span>
          <input
            id={`${id}-file`}
            type="file"
            aria-label="Still or footage"
            accept=".png,.jpg,.jpeg,.webp,.mov,.mp4,.m4v,.webm,.mkv,.avi"
            className="sr-only"
            tabIndex={-1}
            onChange={(event) => {
              const [file] = event.target.files ?? []
              if (file) bring(file)
              event.target.value = ''
            }}
          />
          {busy && <p className="text-xs text-soft">Looking at it …</p>}
          {value && value.kind !== 'colour' && (
            <p className="mt-0.5 text-xs text-soft">
              {value.name},{' '}
              {value.kind === 'still'
                ? 'made to cover the frame'
                : 'made to cover the frame; its last picture stays when it ends'}
              .
            </p>
          )}
          {warning && <p className="mt-0.5 text-xs text-look">{warning}</p>}
        </>
      )}
    </Line>
  )
}
