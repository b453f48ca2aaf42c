import {
  type Change,
  commonStyle,
  described,
  fieldToken,
  fontOf,
  fullStyle,
  type RunStyle,
  runsOf,
  saidBy,
  standsInText,
  styledWords,
  type Template,
  type TextPart,
  withField,
  wordsOf,
} from '@hoja/core/template'
import { useId } from 'react'
import { useDraft } from '../../session/draft.ts'
import { FontChoice } from '../../session/fonts/FontChoice.tsx'
import { ColourInput } from '../../ui/ColourInput.tsx'
import { Menu } from '../../ui/Menu.tsx'
import { NumberInput } from '../../ui/NumberInput.tsx'
import { featureWords } from '../panels/FeaturesInput.tsx'
import { useAxes, useFeatures } from '../sceneNow.ts'

/** Styles the chosen words; where none is chosen, the whole text. */
export function WordsBar({
  template,
  part,
  chosen: { from, to },
}: {
  template: Template
  part: TextPart
  chosen: { from: number; to: number }
}) {
  const size = useId()
  const tracking = useId()
  const weight = useId()
  const { change } = useDraft.getState()
  const content = runsOf(part)
  const whole = from === to
  const own = whole ? {} : commonStyle(content, from, to)
  const all = fullStyle('text', part.style)
  const style = { ...all, ...own }
  const put = <K extends keyof RunStyle>(key: K, value: RunStyle[K], first?: Change) => {
    const own: Change = whole
      ? { kind: 'style', part: part.id, key, value }
      : {
          kind: 'style',
          part: part.id,
          key: 'content',
          // What is as the whole text is needs no style of its own.
          value: styledWords(content, from, to, { [key]: value === all[key] ? undefined : value }),
        }
    const what = whole ? `${key} of ${part.name}` : `${key} of some words of ${part.name}`
    change(first ? { kind: 'several', changes: [first, own] } : own, what)
  }
  const font = fontOf(template, style.font)
  const has = useFeatures(font?.id ?? '')
  const heavy = useAxes(font?.id ?? '').find(({ tag }) => tag === 'wght')
  const { features } = style
  const fields = template.fields.filter(standsInText)
  return (
    <>
      <FontChoice
        label="Font of the words"
        className="w-44"
        template={template}
        font={font?.id ?? ''}
        text={whole ? saidBy(template, content) : wordsOf(content).slice(from, to).replaceAll(fieldToken, '')}
        onFont={(id, first) => put('font', id, first)}
      />
      <label htmlFor={size} className="text-soft">
        Size
      </label>
      <NumberInput
        id={size}
        className="!w-14"
        bounds={described.fontSize}
        value={style.size}
        onValue={(value) => put('size', value)}
      />
      <label htmlFor={tracking} className="text-soft">
        Tracking
      </label>
      <NumberInput
        id={tracking}
        className="!w-12"
        bounds={described.runTracking}
        value={style.tracking}
        onValue={(value) => put('tracking', value)}
      />
      {heavy && (
        <>
          <label htmlFor={weight} className="text-soft">
            {heavy.name}
          </label>
          <NumberInput
            id={weight}
            className="!w-14"
            bounds={{ least: heavy.least, most: heavy.most, step: 10 }}
            value={style.weight || heavy.standing}
            onValue={(value) => put('weight', value)}
          />
        </>
      )}
      <span className="w-44">
        <ColourInput
          template={template}
          label="Colour of the words"
          value={style.colour}
          onValue={(value) => put('colour', value)}
        />
      </span>
      <Menu
        label="Features of the words"
        entries={() => {
          const offered = featureWords.filter(([tag]) => has.has(tag) || features.includes(tag))
          if (offered.length === 0) return ['this font has none']
          return offered.map(([tag, label]) => ({
            label,
            checked: features.includes(tag),
            onSelect: () =>
              put('features', features.includes(tag) ? features.filter((one) => one !== tag) : [...features, tag]),
          }))
        }}
      >
        Features
      </Menu>
      {fields.length > 0 && (
        <Menu
          label="Put a field into the words"
          entries={() =>
            fields.map((field) => ({
              label: field.name,
              onSelect: () => {
                const value = withField(content, to, field.id)
                change({ kind: 'style', part: part.id, key: 'content', value }, `${field.name} among words`)
              },
            }))
          }
        >
          + field
        </Menu>
      )}
    </>
  )
}
