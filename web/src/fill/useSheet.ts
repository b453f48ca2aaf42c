import type { Finding, Match, Row, Splice } from '@hoja/core/data'
import type { Template } from '@hoja/core/template'
import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { toast } from 'sonner'
import { chunk, type FoundRows, SheetWorker } from '../preview/SheetWorker.ts'
import type { OtherVersion } from '../preview/sheetWork.ts'
import { type ApiError, api, type SheetDetail } from '../ui/api.ts'
import { mayHoldUnsaved } from '../ui/unsaved.ts'
import { changesBetween, inParts, movedBy, withChanges } from './changes.ts'

/** What was found about the rows, by their index: undefined until a row is checked. */
export type Found = readonly (Finding[] | undefined)[]

/** Rows up to which the screen is told of every finding as it comes. */
const shortSheet = 2000
/** Rows that are sent to the server at once. */
const sentAtOnce = 2000
/** States that undo goes back through. */
const deep = 200

/**
 * A sheet being filled: its rows with undo, saved as edits on a known revision, and the findings of every row, checked in
 * a worker, only what changed anew.
 */
export function useSheet(
  sheet: SheetDetail,
  template: Template,
  match: Match,
  versions: OtherVersion[],
  /** How names are spelled. */
  known: readonly string[],
) {
  const [rows, setRows] = useState(sheet.rows)
  const [saved, setSaved] = useState('')
  const past = useRef<Row[][]>([])
  const future = useRef<Row[][]>([])
  const stored = useRef(sheet.rows)
  const revision = useRef(sheet.revision)
  const latest = useRef(rows)
  const saving = useRef(false)
  const [worker, setWorker] = useState<SheetWorker>()
  const live = useRef<SheetWorker>(undefined)
  /** Whether the worker has all rows. */
  const loaded = useRef(false)

  const found = useRef<(Finding[] | undefined)[]>([])
  const sent = useRef<Splice[]>([])
  const due = useRef<ReturnType<typeof setTimeout>>(undefined)
  const [findings, setFindings] = useState<Found>([])
  // Findings come in by the dozen. The screen hears of an edit's at once, of a whole sheet's now and then.
  const publish = useCallback(() => {
    due.current ??= setTimeout(
      () => {
        due.current = undefined
        setFindings([...found.current])
      },
      found.current.length > shortSheet ? 250 : 16,
    )
  }, [])

  const tell = useCallback((own: SheetWorker, change: Splice) => {
    own.change(change)
    sent.current.push(change)
    // What was found about an edited row stands until the worker has looked at it again.
    if (change.remove !== change.rows.length)
      found.current.splice(change.at - 1, change.remove, ...change.rows.map(() => undefined))
  }, [])

  useEffect(() => {
    let stopped = false
    const heard = ({ edits, results }: FoundRows) => {
      if (stopped) return
      // Edits that the worker had not heard of when it said this.
      const since = sent.current.slice(edits)
      for (const { n, findings: own } of results) {
        const at = since.reduce<number | undefined>((place, one) => place && movedBy(one, place), n)
        if (at !== undefined) found.current[at - 1] = own
      }
      publish()
    }
    const own = new SheetWorker(template, match, versions, known, heard)
    own.onBroken = (message) => toast.error(message)
    live.current = own
    setWorker(own)
    found.current = []
    sent.current = []
    publish()
    // The worker is given its rows in chunks, each an edit that it counts; they move no row.
    const first = latest.current
    for (let at = 0; at < first.length; at += chunk) sent.current.push({ at: at + 1, remove: 0, rows: [] })
    void own
      .load(first, () => stopped)
      .then(() => {
        if (stopped) return
        loaded.current = true
        for (const change of changesBetween(first, latest.current)) tell(own, change)
      })
    return () => {
      stopped = true
      loaded.current = false
      live.current = undefined
      own.close()
    }
  }, [template, match, versions, known, publish, tell])

  /** Puts rows on the screen and tells the worker. */
  const showRows = useCallback(
    (next: Row[]) => {
      if (live.current && loaded.current)
        for (const change of changesBetween(latest.current, next)) tell(live.current, change)
      latest.current = next
      setRows(next)
      publish()
    },
    [publish, tell],
  )
  const save = useCallback(async () => {
    if (saving.current) return
    saving.current = true
    try {
      while (latest.current !== stored.current) {
        const target = latest.current
        const changes = changesBetween(stored.current, target)
        for (const part of inParts(changes, sentAtOnce)) {
          revision.current = (await api.changeRows(sheet.id, revision.current, part)).revision
          stored.current = withChanges(stored.current, part)
        }
        stored.current = target
        setSaved('saved')
      }
    } catch (error) {
      setSaved(`not saved: ${(error as ApiError).message}`)
      toast.error((error as ApiError).message)
      if ((error as ApiError).status === 409) {
        const fresh = await api.sheet(sheet.id)
        revision.current = fresh.revision
        stored.current = fresh.rows
        past.current = []
        future.current = []
        showRows(fresh.rows)
      }
    } finally {
      saving.current = false
    }
  }, [sheet.id, showRows])

  useEffect(
    () =>
      mayHoldUnsaved(async () => {
        await save()
        return latest.current === stored.current
      }),
    [save],
  )

  const show = useCallback(
    (next: Row[]) => {
      showRows(next)
      setSaved('saving …')
      void save()
    },
    [save, showRows],
  )
  const put = useCallback(
    (next: Row[]) => {
      if (next === latest.current) return
      past.current = [...past.current.slice(1 - deep), latest.current]
      future.current = []
      show(next)
    },
    [show],
  )
  const undo = useCallback(() => {
    const last = past.current.pop()
    if (!last) return
    future.current.push(latest.current)
    show(last)
  }, [show])
  const redo = useCallback(() => {
    const next = future.current.pop()
    if (!next) return
    past.current.push(latest.current)
    show(next)
  }, [show])

  /** Until what is on its way to the server is there: the revision is the one after it. */
  const settled = useCallback(async () => {
    while (saving.current) await new Promise((done) => setTimeout(done, 20))
  }, [])

  /** Takes in what the followed data says now. Undo steps over it: what was undone is what a person set. */
  const follow = useCallback(
    async (change: { from: number; revision: number; changes: Splice[] }) => {
      // What is on its way to the server is part of what comes back.
      await settled()
      if (change.revision <= revision.current) return
      if (change.from === revision.current && latest.current === stored.current) {
        revision.current = change.revision
        const next = withChanges(latest.current, change.changes)
        stored.current = next
        showRows(next)
        // What a person set can still be taken back; what the data says stays as it says now.
        const isInPlace = change.changes.every(({ remove, rows: put }) => remove === put.length)
        const rebased = (state: Row[]) =>
          state.map((row, i) => (row.cells === next[i]!.cells ? row : { ...row, cells: next[i]!.cells }))
        past.current = isInPlace ? past.current.map(rebased) : []
        future.current = isInPlace ? future.current.map(rebased) : []
      } else {
        const fresh = await api.sheet(sheet.id)
        revision.current = fresh.revision
        stored.current = fresh.rows
        showRows(fresh.rows)
        past.current = []
        future.current = []
      }
    },
    [sheet.id, showRows, settled],
  )

  return useMemo(
    () => ({ rows, put, undo, redo, follow, settled, saved, findings, worker, revision, before: past }),
    [rows, put, undo, redo, follow, settled, saved, findings, worker],
  )
}
