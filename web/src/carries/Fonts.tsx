import type { Asset } from '@hoja/core/api'
import { generatedProofs } from '@hoja/core/data'
import { fontUses, type Template, withFont } from '@hoja/core/template'
import type { Embedding } from '@hoja/core/text'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api } from '../api.ts'
import { Comparison } from '../preview/Comparison.tsx'
import { useDraft } from '../session/draft.ts'
import { FontPicker } from '../session/fonts/FontPicker.tsx'
import { Button, Checkbox } from '../ui/controls.tsx'
import { sizeWords } from '../ui/words.ts'
import { Section, Uses } from './Section.tsx'

const allowed: Record<Embedding['allows'], [string, boolean]> = {
  installable: ['may travel', true],
  editable: ['may travel, editable', true],
  preview: ['for viewing only', false],
  restricted: ['forbids embedding', false],
}

/** The fonts, with what each holds and what its licence allows. */
export function Fonts({ template }: { template: Template }) {
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
  const { change } = useDraft.getState()
  const facts = useQuery({
    queryKey: ['facts', font.sha256],
    queryFn: () => api.fontFacts({ sha256: font.sha256 }),
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
      <td className="px-2.5 py-1.5 whitespace-nowrap">{data && sizeWords(data.size)}</td>
      <td className="px-2.5 py-1.5">
        <Checkbox
          aria-label={`${name} is a fallback`}
          checked={isFallback}
          onValue={() =>
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
  const { change } = useDraft.getState()
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
                variant="quiet"
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
  const { change } = useDraft.getState()
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
