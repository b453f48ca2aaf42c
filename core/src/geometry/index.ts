/** An upright rectangle, its y downwards. px, in whatever coordinates its place says. */
export interface Box {
  x: number
  y: number
  width: number
  height: number
}
