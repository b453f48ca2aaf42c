import { type Cells, type Finding, type Match, textColumns } from '@hoja/core/data'
import type { Template } from '@hoja/core/template'
import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { toast } from 'sonner'
import { RowWorker } from '../preview/RowWorker.ts'
import { type ApiError, api, type SheetDetail } from '../ui/api.ts'
import { changesBetween } from './changes.ts'

/** What was found about each row, by its cells: undefined until it is checked. */
export interface Found {
  get(cells: Cells): Finding[] | undefined
}

/** How long (ms) after an edit rows are looked at together. */
const restAfterEdit = 250

/**
 * A sheet being filled: its cells with undo, saved as edits on a known revision, and the findings of every row, checked in
 * a worker, only the changed rows anew.
 */
export function useSheet(sheet: SheetDetail, template: Template, match: Match) {
  const [cells, setCells] = useState(sheet.cells)
  const [findings, setFindings] = useState<Map<Cells, Finding[]>>(new Map())
  const [saved, setSaved] = useState('')
  const past = useRef<Cells[][]>([])
  const future = useRef<Cells[][]>([])
  const stored = useRef(sheet.cells)
  const revision = useRef(sheet.revision)
  const latest = useRef(cells)
  const saving = useRef(false)
  const [worker, setWorker] = useState<RowWorker>()

  useEffect(() => {
    const own = new RowWorker(template, match)
    own.onBroken = (message) => toast.error(message)
    setWorker(own)
    setFindings(new Map())
    return () => own.close()
  }, [template, match])

  // Rows are told apart by identity: an edit makes a new one, and only that is checked again.
  useEffect(() => {
    if (!worker) return
    let stopped = false
    setFindings((known) => {
      const todo = cells.flatMap((own, i) => (known.has(own) ? [] : [{ row: i + 1, cells: own }]))
      void worker.check(
        todo,
        (results) =>
          setFindings((old) => {
            const next = new Map(old)
            for (const result of results) next.set(todo.find((t) => t.row === result.row)!.cells, result.findings)
            return next
          }),
        () => stopped,
      )
      return known
    })
    return () => {
      stopped = true
    }
  }, [worker, cells])

  // What only shows when rows are seen together; a moment after the last edit.
  const [across, setAcross] = useState<Map<Cells, Finding[]>>(new Map())
  useEffect(() => {
    if (!worker) return
    let stopped = false
    const timer = setTimeout(async () => {
      const columns = textColumns(template, match, (row, column) => cells[row]![column] ?? '', cells.length)
      const byRow = new Map<Cells, Finding[]>()
      for (const finding of await worker.columns(columns)) {
        const own = cells[finding.row - 1]!
        byRow.set(own, [...(byRow.get(own) ?? []), finding])
      }
      if (!stopped) setAcross(byRow)
    }, restAfterEdit)
    return () => {
      stopped = true
      clearTimeout(timer)
    }
  }, [worker, template, match, cells])
  const found = useMemo(
    (): Found => ({
      get: (own) => {
        const alone = findings.get(own)
        const together = across.get(own)
        return alone && together ? [...alone, ...together] : alone
      },
    }),
    [findings, across],
  )

  const save = useCallback(async () => {
    if (saving.current) return
    saving.current = true
    try {
      while (latest.current !== stored.current) {
        const target = latest.current
        const changes = changesBetween(stored.current, target)
        if (changes.length > 0) revision.current = (await api.changeRows(sheet.id, revision.current, changes)).revision
        stored.current = target
        setSaved('saved')
      }
    } catch (error) {
      setSaved(`not saved: ${(error as ApiError).message}`)
      toast.error((error as ApiError).message)
      if ((error as ApiError).status === 409) {
        const fresh = await api.sheet(sheet.id)
        revision.current = fresh.revision
        stored.current = fresh.cells
        latest.current = fresh.cells
        setCells(fresh.cells)
      }
    } finally {
      saving.current = false
    }
  }, [sheet.id])

  const show = useCallback(
    (next: Cells[]) => {
      latest.current = next
      setCells(next)
      setSaved('saving …')
      void save()
    },
    [save],
  )
  const put = useCallback(
    (next: Cells[]) => {
      past.current = [...past.current.slice(-200), latest.current]
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

  return { cells, put, undo, redo, saved, findings: found, worker, revision, canUndo: past.current.length > 0 }
}
