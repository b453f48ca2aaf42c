import { findPart } from '@hoja/core/template'
import { createContext, useContext } from 'react'
import { useDraft } from '../session/draft.ts'
import type { MenuEntry } from '../ui/Menu.tsx'
import { shortcutWords } from '../ui/shortcutWords.ts'
import type { Command } from './commands.ts'
import { chosenParts, useDesk } from './desk.ts'

/** All that can be done at the moment that somebody asks. */
export const CommandsNow = createContext<{ readonly current: () => Command[] }>({ current: () => [] })

/** Commands as the entries of a menu, by their ids: the same names, keys and doings as everywhere. */
export function useCommandEntries() {
  const now = useContext(CommandsNow)
  return (ids: readonly (string | null)[]): (MenuEntry | null)[] => {
    const all = new Map(now.current().map((command) => [command.id, command]))
    return ids.flatMap((id): (MenuEntry | null)[] => {
      if (id === null) return [null]
      const command = all.get(id)
      if (!command) return []
      return [
        { label: command.name, onSelect: command.run, ...(command.keys ? { keys: shortcutWords(command.keys) } : {}) },
      ]
    })
  }
}

/** Where chosen parts go among those beside them. */
export const orderCommands = ['order-forward', 'order-backward', 'order-front', 'order-back', 'order-behind'] as const

/** What is done with the chosen parts, wherever they are met. */
const partCommands = [
  'tie-as-drawn',
  null,
  'copy',
  'cut',
  'paste',
  'paste-style',
  'paste-lines',
  'paste-motion',
  'duplicate',
  null,
  'group',
  'ungroup',
  null,
  ...orderCommands,
  null,
  'zoom-chosen',
  'hide',
  'solo',
  'lock',
  null,
  'remove',
] as const

/** The same, and what is done with texts alone. */
export function forChosen(): readonly (string | null)[] {
  const { template } = useDraft.getState()
  const part = template && findPart(template, useDesk.getState().selected ?? '')
  return part?.kind === 'text' ? ['write', ...partCommands] : partCommands
}

/** The parts that lie under the pointer, uppermost first, each to be chosen: one that another covers is reached so. */
export function lyingHere(): (MenuEntry | string | null)[] {
  const { here } = useDesk.getState()
  if (here.length < 2) return []
  const { template } = useDraft.getState()
  return [
    'What lies here',
    ...here.flatMap((id): MenuEntry[] => {
      const part = template && findPart(template, id)
      return part ? [{ label: part.name, onSelect: () => useDesk.getState().set({ selected: id }) }] : []
    }),
    null,
  ]
}

/** What is done where there is no part. */
export const frameCommands = [
  'paste',
  'all',
  'tie-as-drawn',
  null,
  'fit',
  'full',
  'show-safe',
  'show-measures',
  'show-numbers',
  'show-rulers',
] as const

/** A menu on a part is about all that are chosen, if it is among them. */
export function chooseForMenu(id: string): void {
  const desk = useDesk.getState()
  if (!chosenParts(desk).includes(id)) desk.set({ selected: id })
}
