import { type ReactNode, useEffect, useState } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { Link, NavLink } from 'react-router'
import { classes } from './controls.tsx'
import { Dialog } from './Dialog.tsx'
import { useMine } from './mine.ts'

function Leaf() {
  return (
    <svg viewBox="0 0 20 20" className="size-[18px]" aria-hidden="true">
      <path fill="#1F7A4D" d="M2 18C1 8 7 2 18 2c1 10-5 15-12 14l4-6-6 5z" />
    </svg>
  )
}

const shortcuts: [string, string][] = [
  ['Space', 'play, stop'],
  ['← →', 'one frame (Shift: ten)'],
  ['J K L', 'back, stop, forward'],
  ['Ctrl Z, Ctrl Shift Z', 'undo, redo'],
  ['Tab, Shift Tab', 'next, previous control'],
  ['Escape', 'leave picking, close'],
  ['?', 'this sheet'],
]

/** The bar on top of every screen: where am I, which screens belong to this template, and what comes next. */
export function Header({
  template,
  here,
  production,
  shortcuts: own = [],
  tabs: screens,
  children,
}: {
  template?: { id: string; name: string }
  here?: ReactNode
  /** What it is done for. */
  production?: { id: number; name: string } | undefined
  /** What the screen adds to the sheet of shortcuts. */
  shortcuts?: [string, string][]
  /** In place of a template's screens. */
  tabs?: ReactNode
  children?: ReactNode
}) {
  const [help, setHelp] = useState(false)
  const id = template?.id
  useEffect(() => {
    if (id) useMine.getState().used(id)
  }, [id])
  useHotkeys(['?', 'shift+?'], () => setHelp(true), { useKey: true })
  const tabs: [string, string][] = template
    ? [
        ['Draft', `/t/${template.id}/draft`],
        ['Hand-off', `/t/${template.id}/handoff`],
        ['Fill', `/t/${template.id}/fill`],
        ['Outputs', `/t/${template.id}/outputs`],
      ]
    : []
  return (
    <header className="flex h-11 shrink-0 items-stretch gap-4 border-b border-rule bg-paper px-4">
      <Link to="/" className="flex items-center gap-2 text-base font-semibold">
        <Leaf /> hoja
      </Link>
      <nav aria-label="Where you are" className="flex min-w-0 items-center gap-1.5 text-soft">
        <Link to="/" className="hover:text-ink">
          Shelf
        </Link>
        {production && (
          <>
            <span>/</span>
            <Link to={`/p/${production.id}`} className="max-w-40 truncate hover:text-ink">
              {production.name}
            </Link>
          </>
        )}
        {template && (
          <>
            <span>/</span>
            <span className={classes('max-w-44 truncate', !here && 'font-medium text-ink')}>{template.name}</span>
          </>
        )}
        {here && (
          <>
            <span>/</span>
            <span className="max-w-48 truncate font-medium text-ink">{here}</span>
          </>
        )}
      </nav>
      <nav aria-label="Screens" className="ml-4 flex items-stretch">
        {screens}
        {tabs.map(([label, to]) => (
          <NavLink
            key={to}
            to={to}
            className={({ isActive }) =>
              classes(
                'flex items-center border-b-2 px-3',
                isActive ? 'border-leaf font-semibold' : 'border-transparent text-soft hover:text-ink',
              )
            }
          >
            {label}
          </NavLink>
        ))}
      </nav>
      <div className="ml-auto flex items-center gap-2.5">
        {children}
        <button
          type="button"
          aria-label="Shortcuts"
          onClick={() => setHelp(true)}
          className="size-6 rounded-full border border-rule text-soft hover:text-ink"
        >
          ?
        </button>
      </div>
      <Dialog open={help} onOpenChange={setHelp} title="Shortcuts">
        <dl className="grid grid-cols-[180px_1fr] gap-y-1.5">
          {[...shortcuts, ...own].map(([keys, what]) => (
            <div key={keys + what} className="contents">
              <dt className="font-medium">{keys}</dt>
              <dd className="text-soft">{what}</dd>
            </div>
          ))}
        </dl>
      </Dialog>
    </header>
  )
}
