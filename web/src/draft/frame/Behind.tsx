import { Backdrop } from '../../preview/Backdrop.tsx'
import type { Background } from '../desk.ts'

const flat: Partial<Record<Background, string>> = { grey: '#8c8c89', white: '#ffffff', black: '#000000' }
const checks = 'conic-gradient(#b9b9b5 25%, #8f8f8b 0 50%, #b9b9b5 0 75%, #8f8f8b 0)'

/** What stands behind the title while it is drawn; none of it is rendered. */
export function Behind({ background, still }: { background: Background; still: string | undefined }) {
  if (background === 'footage') return <Backdrop />
  if (background === 'still' && still)
    return <img src={still} alt="" className="absolute inset-0 size-full object-cover" draggable={false} />
  return (
    <div
      className="absolute inset-0"
      style={
        background === 'checks'
          ? { background: checks, backgroundSize: '24px 24px' }
          : { background: flat[background] ?? '#8c8c89' }
      }
    />
  )
}
