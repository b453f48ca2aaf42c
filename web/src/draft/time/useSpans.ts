import type { Spans } from '@hoja/core/template'
import { useMemo } from 'react'
import { useDraft } from '../../session/draft.ts'
import { useDesk } from '../desk.ts'

const withHold = (spans: Spans, hold: number | undefined): Spans =>
  hold === undefined || hold === spans.hold.frames ? spans : { ...spans, hold: { ...spans.hold, frames: hold } }

/** The spans of the title in the frame: where its lists take their time, Hold is as long as they take. */
export function useSpans(): Spans {
  const spans = useDraft((draft) => draft.template!.spans)
  const hold = useDesk((desk) => desk.hold)
  return useMemo(() => withHold(spans, hold), [spans, hold])
}

/** The same, as they are at this moment. */
export const spansNow = (): Spans => withHold(useDraft.getState().template!.spans, useDesk.getState().hold)
