import type { FontsInstead, KnownFont } from '@hoja/core/api'
import { stateOf } from '@hoja/core/data'
import { useQuery } from '@tanstack/react-query'
import { unzip } from 'fflate'
import { useEffect, useRef, useState } from 'react'
import { type ApiError, api } from '../api.ts'
import { Backdrop } from '../preview/Backdrop.tsx'
import { Button, Line, Select, StateMark, StateWord } from '../ui/controls.tsx'
import { counted } from '../ui/counted.ts'
import { Dialog } from '../ui/Dialog.tsx'

/** What became of one package. */
interface Result {
  file: string
  state: 'taken' | 'refused'
  words: string
}

interface MissingFont {
  id: string
  family: string
  style: string
}

/** What becomes one template: its versions in their order, then its draft; a package by itself is a draft. */
interface Coming {
  file: File
  versions: File[]
}

const asFile = (path: string, data: Uint8Array) => new File([data as Uint8Array<ArrayBuffer>], path.split('/').pop()!)

/** A zip of packages, as the shelf exports it, comes in as the templates in it, each with its versions. */
async function templatesIn(files: File[]): Promise<Coming[]> {
  const all: Coming[] = []
  for (const file of files) {
    if (!/\.zip$/i.test(file.name)) {
      all.push({ file, versions: [] })
      continue
    }
    const bytes = new Uint8Array(await file.arrayBuffer())
    const inside = await new Promise<Record<string, Uint8Array> | undefined>((done) =>
      unzip(bytes, { filter: (entry) => /\.hoja$/i.test(entry.name) }, (error, found) =>
        done(error ? undefined : found),
      ),
    )
    const found = Object.entries(inside ?? {})
    // A zip without any is left to the server to refuse in its own words.
    if (found.length === 0) all.push({ file, versions: [] })
    const versionOf = (path: string) => path.match(/^(.*)-version-(\d+)\.hoja$/i)
    const drafts = new Set(found.map(([path]) => path.replace(/\.hoja$/i, '')))
    for (const [path, data] of found) {
      const version = versionOf(path)
      if (version && drafts.has(version[1]!)) continue
      const own = path.replace(/\.hoja$/i, '')
      const versions = found
        .flatMap(([other, bytesOf]) => {
          const [, of, number] = versionOf(other) ?? []
          return of === own ? [{ number: Number(number), file: asFile(other, bytesOf) }] : []
        })
        .sort((one, other) => one.number - other.number)
      all.push({ file: asFile(path, data), versions: versions.map((one) => one.file) })
    }
  }
  return all
}

/** Takes packages in one after another, asks for fonts where one is missing, and says at the end what became of each. */
export function ImportDialog({ files, onClose }: { files: File[]; onClose: () => void }) {
  const [results, setResults] = useState<Result[]>([])
  const [total, setTotal] = useState(files.length)
  const [asked, setAsked] = useState<{
    file: File
    missing: MissingFont[]
    answer: (instead: FontsInstead | undefined) => void
  }>()
  const [done, setDone] = useState(false)
  const stopped = useRef(false)
  const begun = useRef(false)
  useEffect(() => {
    // Once, however often the page draws itself.
    if (begun.current) return
    begun.current = true
    const take = async ({ file, versions }: Coming, instead: FontsInstead = {}): Promise<Result> => {
      try {
        let into: string | undefined
        for (const version of versions) {
          const more = { publish: 'As it was exported.', ...(into === undefined ? {} : { into }) }
          into = (await api.importTemplate({ file: version, instead: JSON.stringify(instead), ...more })).id
        }
        const template = await api.importTemplate({
          file: file,
          instead: JSON.stringify(instead),
          ...(into === undefined ? {} : { into }),
        })
        const fonts = template.instead.length > 0 ? ` ${template.instead.join('; ')}.` : ''
        const more = versions.length > 0 ? ` with ${counted(versions.length, 'version')}` : ''
        return { file: file.name, state: 'taken', words: `"${template.name}" is on the shelf${more}.${fonts}` }
      } catch (error) {
        const { code, message, body } = error as ApiError
        if (code !== 'package.fonts' || stopped.current) return { file: file.name, state: 'refused', words: message }
        const chosen = await new Promise<FontsInstead | undefined>((answer) =>
          setAsked({ file, missing: body.missing as MissingFont[], answer }),
        )
        setAsked(undefined)
        if (!chosen) return { file: file.name, state: 'refused', words: `${message.split(';')[0]}; it was left out.` }
        return take({ file, versions }, chosen)
      }
    }
    void (async () => {
      const packages = await templatesIn(files)
      setTotal(packages.length)
      for (const coming of packages) {
        if (stopped.current) break
        const result = await take(coming)
        setResults((known) => [...known, result])
      }
      setDone(true)
    })()
  }, [files])
  if (asked) return <FontsDialog {...asked} />
  const taken = results.filter((result) => result.state === 'taken').length
  const refused = results.filter((result) => result.state === 'refused')
  return (
    <Dialog
      open
      onOpenChange={() => done && onClose()}
      title={done ? `${taken} of ${total} taken in` : `Importing ${Math.min(results.length + 1, total)} of ${total} …`}
      footer={
        done ? (
          <Button variant="primary" onClick={onClose}>
            Close
          </Button>
        ) : (
          <Button
            onClick={() => {
              stopped.current = true
            }}
          >
            Stop after this one
          </Button>
        )
      }
    >
      {!done && <progress className="mb-2 w-full accent-leaf" value={results.length} max={total} />}
      <ul aria-label="What became of the packages">
        {[...refused, ...results.filter((result) => result.state === 'taken')].map((result, i) => (
          <li key={`${result.file} ${i}`} className="flex gap-2 border-b border-rule py-1 last:border-0">
            <StateMark state={result.state === 'taken' ? 'fine' : 'stop'} />
            <span>{result.words}</span>
          </li>
        ))}
      </ul>
    </Dialog>
  )
}

