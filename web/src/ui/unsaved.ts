/** Saves what an open screen holds; whether all of it is saved by now. */
type Save = () => Promise<boolean>

const screens = new Set<Save>()

/** A screen that may hold something unsaved. @returns what ends that */
export function mayHoldUnsaved(save: Save): () => void {
  screens.add(save)
  return () => screens.delete(save)
}

/** Whether everything on every open screen is saved, after trying to. */
export async function saveEverything(): Promise<boolean> {
  const saved = await Promise.all([...screens].map((save) => save()))
  return saved.every(Boolean)
}
