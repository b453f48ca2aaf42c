import { Link, useLocation } from 'react-router'
import { Empty } from './controls.tsx'

/** At an address where there is no page. */
export function Nowhere() {
  const { pathname } = useLocation()
  return (
    <Empty title="There is no page at this address">
      <p className="break-all">{pathname}</p>
      <Link className="font-medium text-leaf hover:underline" to="/">
        To the Shelf
      </Link>
    </Empty>
  )
}
