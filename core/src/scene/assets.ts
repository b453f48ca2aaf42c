import type { Pixels } from '../paint/index.ts'
import type { FontId } from '../template/index.ts'
import type { Font, Hyphenate } from '../text/index.ts'
import type { Rate } from '../time/index.ts'

/** A picture that moves: its frames, made when they are asked for. */
export interface MovingPicture {
  width: number
  height: number
  frames: number
  rate: Rate
  /** @param frame from 0 */
  frame(frame: number): Pixels
}

/** What a template needs besides its document, already decoded. */
export interface Assets {
  fonts: ReadonlyMap<FontId, Font>
  /** A picture by the name that data uses; of a movie its first frame. */
  picture(name: string): Pixels | undefined
  /** A movie by the name that data uses; undefined for a picture that stands still. */
  movie(name: string): MovingPicture | undefined
  /** A family within reach that has a character, where that is known. */
  familyWith?(codePoint: number): string | undefined
  /** Where words may be parted, where a text asks for that. */
  hyphenate?: Hyphenate
}
