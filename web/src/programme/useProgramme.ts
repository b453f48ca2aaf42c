import { createContext, useContext, useSyncExternalStore } from 'react'
import { useStore } from 'zustand'
import type { ProgrammeSession, ProgrammeView } from './programmeSession.ts'

export const SessionContext = createContext<ProgrammeSession | undefined>(undefined)

/** The programme that is open. */
export function useSession(): ProgrammeSession {
  const session = useContext(SessionContext)
  if (!session) throw new Error('no programme is open')
  return session
}

/** Something that screens see of it. */
export const useView = <T>(select: (view: ProgrammeView) => T): T => useStore(useSession().store, select)

/** The frame that the programme stands at; whoever asks is drawn anew for each. */
export function useFrame(): number {
  const { playhead } = useSession()
  return useSyncExternalStore(playhead.subscribe, () => playhead.frame)
}

export function useSpeed(): number {
  const { playhead } = useSession()
  return useSyncExternalStore(playhead.subscribe, () => playhead.speed)
}
