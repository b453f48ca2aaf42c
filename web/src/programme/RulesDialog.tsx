import { secondsIn, timecodeIn } from '@hoja/core/programme'
import { Refusal } from '@hoja/core/refusal'
import { frameOfTimecode, framesOf } from '@hoja/core/time'
import { useState } from 'react'
import { Button, Line, TextInput } from '../ui/controls.tsx'
import { Dialog } from '../ui/Dialog.tsx'
import { useSession, useView } from './useProgramme.ts'

/** What a programme wants of its titles along time. */
export function RulesDialog({ onClose }: { onClose: () => void }) {
  const session = useSession()
  const programme = useView((view) => view.programme)
  const { rules, picture, start } = programme
  const [longest, setLongest] = useState(
    rules.longest > 0 ? String(Number(secondsIn(programme, rules.longest).toFixed(2))) : '',
  )
  const [apart, setApart] = useState(rules.apart > 0 ? String(rules.apart) : '')
  const [end, setEnd] = useState(rules.end > 0 ? timecodeIn(programme, rules.end) : '')
  const [wrong, setWrong] = useState('')
  const take = () => {
    try {
      const seconds = longest.trim() === '' ? 0 : Number(longest.replace(',', '.'))
      const frames = apart.trim() === '' ? 0 : Number(apart)
      if (!Number.isFinite(seconds) || seconds < 0) return setWrong('The longest is a number of seconds, as 7.')
      if (!Number.isInteger(frames) || frames < 0) return setWrong('Between two is a whole number of frames, as 12.')
      const last = end.trim() === '' ? 0 : frameOfTimecode(end, picture.rate) - start.at
      if (end.trim() !== '' && last <= 0)
        return setWrong(`The end lies behind the beginning at ${timecodeIn(programme, 0)}.`)
      const next = { longest: framesOf(seconds, picture.rate), apart: frames, end: last }
      if (session.change((own) => ({ ...own, rules: next }), 'what is checked')) onClose()
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      setWrong(error.message)
    }
  }
  return (
    <Dialog
      open
      onOpenChange={onClose}
      title="What is checked along time"
      footer={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button variant="primary" onClick={take}>
            Check so
          </Button>
        </>
      }
    >
      <p className="pb-2 text-soft">
        Always checked: two titles in one place at once, a title over a cut, too short to read, outside the footage,
        words that differ for one person.
      </p>
      <Line label="Longest, seconds" note="a title that stands longer is told; empty: none">
        {(id) => (
          <TextInput id={id} inputMode="decimal" value={longest} onChange={(event) => setLongest(event.target.value)} />
        )}
      </Line>
      <Line label="Between two, frames" note="titles that come closer are told; empty: none">
        {(id) => (
          <TextInput id={id} inputMode="numeric" value={apart} onChange={(event) => setApart(event.target.value)} />
        )}
      </Line>
      <Line label="The programme ends at" note="a timecode; empty: where its last clip does">
        {(id) => <TextInput id={id} value={end} onChange={(event) => setEnd(event.target.value)} />}
      </Line>
      {wrong && (
        <p className="pt-1 text-stop" role="alert">
          {wrong}
        </p>
      )}
    </Dialog>
  )
}
