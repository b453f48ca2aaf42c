import { address, type Output } from '@hoja/core/api'
import { useNavigate } from 'react-router'
import { api } from '../api.ts'
import type { MenuEntry } from '../ui/Menu.tsx'
import { useWrite } from '../ui/useWrite.ts'

/** What can be done with an output, wherever it is met. */
export function useOutputEntries() {
  const navigate = useNavigate()
  const { mutate: act } = useWrite((work: () => Promise<unknown>) => work(), { changes: [['outputs']] })
  const again = useWrite((output: Output) => api.renderAgain({ id: output.id }), {
    changes: [['outputs']],
    onDone: (next, output) => navigate(`/t/${output.template}/outputs/${next.id}`),
  })
  return (output: Output): (MenuEntry | null)[] => {
    const { id, state, counts, priority } = output
    const isOpen = state === 'running' || state === 'paused'
    const left = counts.failed + counts.stopped + counts.held
    const turn = (to: number) => () => act(() => api.setPriority({ id, priority: Math.max(-9, Math.min(9, to)) }))
    return [
      { label: 'Open', onSelect: () => navigate(`/t/${output.template}/outputs/${id}`) },
      ...(output.sheet === null
        ? []
        : [{ label: 'Its sheet', onSelect: () => navigate(`/t/${output.template}/fill/${output.sheet}`) }]),
      ...(output.programme === null
        ? []
        : [{ label: 'Its programme', onSelect: () => navigate(`/programmes/${output.programme}`) }]),
      null,
      ...(state === 'running' ? [{ label: 'Pause', onSelect: () => act(() => api.pause({ id })) }] : []),
      ...(state === 'paused' ? [{ label: 'Go on', onSelect: () => act(() => api.goOn({ id })) }] : []),
      ...(isOpen
        ? [
            { label: 'Earlier', onSelect: turn(priority + 1) },
            { label: 'Later', onSelect: turn(priority - 1) },
            { label: 'Stop', onSelect: () => act(() => api.stop({ id })) },
          ]
        : []),
      ...(!isOpen && left > 0 ? [{ label: `Try ${left} again`, onSelect: () => act(() => api.retry({ id })) }] : []),
      ...(isOpen ? [] : [{ label: 'Render again', onSelect: () => again.mutate(output) }]),
      ...(counts.done > 0
        ? [{ label: `Download ${counts.done} as zip`, onSelect: () => window.location.assign(address.zip({ id })) }]
        : []),
      ...(isOpen
        ? []
        : [
            null,
            {
              label: 'Remove …',
              onSelect: () =>
                window.confirm('Remove this output and what it made?') && act(() => api.removeOutput({ id })),
            },
          ]),
    ]
  }
}
