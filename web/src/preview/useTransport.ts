import { useHotkeys } from 'react-hotkeys-hook'
import type { Player } from './usePlayer.ts'

/** The transport keys that the whole trade shares. */
export function useTransport(player: Player): void {
  useHotkeys('space', (event) => {
    event.preventDefault()
    player.toggle()
  })
  useHotkeys('left', () => player.go(player.frame - 1), [player.frame])
  useHotkeys('right', () => player.go(player.frame + 1), [player.frame])
  useHotkeys('shift+left', () => player.go(player.frame - 10), [player.frame])
  useHotkeys('shift+right', () => player.go(player.frame + 10), [player.frame])
  useHotkeys('j', () => player.setSpeed(-1))
  useHotkeys('k', () => player.setSpeed(0))
  useHotkeys('l', () => player.setSpeed(1))
}
