import type { StoredSession } from '@hoja/core/session'

/** Characters of undo steps that are kept past a reload of the page, in the tab's own storage. */
const most = 1_500_000
/** Steps that undo goes back through. */
export const depth = 200

/** How sessions pass the time in a page. */
export const sessionOptions = (pause: number) => ({
  pause,
  depth,
  later: (ms: number, act: () => void) => {
    const timer = setTimeout(act, ms)
    return () => clearTimeout(timer)
  },
})

/** What there is of sessionStorage: none where a page may not keep anything. */
const storage = (): Storage | undefined => {
  try {
    return globalThis.sessionStorage
  } catch {
    return undefined
  }
}

interface Kept<State, Edit> {
  keep(most: number): StoredSession<State, Edit>
}

/** Keeps a session whenever the page may go. @returns what ends that */
export function keepPastReload<State, Edit>(key: string, session: Kept<State, Edit>): () => void {
  const write = () => {
    const put = (value: StoredSession<State, Edit>) => storage()?.setItem(key, JSON.stringify(value))
    try {
      put(session.keep(most))
    } catch {
      // Too large for the tab's storage: the steps are let go, and what was saved is on the server.
      storage()?.removeItem(key)
    }
  }
  globalThis.addEventListener?.('pagehide', write)
  return () => {
    globalThis.removeEventListener?.('pagehide', write)
    write()
  }
}

/** A session as it was kept, if it was. */
export function keptSession<State, Edit>(key: string): StoredSession<State, Edit> | undefined {
  const text = storage()?.getItem(key)
  if (!text) return undefined
  try {
    return JSON.parse(text) as StoredSession<State, Edit>
  } catch {
    return undefined
  }
}
