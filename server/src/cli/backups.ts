import { backUp, type OnProgress, restore as restored } from '../backup/backup.ts'
import { holdsWords } from '../backup/holds.ts'

/** Tells on a terminal how far it is. */
const onProgress: OnProgress = (done, of) => {
  if (process.stderr.isTTY) process.stderr.write(`\r${done} of ${of} files${done === of ? '\n' : ''}`)
}

export async function backup(to: string, { data }: { data: string }): Promise<void> {
  const { holds } = await backUp(data, to, onProgress)
  console.log(`Backed up to "${to}": ${holdsWords(holds)}. Rendered titles are not in it.`)
}

export async function restore(from: string, { data }: { data: string }): Promise<void> {
  const { holds, made } = await restored(from, data, onProgress)
  console.log(`Restored to "${data}", as of ${made}: ${holdsWords(holds)}.`)
}
