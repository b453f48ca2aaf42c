import type { Preset } from '@hoja/core/api'
import type { OutputSettings, PresetSettings } from '@hoja/core/output'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { toast } from 'sonner'
import { api } from '../api.ts'
import { Button, Select, TextInput } from '../ui/controls.tsx'
import { useWrite } from '../ui/useWrite.ts'

/** Settings that somebody gave a name: take them, keep these, let one go. */
export function PresetBar({
  settings,
  onTake,
}: {
  /** As they would be kept. */
  settings: OutputSettings
  onTake: (settings: PresetSettings) => void
}) {
  const presets = useQuery({ queryKey: ['presets'], queryFn: () => api.presets() })
  const [chosen, setChosen] = useState('')
  const [naming, setNaming] = useState<string>()
  const write = useWrite(({ work }: { work: () => Promise<Preset[]>; words: string }) => work(), {
    changes: [['presets']],
    onDone: (_, { words }) => void toast.success(words),
  })
  const put = (work: () => Promise<Preset[]>, words: string) => write.mutate({ work, words })
  if (naming !== undefined)
    return (
      <form
        className="flex gap-1.5"
        onSubmit={(event) => {
          event.preventDefault()
          const name = naming.trim()
          if (!name) return
          put(() => api.savePreset({ name, settings }), `"${name}" is kept.`)
          setChosen(name)
          setNaming(undefined)
        }}
      >
        <TextInput
          autoFocus
          aria-label="Name of the preset"
          placeholder="Name, for example Web clips"
          value={naming}
          onChange={(event) => setNaming(event.target.value)}
          onKeyDown={(event) => event.key === 'Escape' && setNaming(undefined)}
        />
        <Button type="submit">Keep</Button>
        <Button variant="quiet" onClick={() => setNaming(undefined)}>
          Cancel
        </Button>
      </form>
    )
  return (
    <div className="flex gap-1.5">
      <Select
        aria-label="Preset"
        value={chosen}
        options={[['', 'Presets …'], ...(presets.data ?? []).map(({ name }): [string, string] => [name, name])]}
        onChange={(event) => {
          setChosen(event.target.value)
          const preset = presets.data?.find(({ name }) => name === event.target.value)
          if (preset) onTake(preset.settings)
        }}
      />
      <Button onClick={() => setNaming(chosen)}>Keep these as …</Button>
      {chosen && (
        <Button
          variant="danger"
          onClick={() => {
            put(() => api.removePreset({ name: chosen }), `"${chosen}" is gone.`)
            setChosen('')
          }}
        >
          Remove
        </Button>
      )}
    </div>
  )
}
