import { useQuery } from '@tanstack/react-query'
import { api } from '../api.ts'
import { Button } from '../ui/controls.tsx'
import { Dialog } from '../ui/Dialog.tsx'
import { Trouble } from '../ui/Trouble.tsx'
import { useWrite } from '../ui/useWrite.ts'
import { day } from '../ui/words.ts'

/** What the data folder holds, what the last backup held, and another one. */
export function BackupDialog({ onClose }: { onClose: () => void }) {
  const state = useQuery({
    queryKey: ['backup'],
    queryFn: () => api.backup(),
    staleTime: 0,
    refetchInterval: ({ state: { data } }) => (data?.running ? 300 : false),
  })
  const start = useWrite((_: undefined) => api.startBackup(), { changes: [['backup']], onRefused: () => {} })
  const { data } = state
  const trouble = start.error?.message ?? data?.trouble
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      title="Back up"
      footer={
        <>
          <Button onClick={onClose}>Close</Button>
          <Button variant="primary" disabled={!data || data.running !== null} onClick={() => start.mutate(undefined)}>
            Back up now
          </Button>
        </>
      }
    >
      {state.error && <Trouble error={state.error} what="backup" onAgain={() => void state.refetch()} />}
      {data && (
        <>
          <dl className="grid grid-cols-[108px_1fr] gap-y-2">
            <dt className="text-soft">Here now</dt>
            <dd>{data.now}</dd>
            <dt className="text-soft">Last backup</dt>
            <dd>{data.last ? `${day(data.last.made)}: ${data.last.holds}` : 'none yet'}</dd>
            <dt className="text-soft">Goes to</dt>
            <dd className="font-mono text-xs leading-5 break-all">{data.folder}</dd>
          </dl>
          {data.running && (
            <div className="mt-3 flex items-center gap-2">
              <progress
                className="h-1.5 flex-1"
                aria-label="Backing up"
                max={data.running.of}
                value={data.running.done}
              />
              <span className="text-xs whitespace-nowrap text-soft">
                {data.running.done} of {data.running.of} files
              </span>
            </div>
          )}
          {!data.running && trouble && <p className="mt-3 font-medium text-stop">{trouble}</p>}
          {!data.running && !trouble && start.isSuccess && data.last && (
            <p className="mt-3 font-medium text-leaf">The backup is there.</p>
          )}
          <p className="mt-3 text-xs text-soft">
            Only what is new since the last one is copied. Rendered titles are left out: they can be rendered again. To
            bring a backup back, type <code>hoja restore {data.folder} --data NEW-FOLDER</code> and start Hoja with that
            folder.
          </p>
        </>
      )}
    </Dialog>
  )
}
