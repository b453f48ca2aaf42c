import { localMoment, type Row, rowAbout } from '@hoja/core/data'
import type { Template } from '@hoja/core/template'
import { useMemo } from 'react'

/** A row of a sheet with what its title is made among, now. @param n from 1 @param rows of the sheet */
export const useRowAbout = (template: Template, row: Row, n: number, rows: number): Row =>
  useMemo(() => rowAbout(template, row, { now: localMoment(new Date()), row: n, rows }), [template, row, n, rows])
