import { useState } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { Conflict } from '../ui/Conflict.tsx'
import { Button } from '../ui/controls.tsx'
import { useDraft } from './draft.ts'
import { PublishDialog } from './PublishDialog.tsx'

/** Saved state, undo, redo and publishing, for the screens that work on a draft. */
export function DraftBar() {
  const draft = useDraft()
  const [publishing, setPublishing] = useState(false)
  useHotkeys('mod+z', () => draft.undo(), { preventDefault: true })
  useHotkeys('mod+shift+z', () => draft.redo(), { preventDefault: true })
  const next = (draft.versions[0]?.number ?? 0) + 1
  const last = draft.past.at(-1)
  return (
    <>
      <span className="max-w-56 truncate text-soft" role="status" title={draft.saved}>
        {draft.saved}
      </span>
      <Button onClick={draft.undo} disabled={!last} title={last ? `Undo ${last}` : 'Nothing to undo'}>
        Undo
      </Button>
      <Button
        onClick={draft.redo}
        disabled={draft.future.length === 0}
        title={draft.future[0] ? `Redo ${draft.future[0]}` : 'Nothing to redo'}
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
      {publishing && <PublishDialog onClose={() => setPublishing(false)} />}
      <Conflict open={!!draft.conflict} what="This draft was" onResolve={draft.resolve} />
    </>
  )
}
