import { Button } from './controls.tsx'
import { Dialog } from './Dialog.tsx'

/** Somebody else saved what is being worked on here: which of the two stays is a person's choice. */
export function Conflict({
  open,
  what,
  onResolve,
}: {
  open: boolean
  /** `This draft was`, `These rows were`. */
  what: string
  onResolve: (keep: 'mine' | 'theirs') => void
}) {
  return (
    <Dialog
      open={open}
      onOpenChange={() => {}}
      title="Changed elsewhere"
      footer={
        <>
          <Button onClick={() => onResolve('theirs')}>Take the other one</Button>
          <Button variant="primary" onClick={() => onResolve('mine')}>
            Keep mine
          </Button>
        </>
      }
    >
      <p>
        {what} saved in another window while you worked here. Nothing is lost: keep your own state, or take the other
        one (yours stays one undo away).
      </p>
    </Dialog>
  )
}
