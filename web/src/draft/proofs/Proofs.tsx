import { generatedProofs, stateOf, worstOf } from '@hoja/core/data'
import { freeId, type Proof, type Values } from '@hoja/core/template'
import { Ellipsis } from 'lucide-react'
import { createContext, memo, useContext, useEffect, useMemo, useRef, useState } from 'react'
import { useShallow } from 'zustand/react/shallow'
import { Backdrop } from '../../preview/Backdrop.tsx'
import { ProofPainter } from '../../preview/ProofPainter.ts'
import { useDraft } from '../../session/draft.ts'
import { classes, Heading } from '../../ui/controls.tsx'
import { Menu, MenuHere } from '../../ui/Menu.tsx'
import { useSize } from '../../ui/useSize.ts'
import { FoldButton } from '../Arrangement.tsx'
import { useDesk } from '../desk.ts'
import { TiedProofs } from '../tying/TiedProofs.tsx'
import { RowDialog } from './RowDialog.tsx'
import { Sweep } from './Sweep.tsx'
import { shortly } from './shortly.ts'
import { PainterContext, useProof } from './useProof.ts'

/** A proof's height for its width. */
const shape = 78 / 208

/** What all proofs show together: a frame (none: each as it stands), and how wide, px. */
const Shared = createContext<{ frame: number | undefined; width: number }>({ frame: undefined, width: 208 })
/** Px beside a proof, to the panel's borders. */
const beside = 28

function keep(name: string, values: Values): void {
  const { attempt } = useDraft.getState()
  attempt(({ proofs }) => {
    const id = freeId(
      proofs.map((proof) => proof.id),
      'proof',
    )
    return { kind: 'proofs', proofs: [...proofs, { id, name, values }] }
  }, `keeping the proof ${name}`)
}

/** Puts a proof into the frame. */
function put({ name, values }: Proof): void {
  useDesk.getState().set({ filling: { name, values } })
}

function drop({ id, name }: Proof): void {
  const { attempt } = useDraft.getState()
  attempt(
    ({ proofs }) => ({ kind: 'proofs', proofs: proofs.filter((proof) => proof.id !== id) }),
    `removing the proof ${name}`,
  )
}

/**
 * The same template with other fillings, live beside the drawing, each with its check in words: those kept with the
 * template, then those made from its fields. A click puts one into the frame.
 */
export const Proofs = memo(function Proofs(shown: { frame: number; playing: boolean }) {
  const isTying = useDesk((desk) => desk.tying !== undefined)
  return isTying ? <TiedProofs /> : <AsItIs {...shown} />
})

function AsItIs({ frame, playing }: { frame: number; playing: boolean }) {
  const { fields, proofs } = useDraft(
    useShallow(({ template }) => ({ fields: template!.fields, proofs: template!.proofs })),
  )
  const [adding, setAdding] = useState(false)
  const generated = useMemo(() => generatedProofs({ fields }), [fields])
  const [list, size] = useSize<HTMLElement>()
  const width = Math.max(120, Math.round(size.width || 236) - beside)
  const shown = playing ? frame : undefined
  const painter = usePainter()
  const shared = useMemo(() => ({ frame: shown, width }), [shown, width])
  return (
    <PainterContext value={painter}>
      <Shared value={shared}>
        <aside ref={list} className="flex min-h-0 flex-col overflow-hidden bg-paper" aria-label="Proofs">
          <Heading
            aside={
              <div className="flex items-center gap-1.5">
                <button
                  type="button"
                  className="text-xs font-medium text-leaf hover:underline"
                  title="From one proof to another, while the title is up"
                  onClick={() => useDesk.getState().set({ updating: true })}
                >
                  While up …
                </button>
                <Menu
                  align="end"
                  className="!text-leaf"
                  entries={() => [
                    { label: 'a row of a sheet …', onSelect: () => setAdding(true) },
                    {
                      label: 'what stands in the frame',
                      onSelect: () => {
                        const { filling } = useDesk.getState()
                        keep(filling.name, filling.values)
                      },
                    },
                  ]}
                >
                  + Add
                </Menu>
                <FoldButton of="proofs" keys="]" />
              </div>
            }
          >
            Proofs, {proofs.length + generated.length}
          </Heading>
          <Sweep fields={fields} />
          <ol className="flex min-h-0 flex-1 flex-col gap-3 overflow-auto px-3.5 pt-1 pb-4">
            {proofs.map((proof, i) => (
              <Tile key={proof.id} number={i + 1} proof={proof} kind="kept" />
            ))}
            {generated.length > 0 && <li className="-mb-1 text-xs font-medium text-soft">Made from the fields</li>}
            {generated.map((proof, i) => (
              <Tile key={proof.id} number={proofs.length + i + 1} proof={proof} kind="made" />
            ))}
            {fields.length === 0 && (
              <li className="text-soft">
                With a text that is a field (Y, Tie as drawn, makes one of it), Hoja tries the template here with the
                names that break titles.
              </li>
            )}
          </ol>
          {adding && (
            <RowDialog template={useDraft.getState().template!} onClose={() => setAdding(false)} onRow={keep} />
          )}
        </aside>
      </Shared>
    </PainterContext>
  )
}

