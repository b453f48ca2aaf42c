import { address } from '@hoja/core/api'
import { generatedProofs } from '@hoja/core/data'
import { type Difference, differenceOf } from '@hoja/core/handoff'
import type { Template } from '@hoja/core/template'
import { useQuery } from '@tanstack/react-query'
import { useEffect, useMemo, useState } from 'react'
import { useNavigate } from 'react-router'
import { toast } from 'sonner'
import { useShallow } from 'zustand/react/shallow'
import { api } from '../api.ts'
import { Backdrop } from '../preview/Backdrop.tsx'
import { Comparison } from '../preview/Comparison.tsx'
import { Button, Line, TextInput } from '../ui/controls.tsx'
import { Dialog } from '../ui/Dialog.tsx'
import { day } from '../ui/words.ts'
import { useDraft } from './draft.ts'

const groups: [Difference['about'], string][] = [
  ['parts', 'Parts'],
  ['ties', 'Ties'],
  ['style', 'Style'],
  ['motion', 'Motion'],
  ['fields', 'Fields'],
  ['template', 'Template'],
]

/** Publishes the draft: its number, its poster, what changed since the last version in words and in pictures, a note. */
export function PublishDialog({ onClose }: { onClose: () => void }) {
  const draft = useDraft(
    useShallow(({ whole, revision, versions, publish }) => ({ whole, revision, versions, publish })),
  )
  const navigate = useNavigate()
  const [note, setNote] = useState('')
  const [busy, setBusy] = useState(false)
  const [saved, setSaved] = useState(false)
  const last = draft.versions[0]
  const next = (last?.number ?? 0) + 1
  // What is shown is what will be published: the draft as it is when the dialog opens, saved.
  const [template] = useState(() => draft.whole!)
  useEffect(() => {
    void useDraft.getState().saveNow().then(setSaved)
  }, [])
  const before = useQuery({
    queryKey: ['version', last?.id],
    queryFn: () => api.version({ id: last!.id }),
    enabled: last !== undefined,
    staleTime: Number.POSITIVE_INFINITY,
  })
  const publish = async () => {
    setBusy(true)
    try {
      const version = await draft.publish(note)
      if (!version) return
      onClose()
      toast.success(`Version ${version.number} is published.`, {
        action: { label: 'Fill it', onClick: () => navigate(`/t/${version.template}/fill`) },
      })
    } catch (error) {
      toast.error((error as Error).message)
    } finally {
      setBusy(false)
    }
  }
  return (
    <Dialog
      open
      wide
      onOpenChange={onClose}
      title={`Publish version ${next} of ${template.name}`}
      footer={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button variant="primary" disabled={busy} onClick={publish}>
            Publish
          </Button>
        </>
      }
    >
      <div className="grid grid-cols-[288px_minmax(0,1fr)] gap-5">
        <figure>
          <div
            className="relative overflow-hidden"
            style={{ aspectRatio: template.frame.width / template.frame.height }}
          >
            <Backdrop />
            {saved && (
              <img
                src={address.loop({ id: template.id, r: draft.revision })}
                alt="The title as the shelf plays it"
                className="absolute inset-0 size-full"
              />
            )}
          </div>
          <figcaption className="pt-1 text-xs text-soft">
            As the shelf plays it. Its poster is frame {template.poster.frame}; another is chosen in Hand-off.
          </figcaption>
        </figure>
        <div>
          <Line label="What is new">
            {(id) => (
              <TextInput
                id={id}
                value={note}
                autoFocus
                onChange={(event) => setNote(event.target.value)}
                onKeyDown={(event) => {
                  if (event.key === 'Enter' && !busy) void publish()
                }}
                placeholder="For the people who fill it"
              />
            )}
          </Line>
          <p className="pt-1 text-soft">
            A version never changes. Sheets stay on the version they are filled on until somebody moves them.
          </p>
          {!last && <p className="pt-2">This is the first version.</p>}
        </div>
      </div>
      {before.error && <p className="pt-3 text-stop">{before.error.message}</p>}
      {last && before.data && (
        <section className="pt-4" aria-label={`What changed since version ${last.number}`}>
          <h3 className="border-b border-rule pb-1 font-semibold">
            What changed since version {last.number}{' '}
            <span className="font-normal text-soft">of {day(last.created)}</span>
          </h3>
          <Changes before={before.data.content} after={template} />
        </section>
      )}
    </Dialog>
  )
}

/** The difference of two states of a template, in words and in its proofs. */
export function Changes({ before, after }: { before: Template; after: Template }) {
  const difference = useMemo(() => differenceOf(before, after), [before, after])
  const fillings = useMemo(() => {
    const own = [...after.proofs, ...generatedProofs(after)]
    return [{ name: 'default', values: {} }, ...own].map(({ name, values }) => ({
      name,
      before: values,
      after: values,
    }))
  }, [after])
  return (
    <>
      {difference.length === 0 && <p className="py-2 text-soft">Nothing that shows or is filled.</p>}
      <dl className="grid grid-cols-[72px_minmax(0,1fr)] gap-x-3 py-2">
        {groups.map(([about, words]) => {
          const own = difference.filter((one) => one.about === about)
          if (own.length === 0) return null
          return (
            <div key={about} className="contents">
              <dt className="py-0.5 text-soft">{words}</dt>
              <dd className="py-0.5">
                <ul>
                  {own.map((one) => (
                    <li key={one.sentence}>{one.sentence}</li>
                  ))}
                </ul>
              </dd>
            </div>
          )
        })}
      </dl>
      <Comparison before={before} after={after} fillings={fillings} />
    </>
  )
}
