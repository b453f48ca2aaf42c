import { colouredBy } from './palette.ts'
import type { Property, PropertyKey, PropertyType } from './properties.ts'
import type { Field, Part, Template } from './types.ts'
import type { FieldType, FieldValue, PictureValue, ShiftValue, StyleValue } from './values.ts'
import { allParts, runsOf } from './walk.ts'

/** The kinds of field that may drive a property of each type, the usual one first. */
const drivers: Record<PropertyType, readonly FieldType[]> = {
  runs: ['text', 'number', 'moment', 'texts'],
  number: ['number'],
  switch: ['switch'],
  colour: ['colour'],
  fill: ['colour'],
  picture: ['picture'],
  choice: ['choice'],
  font: ['style'],
  numbers: ['numbers'],
  fit: [],
  shadows: [],
  outlines: [],
  features: [],
  axes: [],
  part: [],
  language: ['language'],
}

/** The kinds of field that may drive a property, the usual one first; none: it stays locked. */
export function driversOf(key: string, property: Property): readonly FieldType[] {
  if (property.locked) return []
  if (key === 'size') return ['style', 'number']
  if (key === 'shiftX' || key === 'shiftY') return ['shift', 'number']
  return drivers[property.type]
}

/**
 * Whether a field can drive a property besides what it drives: what its kind can, or, of a choice, what an option can
 * set.
 */
export function canDrive(field: Field, key: string, property: Property): boolean {
  if (field.type !== 'choice') return driversOf(key, property).includes(field.type)
  return !property.locked && property.type !== 'part' && property.type !== 'runs'
}

/** Whether a field can stand in a text, among its words. */
export const standsInText = (field: Field): boolean => drivers.runs.includes(field.type)

/** What a field's value gives to the part of one of its targets: properties and their values. */
export function givenBy(field: Field, property: PropertyKey, value: FieldValue): [string, unknown][] {
  switch (field.type) {
    case 'picture': {
      if (typeof value === 'string') return [[property, value]]
      const { picture, ...lies } = value as PictureValue
      return [[property, picture], ...Object.entries(lies)]
    }
    case 'style': {
      const given = (value as StyleValue)[property as 'font' | 'size']
      return given === undefined ? [] : [[property, given]]
    }
    case 'shift':
      return [[property, (value as ShiftValue)[property === 'shiftX' ? 'x' : 'y'] ?? 0]]
    default:
      return [[property, value]]
  }
}

/** The field that drives a property of a part, if one does. */
export function fieldDriving(template: Template, part: Part, key: string): Field | undefined {
  return template.fields.find((field) =>
    drivenBy(template, field).some((d) => d.part === part.id && d.property === key),
  )
}

/** Everything a field changes: what it drives, and what has the colours that it gives the palette. */
export const reachedBy = (template: Template, field: Field): { part: string; property: string }[] => [
  ...drivenBy(template, field),
  ...colouredBy(template, field),
  ...(field.whole ? template.parts.map(({ id }) => ({ part: id, property: 'x' })) : []),
]

/** Everything a field drives: texts in which it stands, its targets, and what the options of a choice set. */
export function drivenBy(template: Template, field: Field): { part: string; property: string }[] {
  const standing = allParts(template.parts)
    .filter((part) => runsOf(part).some((run) => run.field === field.id))
    .map((part) => ({ part: part.id, property: 'content' }))
  const set = new Map(
    (field.options ?? []).flatMap(({ sets }) =>
      sets.map(({ part, property }) => [`${part} ${property}`, { part, property }] as const),
    ),
  )
  return [...standing, ...field.targets, ...set.values()]
}
