import { create } from 'zustand'
import { persist } from 'zustand/middleware'

/** How many templates count as recently used. */
const recently = 8

/** What a person keeps of the Shelf for themselves, in their browser. */
interface Mine {
  /** Templates that are wanted first, by id. */
  favourites: string[]
  /** Templates that were opened, the last first. */
  recent: string[]
  /** Cards show whole frames, not only what titles touch. */
  whole: boolean
  favour(id: string): void
  used(id: string): void
  setWhole(whole: boolean): void
}

export const useMine = create<Mine>()(
  persist(
    (set) => ({
      favourites: [],
      recent: [],
      whole: false,
      favour: (id) =>
        set(({ favourites }) => ({
          favourites: favourites.includes(id) ? favourites.filter((one) => one !== id) : [...favourites, id],
        })),
      used: (id) => set(({ recent }) => ({ recent: [id, ...recent.filter((one) => one !== id)].slice(0, recently) })),
      setWhole: (whole) => set({ whole }),
    }),
    { name: 'hoja.shelf' },
  ),
)