/** What draws the proofs, following the drawing. */
function usePainter(): ProofPainter | undefined {
  const [painter, setPainter] = useState<ProofPainter>()
  useEffect(() => {
    const own = new ProofPainter()
    const follow = () => {
      const { template } = useDraft.getState()
      if (template) own.show(template)
    }
    follow()
    const end = useDraft.subscribe(follow)
    setPainter(own)
    return () => {
      end()
      own.close()
    }
  }, [])
  return painter
}

/** Whether an element is in sight: a proof that is scrolled away is not drawn. */
function useInSight(ref: React.RefObject<HTMLElement | null>): boolean {
  const [inSight, setInSight] = useState(false)
  useEffect(() => {
    const observer = new IntersectionObserver(([entry]) => setInSight(entry!.isIntersecting), { rootMargin: '60px' })
    observer.observe(ref.current!)
    return () => observer.disconnect()
  }, [ref])
  return inSight
}

type Kind = 'kept' | 'made'

/** A proof in the list. It stays as it is while the drawing changes; what it shows looks at the drawing by itself. */
const Tile = memo(
  function Tile({ number, proof, kind }: { number: number; proof: Proof; kind: Kind }) {
    const ref = useRef<HTMLLIElement>(null)
    const inSight = useInSight(ref)
    const height = useContext(Shared).width * shape
    const entries = () => [
      { label: 'Put into the frame', onSelect: () => put(proof) },
      kind === 'made'
        ? { label: 'Keep with the template', onSelect: () => keep(proof.name, proof.values) }
        : { label: 'Remove', onSelect: () => drop(proof) },
    ]
    return (
      <MenuHere entries={entries}>
        <li ref={ref} className="group relative" style={{ minHeight: height + 22 }}>
          {inSight ? (
            <Shown number={number} proof={proof} />
          ) : (
            <button
              type="button"
              className="block w-full text-left"
              style={{ paddingTop: height + 4 }}
              onClick={() => put(proof)}
            >
              {number} {proof.name}
            </button>
          )}
          {/* It stays while its menu is open: the menu hangs on it. */}
          <span className="absolute top-1 right-1 hidden group-focus-within:block group-hover:block has-aria-expanded:block">
            <Menu label={`More for the proof ${proof.name}`} align="end" className="bg-white !px-1" entries={entries}>
              <Ellipsis size={13} aria-hidden="true" />
            </Menu>
          </span>
        </li>
      </MenuHere>
    )
  },
  (a, b) => a.number === b.number && a.kind === b.kind && JSON.stringify(a.proof) === JSON.stringify(b.proof),
)

function Shown({ number, proof }: { number: number; proof: Proof }) {
  const { frame, width } = useContext(Shared)
  const height = Math.round(width * shape)
  // A proof made from the fields may be called like one that is kept.
  const on = useDesk(
    (desk) => desk.filling.name === proof.name && JSON.stringify(desk.filling.values) === JSON.stringify(proof.values),
  )
  const [canvas, seen] = useProof(proof.values, frame, width, height)
  const findings = seen && 'findings' in seen ? seen.findings : []
  const isLooked = seen !== undefined && 'isLooked' in seen && seen.isLooked
  const broken = seen && 'broken' in seen ? seen.broken : undefined
  const state = broken === undefined ? stateOf(findings) : 'stop'
  const worst = worstOf(findings)
  return (
    <button
      type="button"
      aria-pressed={on}
      title={broken ?? (findings.map((finding) => finding.message).join('\n') || undefined)}
      className="block w-full text-left"
      onClick={() => put(proof)}
    >
      <span
        className={classes(
          'relative block overflow-hidden bg-grey',
          on ? 'outline-2 outline-offset-1 outline-leaf' : 'outline-1 outline-rule',
        )}
        style={{ width, height }}
      >
        {seen && 'crop' in seen && <Backdrop crop={seen.crop} frame={seen.frame} />}
        <canvas
          ref={canvas}
          style={{ width, height }}
          className="absolute inset-0"
          role="img"
          aria-label={`Proof ${proof.name}`}
        />
      </span>
      <span className="mt-1 flex justify-between gap-2">
        <span className="shrink-0 text-ink">
          {number} {proof.name}
        </span>
        <span
          className={classes(
            'truncate text-right',
            !seen || (state === 'fine' && !isLooked)
              ? 'text-soft'
              : state === 'stop'
                ? 'text-stop'
                : state === 'look'
                  ? 'text-look'
                  : 'text-leaf',
          )}
        >
          {!seen
            ? 'looking …'
            : broken !== undefined
              ? 'not looked at'
              : worst
                ? `${state}: ${shortly(worst)}`
                : isLooked
                  ? 'fine'
                  : 'checked'}
        </span>
      </span>
    </button>
  )
}
