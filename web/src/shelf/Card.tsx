import { address, type TemplateSummary } from '@hoja/core/api'
import { shortestDuration } from '@hoja/core/motion'
import { rateText, secondsOf } from '@hoja/core/time'
import { useQuery } from '@tanstack/react-query'
import { Bookmark, Ellipsis } from 'lucide-react'
import { useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { toast } from 'sonner'
import { api } from '../api.ts'
import { Backdrop } from '../preview/Backdrop.tsx'
import { Button, classes, Line, TextInput } from '../ui/controls.tsx'
import { Dialog } from '../ui/Dialog.tsx'
import { Menu, MenuHere } from '../ui/Menu.tsx'
import { useMine } from '../ui/mine.ts'
import { useWrite } from '../ui/useWrite.ts'

/** A template on the shelf: its poster, which plays under the pointer, and what one chooses it by. */
export function Card({
  template,
  onChanged,
  onTag,
}: {
  template: TemplateSummary
  onChanged: () => void
  onTag: (tag: string) => void
}) {
  const navigate = useNavigate()
  const [playing, setPlaying] = useState(false)
  const [editing, setEditing] = useState(false)
  const { frame, spans } = template
  const whole = useMine((mine) => mine.whole)
  const favourite = useMine((mine) => mine.favourites.includes(template.id))
  const { favour } = useMine.getState()
  const write = useWrite(({ work }: { work: () => Promise<unknown>; said: string }) => work(), {
    onDone: (_, { said }) => {
      onChanged()
      toast.success(said)
    },
  })
  const run = (work: () => Promise<unknown>, said: string) => write.mutate({ work, said })
  const play = { onPointerEnter: () => setPlaying(true), onPointerLeave: () => setPlaying(false) }
  const { length } = template.fields
  const entries = () => [
    { label: 'Hand-off', onSelect: () => navigate(`/t/${template.id}/handoff`) },
    { label: 'Fill', onSelect: () => navigate(`/t/${template.id}/fill`) },
    { label: 'What it carries', onSelect: () => navigate(`/t/${template.id}/carries`) },
    null,
    {
      label: favourite ? 'No favourite any more' : 'Make it a favourite',
      onSelect: () => favour(template.id),
    },
    { label: 'Name, tags, folder …', onSelect: () => setEditing(true) },
    {
      label: 'Duplicate',
      onSelect: () => run(() => api.duplicate({ id: template.id }), `"${template.name}" is duplicated.`),
    },
    {
      label: 'Export as .hoja',
      onSelect: () => window.location.assign(address.package({ id: template.id })),
    },
    null,
    template.archived === null
      ? {
          label: 'Put away',
          onSelect: () => run(() => api.shelve({ id: template.id, archived: true }), `"${template.name}" is put away.`),
        }
      : {
          label: 'Bring back',
          onSelect: () =>
            run(() => api.shelve({ id: template.id, archived: false }), `"${template.name}" is on the shelf again.`),
        },
    {
      label: 'Remove …',
      onSelect: () =>
        window.confirm(`Remove "${template.name}" with its versions, sheets and outputs?`) &&
        run(() => api.remove({ id: template.id }), `"${template.name}" is removed.`),
    },
  ]
  return (
    <MenuHere entries={entries}>
      <li
        className="border border-rule bg-paper"
        draggable
        onDragStart={(event) => event.dataTransfer.setData('text/x-hoja-template', template.id)}
      >
        <Link
          to={`/t/${template.id}/draft`}
          className="block"
          aria-label={`Open ${template.name}`}
          onFocus={() => setPlaying(true)}
          onBlur={() => setPlaying(false)}
          {...play}
        >
          <Picture template={template} near={!whole} playing={playing} />
        </Link>
        <div className="px-3 py-2">
          <div className="flex items-baseline gap-2">
            <Link to={`/t/${template.id}/draft`} className="truncate text-base font-semibold hover:underline">
              {template.name}
            </Link>
            <span className="text-xs whitespace-nowrap text-soft">
              {template.version ? `version ${template.version}` : 'not published yet'}
              {template.version > 0 && template.ahead && ', draft is ahead'}
            </span>
            <button
              type="button"
              aria-pressed={favourite}
              aria-label={`${template.name} is a favourite`}
              title={favourite ? 'A favourite of yours' : 'Make it a favourite'}
              className={classes(
                'ml-auto flex size-6 shrink-0 items-center justify-center self-center rounded-[3px] hover:bg-chalk',
                favourite ? 'text-leaf' : 'text-soft',
              )}
              onClick={() => favour(template.id)}
            >
              <Bookmark size={14} fill={favourite ? 'currentColor' : 'none'} aria-hidden="true" />
            </button>
            <Menu label={`More for ${template.name}`} align="end" className="self-center !text-soft" entries={entries}>
              <Ellipsis size={15} aria-hidden="true" />
            </Menu>
          </div>
          {template.note && <p className="mt-0.5 line-clamp-2 text-soft">{template.note}</p>}
          <p className="mt-1 text-xs text-soft">
            {frame.width} x {frame.height} · {rateText(frame.rate)} fps · at least{' '}
            {secondsOf(shortestDuration(spans), frame.rate).toFixed(1)} s · {length} {length === 1 ? 'field' : 'fields'}
          </p>
          {template.tags.length > 0 && (
            <p className="mt-1 flex flex-wrap gap-1">
              {template.tags.map((tag) => (
                <button
                  key={tag}
                  type="button"
                  aria-label={`Find ${tag}`}
                  className="h-6 rounded-[3px] border border-rule px-1.5 text-xs text-soft hover:border-leaf hover:text-ink"
                  onClick={() => onTag(tag)}
                >
                  {tag}
                </button>
              ))}
            </p>
          )}
        </div>
        {editing && <Details template={template} onClose={() => setEditing(false)} onChanged={onChanged} />}
      </li>
    </MenuHere>
  )
}

/** A template's poster over footage, and under the pointer how it comes and goes: what it touches, or its whole frame. */
function Picture({ template, near, playing }: { template: TemplateSummary; near: boolean; playing: boolean }) {
  const { id, revision, frame, name } = template
  const crop = useQuery({
    queryKey: ['near', id, revision],
    queryFn: () => api.near({ id, r: revision }),
    enabled: near,
    staleTime: Number.POSITIVE_INFINITY,
  })
  const asked = { id, r: revision, ...(near ? { near: true } : {}) }
  // A frame of another shape than the card has frame grey beside it.
  const isWide = frame.width * 9 >= frame.height * 16
  const fills = near || frame.width * 9 === frame.height * 16
  return (
    <div className="flex aspect-video items-center justify-center overflow-hidden bg-grey">
      <div
        className={fills ? 'relative size-full' : 'relative max-h-full max-w-full'}
        style={fills ? {} : { aspectRatio: `${frame.width} / ${frame.height}`, [isWide ? 'width' : 'height']: '100%' }}
      >
        {(!near || crop.data) && <Backdrop crop={near ? crop.data : undefined} frame={frame} />}
        <img
          src={address.poster(asked)}
          alt={`${name}, its poster`}
          draggable={false}
          loading="lazy"
          className={`absolute inset-0 size-full object-contain ${playing ? 'invisible' : ''}`}
        />
        {playing && (
          <img
            src={address.loop(asked)}
            alt={`${name}, playing`}
            className="absolute inset-0 size-full object-contain"
          />
        )}
      </div>
    </div>
  )
}

function Details({
  template,
  onClose,
  onChanged,
}: {
  template: TemplateSummary
  onClose: () => void
  onChanged: () => void
}) {
  const [name, setName] = useState(template.name)
  const [tags, setTags] = useState(template.tags.join(', '))
  const [folder, setFolder] = useState(template.folder)
  const keep = useWrite(api.shelve, {
    onDone: () => {
      onChanged()
      onClose()
    },
  })
  const save = () => {
    const list = [
      ...new Set(
        tags
          .split(',')
          .map((tag) => tag.trim())
          .filter(Boolean),
      ),
    ]
    keep.mutate({ id: template.id, name: name.trim(), tags: list, folder: folder.trim() })
  }
  return (
    <Dialog
      open
      onOpenChange={onClose}
      title={template.name}
      footer={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button variant="primary" disabled={!name.trim()} onClick={save}>
            Keep it so
          </Button>
        </>
      }
    >
      <form
        onSubmit={(event) => {
          event.preventDefault()
          save()
        }}
      >
        <Line label="Name">{(id) => <TextInput id={id} value={name} onChange={(e) => setName(e.target.value)} />}</Line>
        <Line label="Tags" note="Parted by commas; they travel with the template.">
          {(id) => <TextInput id={id} value={tags} onChange={(e) => setTags(e.target.value)} />}
        </Line>
        <Line label="Folder" note="On this shelf only; empty for none.">
          {(id) => <TextInput id={id} value={folder} onChange={(e) => setFolder(e.target.value)} />}
        </Line>
        <button type="submit" hidden />
      </form>
    </Dialog>
  )
}
