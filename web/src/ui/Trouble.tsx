import { Link } from 'react-router'
import { ApiError } from '../api.ts'
import { Button, Empty } from './controls.tsx'

/** Instead of a page that can't be shown: whether what it is of is gone, refused or out of reach, and how to go on. */
export function Trouble({ error, what, onAgain }: { error: Error; what: string; onAgain?: (() => void) | undefined }) {
  const status = error instanceof ApiError ? error.status : undefined
  const title =
    status === 404
      ? `This ${what} isn't there`
      : status === 0
        ? 'Hoja does not answer'
        : `This ${what} could not be opened`
  return (
    <Empty title={title}>
      <p role="alert">{error.message}</p>
      {onAgain && status !== 404 && (
        <Button variant="primary" onClick={onAgain}>
          Try again
        </Button>
      )}
      <Link className="font-medium text-leaf hover:underline" to="/">
        To the Shelf
      </Link>
    </Empty>
  )
}
