/** Where a programme stands, and how fast it runs: told to whoever listens, so that no screen is drawn anew for a frame. */
export class Playhead {
  private readonly listeners = new Set<() => void>()
  private request = 0
  private position = 0
  /** ms of the page's clock of the last step. */
  private last = 0
  /** First frame that is not of the programme any more. */
  length = 1
  frame = 0
  /** Of real time; 0: it stands. */
  speed = 0

  constructor(private readonly framesPerSecond: number) {}

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener)
    return () => this.listeners.delete(listener)
  }

  go = (frame: number): void => {
    const next = Math.max(0, Math.min(this.length - 1, Math.round(frame)))
    this.position = next
    if (next === this.frame) return
    this.frame = next
    this.tell()
  }

  step = (frames: number): void => {
    this.setSpeed(0)
    this.go(this.frame + frames)
  }

  /** J and L again go twice as fast. */
  faster = (direction: 1 | -1): void => {
    const isSame = Math.sign(this.speed) === direction
    this.setSpeed(isSame ? Math.sign(this.speed) * Math.min(8, Math.abs(this.speed) * 2) : direction)
  }

  toggle = (): void => this.setSpeed(this.speed === 0 ? 1 : 0)

  setSpeed = (speed: number): void => {
    if (speed === this.speed) return
    // From the end it plays from the beginning.
    if (speed > 0 && this.frame >= this.length - 1) this.go(0)
    this.speed = speed
    cancelAnimationFrame(this.request)
    if (speed !== 0) {
      this.position = this.frame
      this.last = performance.now()
      this.request = requestAnimationFrame(this.tick)
    }
    this.tell()
  }

  close(): void {
    cancelAnimationFrame(this.request)
    this.listeners.clear()
  }

  private readonly tick = (time: number): void => {
    this.position += (Math.max(0, time - this.last) / 1000) * this.framesPerSecond * this.speed
    this.last = Math.max(this.last, time)
    const isOver = this.position >= this.length || this.position < 0
    const next = Math.max(0, Math.min(this.length - 1, Math.floor(this.position)))
    const hasMoved = next !== this.frame
    this.frame = next
    if (isOver) {
      this.speed = 0
      this.position = next
    } else this.request = requestAnimationFrame(this.tick)
    if (hasMoved || isOver) this.tell()
  }

  private tell(): void {
    for (const listener of this.listeners) listener()
  }
}
