import { isGivenBy, writeCell } from '@hoja/core/data'
import { fieldValue } from '@hoja/core/scene'
import { type Field, formOf, type Template, type Values } from '@hoja/core/template'
import type { ReactNode } from 'react'
import { FieldInput } from './FieldInput.tsx'

/** A title's words as the form that its template makes of them; what is typed becomes the cell of its field. */
export function CellsForm({
  template,
  cells,
  values,
  onText,
  instead,
  aside,
}: {
  template: Template
  cells: Readonly<Record<string, string>>
  values: Values
  onText: (key: string, text: string) => void
  /** What stands in a field's place; undefined: its control. */
  instead?: (field: Field) => ReactNode
  /** What is said beside a field. */
  aside?: (field: Field) => ReactNode
}) {
  return (
    <>
      {formOf(template).flatMap(({ lines }) =>
        lines.map((line) =>
          line.kind === 'comment' ? null : (
            <div
              key={line.field.id}
              className={
                aside
                  ? 'grid grid-cols-[84px_minmax(0,1fr)_124px] items-start gap-2 py-0.5'
                  : 'grid grid-cols-[72px_minmax(0,1fr)] gap-2 py-0.5'
              }
            >
              <span className="truncate pt-1 text-soft" title={line.field.note || line.field.name}>
                {line.field.name}
              </span>
              {instead?.(line.field) ?? (
                <FieldInput
                  label={line.field.name}
                  template={template}
                  field={line.field}
                  value={
                    line.field.type === 'text'
                      ? (cells[line.field.key] ?? (isGivenBy(line.field, undefined) ? '' : line.field.default))
                      : fieldValue(line.field, values)
                  }
                  mayBeNow
                  onValue={(next) => onText(line.field.key, writeCell(template, line.field, next))}
                />
              )}
              {aside?.(line.field)}
            </div>
          ),
        ),
      )}
    </>
  )
}
