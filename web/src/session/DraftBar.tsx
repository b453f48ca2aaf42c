import { useState } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { useNavigate } from 'react-router'
import { toast } from 'sonner'
import { Button, Line, TextInput } from '../ui/controls.tsx'
import { Dialog } from '../ui/Dialog.tsx'
import { useDraft } from './draft.ts'

/** Saved state, undo, redo and publishing, for the screens that work on a draft. */
export function DraftBar() {
  const draft = useDraft()
  const [publishing, setPublishing] = useState(false)
  const [note, setNote] = useState('')
  const navigate = useNavigate()
  useHotkeys('mod+z', () => draft.undo(), { preventDefault: true })
  useHotkeys('mod+shift+z', () => draft.redo(), { preventDefault: true })
  const next = (draft.versions[0]?.number ?? 0) + 1
  const last = draft.past[draft.past.length - 1]
  const publish = async () => {
    try {
      const version = await draft.publish(note)
      if (!version) return
      setPublishing(false)
      setNote('')
      toast.success(`Version ${version.number} is published.`, {
        action: { label: 'Fill it', onClick: () => navigate(`/t/${version.template}/fill`) },
      })
    } catch (error) {
      toast.error((error as Error).message)
    }
  }
  return (
    <>
      <span className="max-w-56 truncate text-soft" role="status" title={draft.saved}>
        {draft.saved}
      </span>
      <Button onClick={draft.undo} disabled={!last} title={last ? `Undo ${last.what}` : 'Nothing to undo'}>
        Undo
      </Button>
      <Button
        onClick={draft.redo}
        disabled={draft.future.length === 0}
        title={draft.future[0] ? `Redo ${draft.future[0].what}` : 'Nothing to redo'}
      >
        Redo
      </Button>
      <Button
        look="primary"
        disabled={(!draft.ahead && !draft.dirty) || draft.template?.parts.length === 0}
        title={draft.template?.parts.length === 0 ? 'Draw something first' : undefined}
        onClick={() => setPublishing(true)}
      >
        {draft.ahead || draft.dirty ? `Publish version ${next}` : `Version ${next - 1} is published`}
      </Button>
      <Dialog
        open={publishing}
        onOpenChange={setPublishing}
        title={`Publish version ${next}`}
        footer={
          <>
            <Button onClick={() => setPublishing(false)}>Cancel</Button>
            <Button look="primary" onClick={publish}>
              Publish
            </Button>
          </>
        }
      >
        <p className="mb-3 text-soft">A version never changes. Sheets filled on an earlier one stay on it.</p>
        <Line label="What is new">
          {(id) => (
            <TextInput
              id={id}
              value={note}
              onChange={(event) => setNote(event.target.value)}
              placeholder="For the people who fill it"
            />
          )}
        </Line>
      </Dialog>
      <Dialog
        open={!!draft.conflict}
        onOpenChange={() => {}}
        title="Changed elsewhere"
        footer={
          <>
            <Button onClick={() => draft.resolve('theirs')}>Take the other one</Button>
            <Button look="primary" onClick={() => draft.resolve('mine')}>
              Keep mine
            </Button>
          </>
        }
      >
        <p>
          This draft was saved in another window while you worked here. Nothing is lost: keep your own state, or take
          the other one (yours stays one undo away).
        </p>
      </Dialog>
    </>
  )
}
