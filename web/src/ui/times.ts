import { type TimeSpelling, timeSpellings } from '@hoja/core/time'
import { create } from 'zustand'
import { persist } from 'zustand/middleware'
import type { MenuEntry } from './Menu.tsx'

/** How a person wants times shown; kept by the browser. All three are read wherever a time stands. */
export const useTimes = create<{ spelling: TimeSpelling; setSpelling(spelling: TimeSpelling): void }>()(
  persist((set) => ({ spelling: 'frames', setSpelling: (spelling) => set({ spelling }) }), { name: 'hoja.times' }),
)

const words: Record<TimeSpelling, string> = { frames: 'as frames', seconds: 'as seconds', timecode: 'as timecode' }

/** A menu that chooses it. */
export const timeEntries = (): (MenuEntry | string)[] => [
  'times are shown',
  ...timeSpellings.map((spelling) => ({
    label: words[spelling],
    checked: useTimes.getState().spelling === spelling,
    onSelect: () => useTimes.getState().setSpelling(spelling),
  })),
]

/** px that a time takes in a narrow field. */
export const timeWidth: Record<TimeSpelling, number> = { frames: 30, seconds: 50, timecode: 80 }
