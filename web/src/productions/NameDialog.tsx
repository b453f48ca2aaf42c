import { useState } from 'react'
import { Button, Line, TextInput } from '../ui/controls.tsx'
import { Dialog } from '../ui/Dialog.tsx'

/** Asks for a name. */
export function NameDialog({
  title,
  action,
  name: before = '',
  onName,
  onClose,
}: {
  title: string
  action: string
  name?: string
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
      <Line label="Name">
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
