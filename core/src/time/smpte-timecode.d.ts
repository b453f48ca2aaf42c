/** The part of smpte-timecode that is used; it comes without types. */
declare module 'smpte-timecode' {
  export default class Timecode {
    /** @throws Error for a timecode that does not exist at the rate */
    constructor(
      of: number | { hours?: number; minutes?: number; seconds?: number; frames?: number },
      rate: [num: number, den: number],
      dropFrame: boolean,
    )
    frameCount: number
    toString(): string
  }
}
