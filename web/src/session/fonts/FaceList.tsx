import type { Template } from '@hoja/core/template'
import { Command } from 'cmdk'
import { ChevronDown, ChevronRight } from 'lucide-react'
import { useState } from 'react'
import { classes } from '../../ui/controls.tsx'
import { counted } from '../../ui/counted.ts'
import { type Face, faceName, facesOf, familyOf, lastFaces, useKnownFonts, useLacks } from './faces.ts'

/** Characters of the text that a face is shown with. */
const sample = 30

/**
 * Every face, each written in itself with the text at hand: those of the template first, then those that were taken
 * last, then families with their styles. Typing searches; the arrows and Enter choose.
 */
export function FaceList({
  template,
  text,
  current,
  onFace,
}: {
  template: Pick<Template, 'fonts'> | undefined
  text: string
  current: Pick<Face, 'family' | 'style'> | undefined
  onFace: (face: Face) => void
}) {
  const faces = facesOf(template, useKnownFonts())
  const words = text.trim().slice(0, sample) || 'Estuary Week'
  const lacks = useLacks(words)
  const [open, setOpen] = useState<string>()
  const [sought, setSought] = useState('')
  const [at, setAt] = useState(current ? `carried ${faceName(current)}` : '')
  const carried = faces.filter((face) => face.carried)
  const last = lastFaces().flatMap((name) => faces.find((face) => !face.carried && faceName(face) === name) ?? [])
  const families = [...new Set(faces.map((face) => face.family))]
    .sort()
    .map((family) => [family, faces.filter((face) => face.family === family)] as const)
  const item = (face: Face, group: string) => (
    <Command.Item
      key={faceName(face)}
      value={`${group} ${faceName(face)}`}
      onSelect={() => onFace(face)}
      className="flex cursor-pointer items-baseline gap-3 px-3 py-1 data-[selected=true]:bg-leaf-pale"
    >
      <Sample face={face} words={words} lacks={lacks(face.family)} />
      <span
        className={classes(
          'max-w-[45%] shrink-0 truncate text-xs',
          current && faceName(current) === faceName(face) ? 'font-semibold text-ink' : 'text-soft',
        )}
      >
        {group === 'style' ? face.style : faceName(face)}
      </span>
    </Command.Item>
  )
  return (
    <Command
      label="Fonts"
      value={at}
      onValueChange={setAt}
      className="flex min-h-0 flex-col"
      filter={(value, search) =>
        search
          .toLowerCase()
          .split(/\s+/)
          .every((piece) => value.toLowerCase().includes(piece))
          ? 1
          : 0
      }
    >
      <Command.Input
        value={sought}
        onValueChange={setSought}
        placeholder="Search families and styles"
        className="w-full border-b border-rule bg-white px-3 py-2 outline-none"
      />
      {/* A press leaves the keyboard with the search. */}
      <Command.List
        className="max-h-[330px] min-h-0 overflow-auto py-1"
        onMouseDown={(event) => event.preventDefault()}
      >
        <Command.Empty className="px-3 py-3 text-soft">No font is called that.</Command.Empty>
        {carried.length > 0 && (
          <Command.Group heading="Carried by the template" className={heading}>
            {carried.map((face) => item(face, 'carried'))}
          </Command.Group>
        )}
        {last.length > 0 && (
          <Command.Group heading="Taken last" className={heading}>
            {last.map((face) => item(face, 'last'))}
          </Command.Group>
        )}
        <Command.Group heading="All families" className={heading}>
          {families.map(([family, styles]) => {
            const main = styles.find((face) => face.style === (current?.style ?? 'Regular')) ?? middle(styles)
            const isOpen = open === family || sought !== ''
            if (styles.length === 1) return item(main, 'family')
            return [
              sought === '' && (
                <Command.Item
                  key={family}
                  value={`family ${family}`}
                  onSelect={() => setOpen(isOpen ? undefined : family)}
                  className="flex cursor-pointer items-baseline gap-3 px-3 py-1 data-[selected=true]:bg-leaf-pale"
                >
                  <Sample face={main} words={words} lacks={lacks(family)} />
                  <span className="flex shrink-0 items-center gap-1 text-xs text-soft">
                    {family}, {counted(styles.length, 'style')}
                    <span className="sr-only">{isOpen ? ', open' : ', opens'}</span>
                    {isOpen ? (
                      <ChevronDown size={12} aria-hidden="true" />
                    ) : (
                      <ChevronRight size={12} aria-hidden="true" />
                    )}
                  </span>
                </Command.Item>
              ),
              isOpen && (
                <div key={`${family} styles`} className={classes(sought === '' && 'pl-4')}>
                  {styles.map((face) => item(face, sought === '' ? 'style' : 'found'))}
                </div>
              ),
            ]
          })}
        </Command.Group>
      </Command.List>
    </Command>
  )
}

const heading =
  '[&_[cmdk-group-heading]]:px-3 [&_[cmdk-group-heading]]:pt-1.5 [&_[cmdk-group-heading]]:text-xs [&_[cmdk-group-heading]]:text-soft'

const middle = <T,>(list: readonly T[]): T => list[list.length >> 1]!

function Sample({ face, words, lacks }: { face: Face; words: string; lacks: boolean }) {
  return (
    <span className="min-w-0 flex-1 truncate text-[17px] leading-7">
      {lacks ? (
        <span className="text-xs text-look">has not all of these characters</span>
      ) : (
        <span style={{ fontFamily: `"${familyOf(face)}"` }}>{words}</span>
      )}
    </span>
  )
}
