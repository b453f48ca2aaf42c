import { useState } from 'react'
import { Button, Line, TextInput } from './controls.tsx'
import { Dialog } from './Dialog.tsx'

/** Asks for a name. */
export function NameDialog({
  title,
  action,
  name: before = '',
  note,
  onName,
  onClose,
}: {
  title: string
  action: string
  name?: string
  note?: string
  onName: (name: string) => void
  onClose: () => void
}) {
  const [name, setName] = useState(before)
  const take = () => name.trim() && onName(name.trim())
  return (
    <Dialog
      open
      onOpenChange={onClose}
      title={title}
      footer={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button variant="primary" disabled={!name.trim()} onClick={take}>
            {action}
          </Button>
        </>
      }
    >
      <Line label="Name" {...(note ? { note } : {})}>
        {(id) => (
          <TextInput
            id={id}
            value={name}
            onChange={(event) => setName(event.target.value)}
            onKeyDown={(event) => event.key === 'Enter' && take()}
          />
        )}
      </Line>
    </Dialog>
  )
}
