import { type AlignTo, align, distribute, mirrorAcross } from '@hoja/core/layout'
import { Scene } from '@hoja/core/scene'
import type { AxisName, Edge, PartId, Template } from '@hoja/core/template'
import { useDraft } from '../session/draft.ts'
import type { MenuEntry } from '../ui/Menu.tsx'
import { useDesk } from './desk.ts'

const lines: [AxisName, Edge, string][] = [
  ['x', 'start', 'left'],
  ['x', 'middle', 'centre'],
  ['x', 'end', 'right'],
  ['y', 'start', 'top'],
  ['y', 'middle', 'middle'],
  ['y', 'end', 'bottom'],
]
const goals: [AlignTo, string][] = [
  ['each other', 'with each other'],
  ['title', 'with title-safe'],
  ['action', 'with action-safe'],
  ['frame', 'with the frame'],
]

/** Every way to line up and spread the chosen parts. */
export function alignCommands(template: Template, scene: Scene, ids: readonly PartId[]): (MenuEntry | string | null)[] {
  const { attempt } = useDraft.getState()
  const rest = () => scene.layout(useDesk.getState().filling.values).rest
  const none = ids.length === 0
  return [
    ...goals.flatMap(([goal, words]): (MenuEntry | string | null)[] => [
      `Line up ${words}`,
      ...lines.map(([axis, edge, word]) => ({
        label: `${word} ${words}`,
        disabled: none || (goal === 'each other' && ids.length < 2),
        onSelect: () => attempt(() => align(template, rest(), ids, axis, edge, goal), `lining up ${word}`),
      })),
      null,
    ]),
    {
      label: 'even gaps across',
      disabled: ids.length < 3,
      onSelect: () => attempt(() => distribute(template, rest(), ids, 'x'), 'even gaps across'),
    },
    {
      label: 'even gaps down',
      disabled: ids.length < 3,
      onSelect: () => attempt(() => distribute(template, rest(), ids, 'y'), 'even gaps down'),
    },
  ]
}

export const mirrorWords = 'Mirror the whole design across'

/** Turns the whole design to the other side, as it is drawn. */
export const mirrorDesign = (scene: Scene): unknown =>
  useDraft.getState().attemptWhole((whole) => mirrorAcross(whole, restOf(scene)), 'mirroring the design')

/** Where parts are as drawn, in any shape of the template of a scene. */
export const restOf = (scene: Scene) => (shaped: Template) => new Scene(shaped, scene.assets).layout({}).rest
