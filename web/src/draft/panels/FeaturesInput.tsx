import type { Part } from '@hoja/core/template'
import { Checkbox } from '../../ui/controls.tsx'
import { useFeatures } from '../sceneNow.ts'

/** OpenType features by their registered tags, as people call them. */
export const featureWords: [string, string][] = [
  ['smcp', 'small caps'],
  ['c2sc', 'small caps from capitals'],
  ['tnum', 'tabular figures'],
  ['pnum', 'proportional figures'],
  ['onum', 'old-style figures'],
  ['lnum', 'lining figures'],
  ['frac', 'fractions'],
  ['sups', 'superscript'],
  ['ordn', 'ordinals'],
  ['zero', 'slashed zero'],
  ['dlig', 'more ligatures'],
  ['salt', 'other letter forms'],
  ['ss01', 'stylistic set 1'],
  ['ss02', 'stylistic set 2'],
]

/** The features that the text's font has, each on or off. */
export function FeaturesInput({
  id,
  part,
  font,
  value,
  onValue,
}: {
  id: string
  part: Part
  /** Id of the font that is asked; absent: the part's own. */
  font?: string | undefined
  value: string[]
  onValue: (value: string[]) => void
}) {
  const own = font ?? (part.kind === 'text' ? part.style.font : undefined) ?? ''
  const has = useFeatures(own)
  const offered = featureWords.filter(([tag]) => has.has(tag) || value.includes(tag))
  if (offered.length === 0) return <p className="pt-1 text-soft">This font has none.</p>
  return (
    <div className="flex flex-wrap gap-x-3 pt-1">
      {offered.map(([tag, word], i) => (
        <label key={tag} className="flex items-center gap-1">
          <Checkbox
            id={i === 0 ? id : undefined}
            checked={value.includes(tag)}
            onValue={(checked) => onValue(checked ? [...value, tag] : value.filter((other) => other !== tag))}
          />
          {word}
        </label>
      ))}
    </div>
  )
}
