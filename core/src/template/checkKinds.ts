/** How much a finding weighs; `off`: it is not told. */
export type CheckLevel = 'stop' | 'look' | 'off'

/**
 * The checks whose weight a designer can set for a template, by the code of what they find, with the weight they have
 * otherwise. What breaks a limit of the hand-off always stops, so it is not among them.
 */
export const checkKinds: Record<string, { label: string; level: Exclude<CheckLevel, 'off'> }> = {
  overflow: { label: 'A text runs past its room after every fit step', level: 'stop' },
  missing: { label: 'A character that no font has', level: 'stop' },
  picture: { label: 'A picture that is not there', level: 'stop' },
  along: { label: 'A text runs past the end of its path', level: 'stop' },
  'safe.title': { label: 'A text outside title-safe', level: 'stop' },
  'safe.action': { label: 'A part outside action-safe', level: 'look' },
  short: { label: 'A title shorter than its In and Out', level: 'stop' },
  cut: { label: 'A text is cut', level: 'look' },
  fit: { label: 'A fit step is nearly used up', level: 'look' },
  small: { label: 'Letters too small to read', level: 'look' },
  contrast: { label: 'Colours of the row that hardly stand out', level: 'look' },
  'picture.fallback': { label: 'A picture that is not there, with another in its place', level: 'look' },
  'picture.small': { label: 'A picture drawn far larger than it is', level: 'look' },
  collide: { label: 'Two texts or pictures meet in this row', level: 'look' },
  leaves: { label: 'A part leaves the surface it was drawn on', level: 'look' },
  over: { label: 'A part lies over another, drawn apart', level: 'look' },
  bare: { label: 'A surface stands empty', level: 'look' },
  line: { label: 'Parts drawn in line no longer are', level: 'look' },
  spacing: { label: 'Parts drawn evenly spaced no longer are', level: 'look' },
  layout: { label: 'A part without a size', level: 'look' },
  reading: { label: 'Too short to read', level: 'look' },
  pace: { label: 'A roll or crawl too fast to read', level: 'look' },
  run: { label: 'A roll or crawl of which the end is not seen', level: 'stop' },
  fast: { label: 'A part moves far faster than designed', level: 'look' },
  conversion: { label: 'A text that could not be converted', level: 'look' },
  default: { label: 'A sample stands where a row gives nothing', level: 'look' },
  ambiguous: { label: 'A number that can be read in two ways', level: 'look' },
  control: { label: 'Control characters', level: 'stop' },
  unseen: { label: 'Characters that cannot be seen or that turn writing round', level: 'look' },
  known: { label: 'Nearly a name that is known', level: 'look' },
  locked: { label: 'Data for what is locked', level: 'look' },
  spaces: { label: 'Spare spaces', level: 'look' },
  quotes: { label: 'Straight quotation marks', level: 'look' },
  twice: { label: 'The same name twice', level: 'look' },
  slip: { label: 'Nearly the same name twice', level: 'look' },
  script: { label: 'Another script than the column', level: 'look' },
  capitals: { label: 'All capitals, unlike the column', level: 'look' },
}
