import {
  checkKnown,
  checkRow,
  type Finding,
  RowsTogether,
  stateOf,
  textColumns,
  valuesOf,
  weighed,
} from '@hoja/core/data'
import { boxOf } from '@hoja/core/layout'
import {
  checkSettings,
  durationOf,
  frameOf,
  type OutputSettings,
  settingsByShape,
  templateFor,
} from '@hoja/core/output'
import { demand } from '@hoja/core/refusal'
import { type Layout, Scene } from '@hoja/core/scene'
import { edit, firstShape, reframe, shapeNamed, shapeOf } from '@hoja/core/template'
import { openPackage } from '../packageFolder.ts'
import { loadAssets } from '../render/assets.ts'
import { Raster } from '../render/raster.ts'
import { framePng, frameSvg } from '../render/still.ts'
import { writeWhole } from '../store/files.ts'
import { type FrameOptions, frameSettings, shapesFrom } from './frameOptions.ts'
import { columnNotes, type DataOptions, knownFrom, readRows, rowAt } from './rows.ts'

/** @param shape by its name or id; absent: the first */
async function openScene(path: string, shape?: string): Promise<Scene> {
  const { template: whole, files } = await openPackage(path)
  const template = shapeOf(whole, shape === undefined ? firstShape : shapeNamed(whole, shape).id)
  return new Scene(template, await loadAssets(template, (entry) => files[entry.file]!))
}

const round = (value: number) => Number(value.toFixed(3))

/** Where every part of a settled title rests, as `hoja measure` prints it. */
export function measured(layout: Layout, row: number) {
  const { rest, blocks } = layout
  return {
    row,
    parts: rest.order.parts.map((part, i) => {
      const box = boxOf(rest, i)
      const block = blocks[i]
      return {
        id: part.id,
        name: part.name,
        kind: part.kind,
        visible: !rest.gone[i],
        box: { x: round(box.x), y: round(box.y), width: round(box.width), height: round(box.height) },
        ...(block
          ? {
              text: {
                lines: block.lineCount,
                size: round(block.size),
                condense: round(block.condense),
                overflow: round(block.fit.overflow),
                missing: block.missing,
              },
            }
          : {}),
      }
    }),
  }
}

export async function measure(
  path: string,
  data: string | undefined,
  options: DataOptions & { shape?: string; row?: number; json?: boolean },
): Promise<void> {
  const scene = await openScene(path, options.shape)
  const rows = readRows(scene.template, data, options)
  const numbers = options.row === undefined ? rows.rows.map((_, i) => i + 1) : [options.row]
  for (const row of numbers) {
    const { values } = valuesOf(scene.template, rows.match, rowAt(rows, row))
    const result = measured(scene.layout(values), row)
    if (options.json) console.log(JSON.stringify(result))
    else {
      console.log(`row ${row}`)
      for (const part of result.parts) {
        const { x, y, width, height } = part.box
        const text = part.text
          ? `  ${part.text.lines} line${part.text.lines === 1 ? '' : 's'} at ${part.text.size} px`
          : ''
        console.log(
          `  ${part.name.padEnd(14)} ${part.visible ? `left ${x}  top ${y}  width ${width}  height ${height}${text}` : 'gone'}`,
        )
      }
    }
  }
}

export async function check(
  path: string,
  data: string,
  options: DataOptions & FrameOptions & { json?: boolean },
): Promise<number> {
  const { template: designed, files } = await openPackage(path)
  const asked: OutputSettings = { format: 'png', ...frameSettings(options, designed.frame.rate) }
  const shapes = shapesFrom(options.shape ?? 'all', designed)
  const [settings = asked] = shapes.length === 1 ? settingsByShape({ ...asked, shapes }, designed) : []
  checkSettings(settings, designed)
  // Without a word about shapes every row is looked at in all of them.
  const isOne = shapes.length === 1 || asked.size !== undefined
  const template = isOne
    ? templateFor(settings, designed)
    : edit(designed, reframe(designed, frameOf(asked, designed), false))
  const scene = new Scene(template, await loadAssets(template, (entry) => files[entry.file]!))
  const rows = readRows(template, data, options)
  const findings: Finding[] = []
  const count = { stop: 0, look: 0, fine: 0 }
  const together = new RowsTogether(textColumns(template, rows.match, rows.rows))
  const known = knownFrom(options.known)
  const { looks } = new Raster()
  rows.rows.forEach((row, i) => {
    const slips = checkKnown(known, template, rows.match, row, i + 1)
    const beside = weighed(template, [...slips, ...together.findings(i + 1)])
    const frames = durationOf(settings, designed, rows.match, row)
    const { findings: alone } = checkRow(scene, rows.match, row, i + 1, frames, looks)
    const own = [...alone, ...beside]
    count[stateOf(own)]++
    findings.push(...own)
  })
  const { unmatched, unused, notes } = rows
  if (options.json)
    console.log(
      JSON.stringify({
        ...(notes.length === 0 ? {} : { note: notes.join(' ') }),
        unmatched,
        unused,
        rows: rows.rows.length,
        stop: count.stop,
        look: count.look,
        findings,
      }),
    )
  else {
    for (const words of columnNotes(rows)) console.log(words)
    for (const f of findings) console.log(`row ${f.row}  ${f.level}  ${f.message}`)
    const { length } = rows.rows
    console.log(
      `${length} ${length === 1 ? 'row' : 'rows'}: ${count.stop} stop, ${count.look} look, ${count.fine} fine`,
    )
  }
  return count.stop > 0 ? 1 : 0
}

export async function frame(
  path: string,
  data: string | undefined,
  options: DataOptions & { shape?: string; row?: number; at: number; out: string },
): Promise<void> {
  const kind = options.out.toLowerCase().match(/\.(png|svg)$/)?.[1]
  demand(kind, 'call', `"${options.out}" is neither a .png nor a .svg file.`)
  const scene = await openScene(path, options.shape)
  const rows = readRows(scene.template, data, options)
  const { values } = valuesOf(scene.template, rows.match, rowAt(rows, options.row ?? 1))
  const layout = scene.layout(values)
  const list = scene.frame(layout, scene.timing(layout), options.at)
  writeWhole(options.out, kind === 'svg' ? frameSvg(list) : framePng(list, new Raster()))
}
