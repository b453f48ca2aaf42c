import { channels, type Lane } from '@hoja/core/motion'

/** A channel's name in the time view; those of characters, words and lines say so. */
export function laneName({ set, channel }: Lane): string {
  const { label } = channels[channel]
  return set === 'segments' ? `${label}, each` : label
}
