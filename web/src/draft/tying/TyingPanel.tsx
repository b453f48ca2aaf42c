import type { Scene } from '@hoja/core/scene'
import { useEffect, useRef } from 'react'
import { Button, Checkbox, classes } from '../../ui/controls.tsx'
import { counted } from '../../ui/counted.ts'
import { Menu } from '../../ui/Menu.tsx'
import { type Tying, useDesk } from '../desk.ts'
import { type Line, takeTying, useTied } from './tying.ts'

/**
 * What was read from the drawing, as sentences: each can be left out, and where two readings fit, one is chosen. Enter
 * takes them, Escape leaves everything as it is.
 */
export function TyingPanel({ scene, tying, lines }: { scene: Scene; tying: Tying; lines: readonly Line[] }) {
  const { set } = useDesk.getState()
  const list = useRef<HTMLDivElement>(null)
  const tied = useTied(scene, lines)
  const count = lines.filter(({ on }) => on).length
  const put = (more: Partial<Tying>) => set({ tying: { ...tying, ...more } })
  const point = (id: string | undefined) => {
    if (tying.pointed !== id) put({ pointed: id })
  }
  useEffect(() => list.current?.focus(), [])
  const keyDown = (event: React.KeyboardEvent) => {
    if (event.key === 'Escape') set({ tying: undefined })
    else if (event.key === 'Enter') takeTying(lines)
    else return
    event.preventDefault()
    event.stopPropagation()
  }
  return (
    <section
      aria-label="Tie as drawn"
      className="flex min-h-0 min-w-0 flex-col border-r border-rule"
      onKeyDown={keyDown}
    >
      <header className="flex h-[34px] shrink-0 items-center gap-2 border-b border-rule px-3.5">
        <h2 className="font-semibold">Read from the drawing</h2>
        <span className="ml-auto flex gap-1.5">
          <Button small onClick={() => set({ tying: undefined })}>
            Leave
          </Button>
          <Button
            small
            variant="primary"
            disabled={count === 0 || typeof tied === 'string'}
            title="Enter"
            onClick={() => takeTying(lines)}
          >
            {count === lines.length ? 'Take all' : 'Take'} {counted(count, 'sentence')}
          </Button>
        </span>
      </header>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: Enter and Escape work from the moment that it is there */}
      <div ref={list} tabIndex={0} className="min-h-0 flex-1 overflow-auto py-1 outline-none">
        {lines.length === 0 && (
          <p className="px-3.5 py-3 text-soft">
            {tying.ids
              ? 'All that is chosen holds to something already.'
              : 'All parts hold to something already; there is nothing left to tie.'}
          </p>
        )}
        {typeof tied === 'string' && (
          <p role="alert" className="px-3.5 py-1 text-stop">
            {tied}
          </p>
        )}
        <ul>
          {lines.map(({ proposal, option, at, on }) => (
            <li
              key={proposal.id}
              className="flex items-start gap-2 px-3.5 py-1 hover:bg-leaf-pale has-focus-visible:bg-leaf-pale"
              onPointerEnter={() => point(proposal.id)}
              onPointerLeave={() => point(undefined)}
              onFocus={() => point(proposal.id)}
            >
              <Checkbox
                className="mt-0.5 shrink-0"
                aria-label={option.sentence}
                checked={on}
                onValue={(checked) =>
                  put({ off: checked ? tying.off.filter((id) => id !== proposal.id) : [...tying.off, proposal.id] })
                }
              />
              <span className={classes('flex-1', !on && 'text-soft line-through')}>{option.sentence}</span>
              {proposal.options.length > 1 && (
                <Menu
                  label={`Other readings of ${option.sentence}`}
                  align="end"
                  className="!text-leaf"
                  entries={() =>
                    proposal.options.map(({ sentence }, i) => ({
                      label: sentence,
                      ...(i === at ? { checked: true } : {}),
                      onSelect: () => put({ choice: { ...tying.choice, [proposal.id]: i } }),
                    }))
                  }
                >
                  or …
                </Menu>
              )}
            </li>
          ))}
        </ul>
      </div>
    </section>
  )
}
