import { type Programme, type ProgrammeChange, readProgramme } from '../programme/index.ts'
import { type PatchedEdit, patchedDocument } from './patchedDocument.ts'

export type ProgrammeEdit = PatchedEdit<ProgrammeChange>

/** A programme as it is edited; what comes of a change is one that can be, or the change is refused. */
export const programmeDocument = patchedDocument<Programme, ProgrammeChange>((programme, change) => {
  const made = change(programme)
  return made === programme ? programme : readProgramme(made, programme)
})
