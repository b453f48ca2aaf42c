import type { Pixels } from '../paint/index.ts'
import type { FontId } from '../template/index.ts'
import type { Font } from '../text/index.ts'

/** What a template needs besides its document, already decoded. */
export interface Assets {
  fonts: ReadonlyMap<FontId, Font>
  /** A picture by the name that data uses. */
  picture(name: string): Pixels | undefined
}
