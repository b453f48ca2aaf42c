import { useState } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { useShallow } from 'zustand/react/shallow'
import { Conflict } from '../ui/Conflict.tsx'
import { Button } from '../ui/controls.tsx'
import { useDraft } from './draft.ts'
import { PublishDialog } from './PublishDialog.tsx'

/** Saved state, undo, redo and publishing, for the screens that work on a draft. */
export function DraftBar() {
  const { undo, redo, resolve } = useDraft.getState()
  const {
    saved,
    last,
    next: again,
    ahead,
    versions,
    isEmpty,
    conflict,
  } = useDraft(
    useShallow((draft) => ({
      saved: draft.saved,
      last: draft.past.at(-1),
      next: draft.future[0],
      ahead: draft.ahead || draft.dirty,
      versions: draft.versions,
      isEmpty: draft.template?.parts.length === 0,
      conflict: draft.conflict !== undefined,
    })),
  )
  const [publishing, setPublishing] = useState(false)
  useHotkeys('mod+z', undo, { preventDefault: true })
  useHotkeys('mod+shift+z', redo, { preventDefault: true })
  const next = (versions[0]?.number ?? 0) + 1
  return (
    <>
      <span className="max-w-56 truncate text-soft" role="status" title={saved}>
        {saved}
      </span>
      <Button onClick={undo} disabled={!last} title={last ? `Undo ${last}` : 'Nothing to undo'}>
        Undo
      </Button>
      <Button
        onClick={redo}
        disabled={again === undefined}
        title={again === undefined ? 'Nothing to redo' : `Redo ${again}`}
      >
        Redo
      </Button>
      <Button
        variant="primary"
        disabled={!ahead || isEmpty}
        title={isEmpty ? 'Draw something first' : undefined}
        onClick={() => setPublishing(true)}
      >
        {ahead ? `Publish version ${next}` : `Version ${next - 1} is published`}
      </Button>
      {publishing && <PublishDialog onClose={() => setPublishing(false)} />}
      <Conflict open={conflict} what="This draft was" onResolve={resolve} />
    </>
  )
}
