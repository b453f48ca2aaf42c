import { generatedProofs } from '@hoja/core/data'
import {
  type Change,
  fontUses,
  pictureUses,
  type SoundFile,
  type SpanName,
  type Template,
  withFont,
} from '@hoja/core/template'
import type { Embedding } from '@hoja/core/text'
import { rateText, secondsOf } from '@hoja/core/time'
import { useQuery } from '@tanstack/react-query'
import { type ReactNode, useEffect, useRef, useState } from 'react'
import { useParams } from 'react-router'
import { toast } from 'sonner'
import { Comparison } from '../preview/Comparison.tsx'
import { carriedKinds, carryFile, fontChange } from '../session/carry.ts'
import { DraftBar } from '../session/DraftBar.tsx'
import { useDraft } from '../session/draft.ts'
import { FontPicker } from '../session/FontPicker.tsx'
import { type Asset, api } from '../ui/api.ts'
import { Button, Empty, NumberInput, Select } from '../ui/controls.tsx'
import { Header } from '../ui/Header.tsx'

/** A template's fonts, pictures, movies and sounds in one place: what each is, what uses it, what its licence allows. */
export default function CarriesPage() {
  const { id } = useParams()
  const { template, open } = useDraft()
  const [error, setError] = useState<Error>()
  useEffect(() => void open(id!).catch(setError), [id, open])
  if (error) return <Empty title="This template could not be opened">{error.message}</Empty>
  if (!template || template.id !== id) return <p className="p-6 text-soft">Opening …</p>
  return <Page template={template} />
}

function Page({ template }: { template: Template }) {
  const { change } = useDraft()
  const [choosing, setChoosing] = useState(false)
  const [busy, setBusy] = useState<string>()
  const picker = useRef<HTMLInputElement>(null)
  const bring = async (files: Iterable<File>) => {
    for (const file of files)
      try {
        setBusy(file.name)
        const { changes, part, note } = await carryFile(useDraft.getState().template!, file)
        const all: Change[] = part ? [...changes, { kind: 'addPart', part }] : changes
        if (change({ kind: 'several', changes: all }, `adding ${file.name}`))
          toast.success(note ?? `${file.name} travels with the template now.`)
      } catch (error) {
        toast.error((error as Error).message)
      } finally {
        setBusy(undefined)
      }
  }
  return (
    <div className="flex h-full flex-col">
      <Header template={template} here="What it carries">
        <span role="status" className="text-soft">
          {busy && `Reading ${busy} …`}
        </span>
        <Button onClick={() => setChoosing(true)}>Add a font</Button>
        <Button onClick={() => picker.current?.click()}>Add files</Button>
        <DraftBar />
      </Header>
      <input
        ref={picker}
        type="file"
        multiple
        accept={carriedKinds}
        hidden
        aria-label="Add fonts, pictures and sounds"
        onChange={(event) => {
          void bring([...(event.target.files ?? [])])
          event.target.value = ''
        }}
      />
      <main
        className="min-h-0 flex-1 overflow-auto px-6 py-4"
        onDragOver={(event) => event.preventDefault()}
        onDrop={(event) => {
          event.preventDefault()
          void bring([...event.dataTransfer.files])
        }}
      >
        <Fonts template={template} />
        <Pictures template={template} />
        <Sounds template={template} />
      </main>
      {choosing && (
        <FontPicker
          title="Add a font"
          action="Add it"
          onClose={() => setChoosing(false)}
          onFont={(font) => {
            const now = useDraft.getState().template
            if (now && change(fontChange(now, font), `adding ${font.family} ${font.style}`)) setChoosing(false)
          }}
        >
          {() => null}
        </FontPicker>
      )}
    </div>
  )
}

const size = (bytes: number) => (bytes > 1e6 ? `${(bytes / 1e6).toFixed(1)} MB` : `${Math.ceil(bytes / 1000)} kB`)

const allowed: Record<Embedding['allows'], [string, boolean]> = {
  installable: ['may travel', true],
  editable: ['may travel, editable', true],
  preview: ['for viewing only', false],
  restricted: ['forbids embedding', false],
}

