import type { Template } from '@hoja/core/template'
import type { Option } from '@hoja/core/tying'
import type { Placed } from '../frame/placed.ts'

/** On the frame: the part that a sentence is about (leaf), and those it would hold to (madder). Frame px times `scale`. */
export function TyingMarks({
  template,
  part,
  option,
  placed,
  scale,
}: {
  template: Template
  part: string
  option: Option
  placed: readonly Placed[]
  scale: number
}) {
  const px = 1 / scale
  const boxOf = (id: string) => placed.find((one) => one.part.id === id)?.box
  const own = boxOf(part)
  return (
    <svg
      viewBox={`0 0 ${template.frame.width} ${template.frame.height}`}
      className="pointer-events-none absolute inset-0 size-full overflow-visible"
      aria-hidden="true"
    >
      {option.targets.map((id) => {
        const box = boxOf(id)
        return (
          box && <rect key={id} {...box} fill="#b4472e" fillOpacity="0.12" stroke="#b4472e" strokeWidth={1.5 * px} />
        )
      })}
      {own && <rect {...own} fill="#1f7a4d" fillOpacity="0.18" stroke="#fff" strokeWidth={2 * px} />}
      {own && <rect {...own} fill="none" stroke="#1f7a4d" strokeWidth={1.5 * px} />}
    </svg>
  )
}
