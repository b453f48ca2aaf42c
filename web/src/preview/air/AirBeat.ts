import type { Channel } from '@hoja/core/air'

/**
 * Which frame of a channel a display is to show at each of its own: as the clock says, but steady where both beat at nearly
 * the same rate, so that none is shown twice and the next left out because the two stand edge to edge. Never more than a
 * frame from the clock.
 */
export class AirBeat {
  private last: { at: number; frame: number } | undefined

  /** @param ms of the epoch at which the display shows it, by the server's clock */
  frame({ rate }: Pick<Channel, 'rate'>, ms: number): number {
    const exact = (ms * rate.num) / (rate.den * 1000)
    const due = Math.floor(exact + 1e-3)
    const { last } = this
    const steps = last ? Math.round(((ms - last.at) * rate.num) / (rate.den * 1000)) : 0
    const steady = last ? last.frame + steps : due
    // The middle of the frame is where it is furthest from both edges.
    const frame = last && steps > 0 && steps < 8 && Math.abs(exact - 0.5 - steady) < 0.75 ? steady : due
    this.last = { at: ms, frame }
    return frame
  }
}
