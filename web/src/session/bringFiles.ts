import { toast } from 'sonner'
import { broughtChange, type Carried, carryFile } from './carry.ts'
import { useDraft } from './draft.ts'

/** Takes what a file brought into the draft, as one step of undo, and says whether it stands. */
export const takeIn = (brought: Carried, file: File): boolean =>
  useDraft.getState().change(broughtChange(brought), `adding ${file.name}`)

/**
 * Brings files into the open draft, one after another, and says what came of each. A file that is refused changes
 * nothing and doesn't keep the others out.
 */
export async function bringFiles(files: readonly File[], take = takeIn): Promise<void> {
  for (const file of files)
    try {
      const brought = await carryFile(useDraft.getState().template!, file)
      if (!take(brought, file)) continue
      toast.success(brought.note ?? `${file.name} ${brought.part ? 'is a part now' : 'travels with the template now'}.`)
    } catch (error) {
      toast.error((error as Error).message)
    }
}
