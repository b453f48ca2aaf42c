declare module 'webvtt-parser' {
  /** A piece of a cue's words; `value` of a text is what it says, of a voice who speaks. */
  export interface CueNode {
    type: 'object' | 'text' | 'timestamp'
    name?: string
    value?: string | number
    children?: CueNode[]
  }
  export interface Cue {
    id: string
    /** Seconds. */
    startTime: number
    endTime: number
    text: string
    tree: CueNode
  }
  interface Parser {
    parse(input: string, mode?: 'subtitles'): { cues: Cue[]; errors: { message: string; line: number; col?: number }[] }
  }
  // A CommonJS module: what it exports is the default.
  const parser: { WebVTTParser: new (entities?: Record<string, string>) => Parser }
  export default parser
}
