import { type Change, edit, type Template } from '../template/index.ts'
import { type PatchedEdit, patchedDocument } from './patchedDocument.ts'

export type DraftEdit = PatchedEdit<Change>

/** A template as it is edited. */
export const draftDocument = patchedDocument<Template, Change>(edit)
