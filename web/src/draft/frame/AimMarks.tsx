import type { Scene } from '@hoja/core/scene'
import { findPart } from '@hoja/core/template'
import { aimedLine, useAim } from './aim.ts'
import { type EdgeLine, holdWords } from './edgeLines.ts'

/** While something is dragged to be tied: the line that it would hold to if it were let go, and that in a sentence. */
export function AimMarks({ scene, scale }: { scene: Scene; scale: number }) {
  const aim = useAim((state) => state.aim)
  if (!aim) return null
  const aimed = aimedLine(scene, aim)
  return (
    <>
      {aimed && (
        <svg className="pointer-events-none absolute inset-0 overflow-visible" width="1" height="1" aria-hidden="true">
          <path d={lineOf(aimed.line, scale)} stroke="#1f7a4d" strokeWidth="3" strokeOpacity="0.9" />
        </svg>
      )}
      <p
        role="status"
        className="pointer-events-none fixed z-30 max-w-72 rounded-[3px] border border-rule bg-white px-2 py-1 text-xs shadow-sm"
        style={{ left: aim.x + 14, top: aim.y + 14 }}
      >
        {aimed
          ? holdWords(scene.template, aimed.placed, aimed.own, aimed.line)
          : `${findPart(scene.template, aim.own.part)?.name}: drop it on an edge to hold to that`}
      </p>
    </>
  )
}

function lineOf({ axis, there, from, until }: EdgeLine, scale: number): string {
  const [at, start, end] = [there * scale, from * scale, until * scale]
  return axis === 'x' ? `M${at} ${start}V${end}` : `M${start} ${at}H${end}`
}
