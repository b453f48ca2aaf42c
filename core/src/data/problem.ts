/** What is wrong with one of a row's values, before anything is drawn. */
export interface Problem {
  /** Its key; absent: about a column that fills none. */
  field?: string
  level: 'stop' | 'look'
  code: string
  message: string
  /** The cell that would put it right, where that is safe. */
  fix?: string
}
