import { useRouteError } from 'react-router'
import { Button, Empty } from './controls.tsx'

/** Instead of a screen that broke: what was saved is safe, and how to go on. */
export function Broken() {
  const error = useRouteError() as Error | undefined
  return (
    <Empty title="This screen broke">
      <p>That is a defect of Hoja. Everything that was saved is safe.</p>
      {error?.message && <p className="text-xs">{error.message}</p>}
      <Button variant="primary" onClick={() => location.reload()}>
        Open it again
      </Button>
      <a className="text-leaf hover:underline" href="/">
        To the Shelf
      </a>
    </Empty>
  )
}
