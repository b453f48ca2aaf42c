import type { Hand } from '../hand.ts'

/** Colours of the house, which every template of Estuary Week has. */
const colours: [name: string, colour: string][] = [
  ['Night tide', '#12343b'],
  ['Deep water', '#0b2329'],
  ['Shell', '#f4ead5'],
  ['Lamp amber', '#e3a24a'],
  ['Low tide', '#58a39b'],
]

/** A new template in the house's colours, with colours of its own behind them. */
export async function startInHouse(
  hand: Hand,
  name: string,
  frame: { note: string; language?: string },
  own: [name: string, colour: string][] = [],
): Promise<void> {
  await hand.startTemplate(name)
  await hand.frame(frame)
  await hand.palette([...colours, ...own])
}

/** The house's letters, in their two weights. */
export async function houseFonts(hand: Hand): Promise<void> {
  await hand.font('Barlow Condensed', 'SemiBold')
  await hand.font('Barlow Condensed', 'Medium')
}