/** What takes the place of fonts that a package lacks: chosen once, looked at in the proofs, remembered. */
function FontsDialog({
  file,
  missing,
  answer,
}: {
  file: File
  missing: MissingFont[]
  answer: (instead: FontsInstead | undefined) => void
}) {
  const fonts = useQuery({ queryKey: ['fonts'], queryFn: () => api.fonts() })
  const [chosen, setChosen] = useState<Record<string, string>>({})
  const [instead, setInstead] = useState<FontsInstead>({})
  const choose = async (missed: MissingFont, id: string) => {
    setChosen((known) => ({ ...known, [missed.id]: id }))
    const font = fonts.data?.find((one) => one.id === id)
    const sha256 = font?.file ? font.id : (await api.addFont({ id })).sha256
    setInstead((known) => ({ ...known, [missed.id]: sha256 }))
  }
  const complete = missing.every((font) => instead[font.id])
  const preview = useQuery({
    queryKey: ['import-preview', file.name, file.size, JSON.stringify(instead)],
    queryFn: () => api.previewImport({ file, instead: JSON.stringify(instead) }),
    enabled: complete,
    gcTime: 0,
  })
  const counts = preview.data?.proofs.map((proof) => stateOf(proof.findings))
  const stops = counts?.filter((state) => state === 'stop').length ?? 0
  return (
    <Dialog
      open
      wide
      onOpenChange={() => answer(undefined)}
      title={`${file.name} lacks ${missing.length === 1 ? 'a font' : `${missing.length} fonts`}`}
      footer={
        <>
          <Button onClick={() => answer(undefined)}>Leave it out</Button>
          <Button variant="primary" disabled={!preview.data} onClick={() => answer(instead)}>
            Take it in so
          </Button>
        </>
      }
    >
      <p className="pb-2 text-soft">
        Choose what stands for {missing.length === 1 ? 'it' : 'each'}. The answer is remembered for the next package
        that lacks the same.
      </p>
      {missing.map((font) => (
        <Line key={font.id} label={`${font.family} ${font.style}`}>
          {(id) => (
            <Select
              id={id}
              value={chosen[font.id] ?? ''}
              options={[['', 'choose a font …'], ...sortedFor(font, fonts.data ?? [])]}
              onChange={(event) => event.target.value && void choose(font, event.target.value)}
            />
          )}
        </Line>
      ))}
      {complete && preview.isPending && <p className="pt-3 text-soft">Drawing the proofs …</p>}
      {preview.error && <p className="pt-3 text-stop">{preview.error.message}</p>}
      {preview.data && (
        <section aria-label="What it changes" className="pt-3">
          <div className="grid grid-cols-2 gap-3">
            {preview.data.came && <Proof picture={preview.data.came} words="The poster as it came" />}
            <Proof picture={preview.data.poster} words="The poster with what stands for it" />
          </div>
          <p className="py-2">
            {stops === 0 ? (
              <StateWord state="fine">
                {preview.data.proofs.length === 1
                  ? 'The one proof fits.'
                  : `All ${preview.data.proofs.length} proofs fit.`}
              </StateWord>
            ) : (
              <StateWord state="stop">
                {stops} of {counted(preview.data.proofs.length, 'proof')} {stops === 1 ? "doesn't" : "don't"} fit so.
              </StateWord>
            )}
          </p>
          <ul className="grid grid-cols-4 gap-3">
            {preview.data.proofs.map((proof) => (
              <li key={proof.name}>
                <Proof
                  picture={proof.picture}
                  words={proof.name}
                  state={stateOf(proof.findings)}
                  note={proof.findings[0]?.message}
                />
              </li>
            ))}
          </ul>
        </section>
      )}
    </Dialog>
  )
}

/** Fonts to choose from: those of the same family, then of the same style, then the rest. */
function sortedFor(missing: MissingFont, fonts: KnownFont[]): [string, string][] {
  const near = (font: KnownFont) => (font.family === missing.family ? 2 : 0) + (font.style === missing.style ? 1 : 0)
  return [...fonts]
    .sort((a, b) => near(b) - near(a))
    .map((font) => [font.id, `${font.family} ${font.style}${font.file ? ` (${font.file})` : ''}`])
}

function Proof({
  picture,
  words,
  state,
  note,
}: {
  picture: string
  words: string
  state?: 'stop' | 'look' | 'fine'
  note?: string | undefined
}) {
  return (
    <figure>
      <div className="relative aspect-video overflow-hidden">
        <Backdrop />
        <img src={picture} alt={words} className="absolute inset-0 size-full object-contain" />
      </div>
      <figcaption className="flex gap-1 pt-0.5 text-xs" title={note}>
        {state && <StateMark state={state} />}
        <span className="truncate">{words}</span>
      </figcaption>
    </figure>
  )
}
