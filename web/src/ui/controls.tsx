import { type ComponentProps, type InputHTMLAttributes, type ReactNode, type SelectHTMLAttributes, useId } from 'react'
import { useScrub } from './scrubbing.ts'

/** Joins class names, leaving out what is not there. */
export function classes(...names: (string | false | undefined | null)[]): string {
  return names.filter(Boolean).join(' ')
}

type Variant = 'primary' | 'plain' | 'quiet' | 'danger'
const variants: Record<Variant, string> = {
  primary: 'bg-leaf text-white hover:brightness-110 disabled:bg-rule disabled:text-soft border border-transparent',
  plain: 'bg-white border border-rule hover:border-soft disabled:text-soft disabled:bg-chalk',
  quiet: 'hover:bg-leaf-pale border border-transparent text-leaf disabled:text-soft',
  danger: 'bg-white border border-rule text-stop hover:border-stop',
}

export function Button({
  variant = 'plain',
  small,
  className,
  ...rest
}: ComponentProps<'button'> & { variant?: Variant; small?: boolean }) {
  return (
    <button
      type="button"
      {...rest}
      className={classes(
        'rounded-[3px] font-medium whitespace-nowrap',
        small ? 'h-6 px-2 text-xs' : 'h-7 px-3 text-sm',
        variants[variant],
        className,
      )}
    />
  )
}

export const inputClasses =
  'w-full rounded-[3px] border border-rule bg-white px-2 h-7 text-sm focus:border-leaf outline-none focus-visible:outline-2 focus-visible:outline-leaf disabled:bg-chalk disabled:text-soft'

export function TextInput({ className, ...rest }: ComponentProps<'input'>) {
  return <input {...rest} className={classes(inputClasses, className)} />
}

export function Select({
  className,
  options,
  ...rest
}: SelectHTMLAttributes<HTMLSelectElement> & { options: readonly (readonly [string, string])[] }) {
  return (
    <select {...rest} className={classes(inputClasses, 'pr-1', className)}>
      {options.map(([value, label]) => (
        <option key={value} value={value}>
          {label}
        </option>
      ))}
    </select>
  )
}

/** A label and its control on one line. */
export function Line({
  label,
  note,
  wrong,
  narrow,
  children,
}: {
  label: string
  note?: string | undefined
  /** What is wrong with what stands there; then it takes the note's place. */
  wrong?: string | undefined
  /** For lines inside of lines. */
  narrow?: boolean
  children: (id: string) => ReactNode
}) {
  const id = useId()
  const scrub = useScrub(id)
  return (
    <div
      className={classes(
        'grid items-start gap-2',
        narrow ? 'grid-cols-[58px_minmax(0,1fr)] py-px' : 'grid-cols-[108px_minmax(0,1fr)] py-[3px]',
      )}
    >
      <label htmlFor={id} className="touch-none pt-1 text-soft select-none" onPointerDown={scrub}>
        {label}
      </label>
      <div>
        {children(id)}
        {wrong ? (
          <p role="alert" className="mt-0.5 text-xs text-stop">
            {wrong}
          </p>
        ) : (
          note && <p className="mt-0.5 text-xs text-soft">{note}</p>
        )}
      </div>
    </div>
  )
}

/** A box that is ticked or not. */
export function Checkbox({
  className,
  onValue,
  ...more
}: Omit<InputHTMLAttributes<HTMLInputElement>, 'type' | 'onChange'> & {
  checked: boolean
  onValue: (checked: boolean) => void
}) {
  return (
    <input
      {...more}
      type="checkbox"
      className={classes('size-4 accent-leaf', className)}
      onChange={(event) => onValue(event.target.checked)}
    />
  )
}

/** A line that is either so or not. */
export function Tick({
  label,
  note,
  checked,
  onChange,
}: {
  label: string
  note?: string
  checked: boolean
  onChange: (checked: boolean) => void
}) {
  return (
    <Line label={label} note={note}>
      {(id) => <Checkbox id={id} className="mt-1.5" checked={checked} onValue={onChange} />}
    </Line>
  )
}

export function Heading({ children, aside }: { children: ReactNode; aside?: ReactNode }) {
  return (
    <div className="flex items-center justify-between px-3.5 pt-3 pb-1.5">
      <h2 className="text-xs font-medium tracking-wide text-soft">{children}</h2>
      <div className="text-xs text-soft">{aside}</div>
    </div>
  )
}

/** Says what to do first where there is nothing yet. */
export function Empty({ title, children }: { title: string; children?: ReactNode }) {
  return (
    <div className="mx-auto max-w-md px-6 py-14 text-center">
      <p className="text-base font-medium">{title}</p>
      <div className="mt-2 flex flex-col items-center gap-3 text-soft">{children}</div>
    </div>
  )
}

const stateClasses = { stop: 'text-stop', look: 'text-look', fine: 'text-leaf', checked: 'text-soft' }
const stateMarks = { stop: '✕', look: '○', fine: '✓', checked: '–' }

/** A row's state as a mark that reads without colour. */
export function StateMark({ state }: { state: keyof typeof stateMarks }) {
  return (
    <span className={classes('font-medium', stateClasses[state])} role="img" aria-label={state}>
      {stateMarks[state]}
    </span>
  )
}

export function StateWord({ state, children }: { state: 'stop' | 'look' | 'fine'; children?: ReactNode }) {
  return (
    <span className={stateClasses[state]}>
      <b className="font-semibold">{state}</b>
      {children && <> {children}</>}
    </span>
  )
}
