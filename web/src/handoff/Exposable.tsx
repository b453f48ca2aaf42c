import { useDraggable } from '@dnd-kit/core'
import {
  canDrive,
  driversOf,
  type Field,
  fieldDriving,
  numberedParts,
  type Part,
  type Property,
  propertiesOf,
  type Template,
} from '@hoja/core/template'
import { GripVertical } from 'lucide-react'
import { useState } from 'react'
import { Button, classes, Heading, TextInput } from '../ui/controls.tsx'

const propertyId = (part: string, key: string) => `property:${part}:${key}`

/** A part and its property from the id that is dragged; undefined for anything else. */
export function parsePropertyId(id: string): { part: string; key: string } | undefined {
  const [word, part, key] = id.split(':')
  return word === 'property' && part && key ? { part, key } : undefined
}

/** What people change from title to title; everything else is offered when it is asked for. */
const usual = new Set(['content', 'picture', 'values'])

/** Every property that can be a field, by part: dragged into the form, or exposed by a button or `E`. */
export function Exposable({
  template,
  joining,
  onCancel,
  onExpose,
  onField,
}: {
  template: Template
  /** The field that the next property is to be driven by, besides what it drives already. */
  joining: Field | undefined
  onCancel: () => void
  onExpose: (part: string, key: string) => void
  onField: (id: string) => void
}) {
  const [search, setSearch] = useState('')
  const words = search.trim().toLowerCase()
  const rows = numberedParts(template)
  return (
    <aside className="flex min-h-0 flex-col overflow-auto bg-paper pb-4" aria-label="What can be exposed">
      <Heading>What can be exposed</Heading>
      {joining ? (
        <p className="mx-3.5 mb-2 flex items-center justify-between gap-2 border border-leaf bg-leaf-pale px-2 py-1.5">
          <span>
            Choose what <b className="font-semibold">{joining.name}</b> drives too.
          </span>
          <Button small onClick={onCancel}>
            Cancel
          </Button>
        </p>
      ) : (
        <p className="px-3.5 pb-2 text-soft">Few fields, well named. What is not exposed stays locked.</p>
      )}
      <TextInput
        className="!mx-3.5 mb-2 !w-auto shrink-0"
        type="search"
        placeholder="Find a part or property"
        aria-label="Find a part or property"
        value={search}
        onChange={(event) => setSearch(event.target.value)}
      />
      {rows.map(({ part, number, depth }) => (
        <PartRow
          key={part.id}
          template={template}
          part={part}
          number={number}
          depth={depth}
          search={words}
          joining={joining}
          onExpose={onExpose}
          onField={onField}
        />
      ))}
    </aside>
  )
}

interface PartRowProps {
  template: Template
  part: Part
  number: number
  depth: number
  search: string
  joining: Field | undefined
  onExpose: (part: string, key: string) => void
  onField: (id: string) => void
}

function PartRow({ template, part, number, depth, search, joining, onExpose, onField }: PartRowProps) {
  const [open, setOpen] = useState(false)
  const offered = propertiesOf(part.kind).filter(([key, property]) =>
    joining ? canDrive(joining, key, property) : driversOf(key, property).length > 0,
  )
  const byName = part.name.toLowerCase().includes(search)
  const found = search === '' ? offered : offered.filter(([, p]) => byName || p.label.toLowerCase().includes(search))
  const driven = (key: string) => fieldDriving(template, part, key)
  const first = found.filter(([key]) => usual.has(key) || driven(key))
  const rest = found.filter(([key]) => !usual.has(key) && !driven(key))
  if (found.length === 0) return null
  const all = open || search !== '' || joining !== undefined
  return (
    <section className="border-t border-rule py-1" aria-label={`Part ${part.name}`}>
      <h3 className="flex items-baseline gap-1.5 py-0.5 pr-3.5 font-medium" style={{ paddingLeft: 14 + depth * 12 }}>
        <span className="w-4 text-xs text-soft">{number}</span>
        <span className="truncate">{part.name}</span>
        <span className="text-xs font-normal text-soft">{part.kind}</span>
        {rest.length > 0 && search === '' && !joining && (
          <button
            type="button"
            className="ml-auto text-xs font-normal whitespace-nowrap text-leaf hover:underline"
            aria-expanded={open}
            aria-label={`${open ? 'Fewer' : 'More'} of ${part.name}`}
            onClick={() => setOpen(!open)}
          >
            {open ? 'fewer' : `${rest.length} more`}
          </button>
        )}
      </h3>
      <ul style={{ paddingLeft: 18 + depth * 12 }}>
        {[...first, ...(all ? rest : [])].map(([key, property]) => (
          <PropertyRow
            key={key}
            part={part}
            name={key}
            property={property}
            field={driven(key)}
            onExpose={onExpose}
            onField={onField}
          />
        ))}
      </ul>
    </section>
  )
}

function PropertyRow({
  part,
  name,
  property,
  field,
  onExpose,
  onField,
}: {
  part: Part
  name: string
  property: Property
  field: Field | undefined
  onExpose: (part: string, key: string) => void
  onField: (id: string) => void
}) {
  const { setNodeRef, listeners, isDragging } = useDraggable({
    id: propertyId(part.id, name),
    disabled: field !== undefined,
  })
  return (
    <li
      ref={setNodeRef}
      {...(field ? {} : listeners)}
      className={classes(
        'group flex h-7 items-center gap-1 rounded-[3px] pr-2.5 pl-1',
        !field && 'cursor-grab hover:bg-chalk',
        isDragging && 'bg-leaf-pale opacity-60',
      )}
    >
      <GripVertical size={12} aria-hidden="true" className={field ? 'invisible' : 'text-rule group-hover:text-soft'} />
      <span className="flex-1 truncate">{property.label}</span>
      {field ? (
        <button
          type="button"
          className="max-w-32 truncate text-leaf hover:underline"
          title={`The field ${field.name}`}
          onClick={() => onField(field.id)}
        >
          {field.name || 'without a name'}
        </button>
      ) : (
        <Button
          small
          className="opacity-0 group-hover:opacity-100 focus-visible:opacity-100"
          onClick={() => onExpose(part.id, name)}
          onKeyDown={(event) => event.key.toLowerCase() === 'e' && onExpose(part.id, name)}
          aria-label={`Expose ${property.label} of ${part.name}`}
        >
          Expose
        </Button>
      )}
    </li>
  )
}