/** Where something is used, in one line; what is used nowhere can go. */
function Uses({ uses, onRemove, name }: { uses: string[]; onRemove: () => void; name: string }) {
  const words = uses.slice(0, 3).join(', ') + (uses.length > 3 ? ` and ${uses.length - 3} more` : '')
  return (
    <span className="flex items-center justify-between gap-2">
      <span className="text-soft">{uses.length > 0 ? `used by ${words}` : 'used nowhere'}</span>
      {uses.length === 0 && (
        <Button small aria-label={`Remove ${name}`} onClick={onRemove}>
          Remove
        </Button>
      )}
    </span>
  )
}

function Section({ title, note, children }: { title: string; note: ReactNode; children: ReactNode }) {
  return (
    <section aria-label={title} className="mb-7">
      <h2 className="text-lg font-semibold">
        {title} <span className="text-sm font-normal text-soft">{note}</span>
      </h2>
      {children}
    </section>
  )
}

function Fonts({ template }: { template: Template }) {
  const [replacing, setReplacing] = useState<string>()
  const { fallbacks } = template
  const font = template.fonts.find((one) => one.id === replacing)
  return (
    <Section
      title="Fonts"
      note="The first is used where a text names none. A character that a text's own font lacks is looked for in the fallbacks, in their order."
    >
      <table className="mt-2 w-full border-collapse bg-paper text-left">
        <thead>
          <tr className="border-y border-rule text-xs text-soft">
            {['Font', 'Weight', 'Characters', 'Licence', 'Size', 'Fallback', 'Use', ''].map((head) => (
              <th key={head} className="px-2.5 py-1 font-medium">
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {template.fonts.map((one) => (
            <FontRow key={one.id} template={template} font={one} onReplace={() => setReplacing(one.id)} />
          ))}
        </tbody>
      </table>
      {template.fonts.length === 0 && (
        <p className="py-2 text-soft">None. A text needs one before it can be written.</p>
      )}
      {fallbacks.length > 1 && <FallbackOrder template={template} />}
      {font && <Replace template={template} font={font} onClose={() => setReplacing(undefined)} />}
    </Section>
  )
}

function FontRow({
  template,
  font,
  onReplace,
}: {
  template: Template
  font: Template['fonts'][number]
  onReplace: () => void
}) {
  const { change } = useDraft()
  const facts = useQuery({
    queryKey: ['facts', font.sha256],
    queryFn: () => api.fontFacts(font.sha256),
    staleTime: Number.POSITIVE_INFINITY,
  })
  const { data } = facts
  const uses = fontUses(template, font.id)
  const isFallback = template.fallbacks.includes(font.id)
  const put = (fonts: Template['fonts'], fallbacks: string[], what: string) =>
    change({ kind: 'fonts', fonts, fallbacks }, what)
  const name = `${font.family} ${font.style}`
  const licence = data && allowed[data.embedding.allows]
  return (
    <tr className="border-b border-rule align-top">
      <td className="px-2.5 py-1.5">
        <b className="font-semibold">{name}</b>
        <span className="block text-xs text-soft">{data ? data.version : 'Reading …'}</span>
      </td>
      <td className="px-2.5 py-1.5">{data && `${data.weight}${data.italic ? ', italic' : ''}`}</td>
      <td className="px-2.5 py-1.5">
        {data?.characters.toLocaleString('en')}
        <span className="block text-xs text-soft">
          {data?.scripts
            .slice(0, 3)
            .map((script) => script.name)
            .join(', ')}
        </span>
      </td>
      <td className="max-w-64 px-2.5 py-1.5" title={data ? `${data.licence}\n${data.designer}` : undefined}>
        {licence && <span className={licence[1] ? '' : 'text-look'}>{licence[0]}</span>}
        <span className="line-clamp-1 text-xs text-soft">{data?.licence || (data && 'says nothing of a licence')}</span>
      </td>
      <td className="px-2.5 py-1.5 whitespace-nowrap">{data && size(data.size)}</td>
      <td className="px-2.5 py-1.5">
        <input
          type="checkbox"
          className="size-4 accent-leaf"
          aria-label={`${name} is a fallback`}
          checked={isFallback}
          onChange={() =>
            put(
              template.fonts,
              isFallback ? template.fallbacks.filter((id) => id !== font.id) : [...template.fallbacks, font.id],
              'the fallback fonts',
            )
          }
        />
      </td>
      <td className="max-w-60 px-2.5 py-1.5">
        <Uses
          name={name}
          uses={isFallback ? [...uses, 'the fallbacks'] : uses}
          onRemove={() =>
            put(
              template.fonts.filter((one) => one.id !== font.id),
              template.fallbacks,
              `removing ${name}`,
            )
          }
        />
      </td>
      <td className="px-2.5 py-1.5 text-right">
        <Button small aria-label={`Replace ${name}`} onClick={onReplace}>
          Replace …
        </Button>
      </td>
    </tr>
  )
}

function FallbackOrder({ template }: { template: Template }) {
  const { change } = useDraft()
  const { fallbacks, fonts } = template
  const move = (at: number) => {
    const next = [...fallbacks]
    const [own] = next.splice(at, 1)
    next.splice(at - 1, 0, own!)
    change({ kind: 'fonts', fonts, fallbacks: next }, 'the order of fallback fonts')
  }
  return (
    <div className="mt-2 flex flex-wrap items-center gap-1.5 text-soft">
      Asked in this order:
      <ol aria-label="Order of the fallbacks" className="contents">
        {fallbacks.map((id, i) => {
          const font = fonts.find((one) => one.id === id)
          const name = `${font?.family} ${font?.style}`
          return (
            <li key={id} className="flex items-center rounded-[3px] border border-rule bg-white pl-1.5 text-ink">
              {i + 1}. {name}
              <Button
                small
                look="quiet"
                disabled={i === 0}
                aria-label={`${name} is asked earlier`}
                onClick={() => move(i)}
              >
                ←
              </Button>
            </li>
          )
        })}
      </ol>
    </div>
  )
}

/** Another font in a font's place, looked at in the proofs before it is taken. */
function Replace({
  template,
  font,
  onClose,
}: {
  template: Template
  font: Template['fonts'][number]
  onClose: () => void
}) {
  const { change } = useDraft()
  const [before] = useState(template)
  const name = `${font.family} ${font.style}`
  const fontsWith = (asset: Asset) =>
    withFont(before, font.id, {
      family: asset.family!,
      style: asset.style!,
      file: `fonts/${asset.name}`,
      sha256: asset.sha256,
    })
  const proofs = [...before.proofs, ...generatedProofs(before)]
  const fillings = proofs.map((proof) => ({ name: proof.name, before: proof.values, after: proof.values }))
  return (
    <FontPicker
      title={`Replace ${name}`}
      action="Replace it"
      wide
      onClose={onClose}
      onFont={(asset) => {
        if (change({ kind: 'fonts', fonts: fontsWith(asset), fallbacks: before.fallbacks }, `replacing ${name}`))
          onClose()
      }}
    >
      {(asset) =>
        asset && (
          <section aria-label="What it changes" className="pt-3">
            <Replaced key={asset.sha256} before={before} fonts={fontsWith(asset)} fillings={fillings} />
          </section>
        )
      }
    </FontPicker>
  )
}

function Replaced({
  before,
  fonts,
  fillings,
}: {
  before: Template
  fonts: Template['fonts']
  fillings: Parameters<typeof Comparison>[0]['fillings']
}) {
  const [after] = useState(() => ({ ...before, fonts }))
  return <Comparison before={before} after={after} fillings={fillings} words={['now', 'replaced']} />
}

function Pictures({ template }: { template: Template }) {
  const { change } = useDraft()
  return (
    <Section title="Pictures and movies" note="By the names that data uses.">
      {template.media.length === 0 && (
        <p className="py-2 text-soft">None. Drop PNG, JPEG, WebP or SVG files here, or a short movie.</p>
      )}
      <ul className="mt-2 grid grid-cols-[repeat(auto-fill,minmax(190px,1fr))] gap-3">
        {template.media.map((media) => (
          <li key={media.id} className="border border-rule bg-paper">
            <div className="flex h-28 items-center justify-center bg-grey p-2">
              <img
                src={`/api/assets/${media.sha256}`}
                alt={media.name}
                className="max-h-full max-w-full object-contain"
              />
            </div>
            <div className="px-2.5 py-1.5">
              <p className="truncate font-medium">{media.name}</p>
              <p className="text-xs text-soft">
                {media.width} x {media.height}
                {media.movie &&
                  ` · ${media.movie.frames} frames at ${rateText(media.movie.rate)} fps, ${secondsOf(media.movie.frames, media.movie.rate).toFixed(1)} s`}
              </p>
              <div className="pt-0.5 text-xs">
                <Uses
                  name={media.name}
                  uses={pictureUses(template, media.name)}
                  onRemove={() =>
                    change(
                      { kind: 'media', media: template.media.filter((one) => one.id !== media.id) },
                      `removing ${media.name}`,
                    )
                  }
                />
              </div>
            </div>
          </li>
        ))}
      </ul>
    </Section>
  )
}

function Sounds({ template }: { template: Template }) {
  const { change } = useDraft()
  const put = (id: string, more: Partial<SoundFile>, what: string) =>
    change(
      { kind: 'sounds', sounds: template.sounds.map((one) => (one.id === id ? { ...one, ...more } : one)) },
      what,
      `sound ${id}`,
    )
  return (
    <Section
      title="Sounds"
      note="Each begins with a span, so that it keeps its place however long a title stands. Movies carry them."
    >
      {template.sounds.length === 0 && <p className="py-2 text-soft">None. Drop a WAV, MP3 or Ogg file here.</p>}
      <ul className="mt-2 border-t border-rule bg-paper empty:hidden">
        {template.sounds.map((sound) => (
          <li key={sound.id} className="flex flex-wrap items-center gap-3 border-b border-rule px-2.5 py-1.5">
            <b className="w-44 truncate font-semibold" title={sound.name}>
              {sound.name}
            </b>
            <span className="w-14 text-soft">{sound.seconds.toFixed(2)} s</span>
            {/* biome-ignore lint/a11y/useMediaCaption: a chime or a sweep says nothing that could be written down */}
            <audio
              controls
              preload="none"
              src={`/api/assets/${sound.sha256}`}
              className="h-8 w-52"
              aria-label={sound.name}
            />
            <span className="flex items-center gap-1.5">
              begins with
              <Select
                aria-label={`The span that ${sound.name} begins with`}
                className="!w-20"
                value={sound.span}
                options={[
                  ['in', 'In'],
                  ['hold', 'Hold'],
                  ['out', 'Out'],
                ]}
                onChange={(event) =>
                  put(sound.id, { span: event.target.value as SpanName }, `the place of ${sound.name}`)
                }
              />
              plus
              <NumberInput
                aria-label={`Frames into the span at which ${sound.name} begins`}
                className="!w-14"
                min={0}
                value={sound.at}
                onValue={(at) => put(sound.id, { at: Math.round(at) }, `the place of ${sound.name}`)}
              />
              frames
            </span>
            <span className="flex items-center gap-1.5">
              level
              <NumberInput
                aria-label={`Level of ${sound.name}, dB`}
                className="!w-16"
                min={-60}
                max={12}
                value={sound.level}
                onValue={(level) => put(sound.id, { level }, `the level of ${sound.name}`)}
              />
              dB
            </span>
            <Button
              small
              className="ml-auto"
              aria-label={`Remove ${sound.name}`}
              onClick={() =>
                change(
                  { kind: 'sounds', sounds: template.sounds.filter((one) => one.id !== sound.id) },
                  `removing ${sound.name}`,
                )
              }
            >
              Remove
            </Button>
          </li>
        ))}
      </ul>
    </Section>
  )
}
