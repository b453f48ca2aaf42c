import { existsSync, readFileSync } from 'node:fs'
import { basename, join } from 'node:path'
import { packageFiles, readPackage, starterFile, unzipPackage, withHashes, zipPackage } from '@hoja/core/formats'
import { demand } from '@hoja/core/refusal'
import { openPackage, readFolder } from '../packageFolder.ts'
import { writeWhole } from '../store/files.ts'

export async function pack(folder: string, file: string): Promise<void> {
  demand(
    existsSync(join(folder, 'template.json')),
    'package.none',
    `"${folder}" holds no template.json; give the folder of an unpacked template.`,
  )
  writeWhole(file, zipPackage(await readPackage(await withHashes(readFolder(folder)), basename(folder))))
}

export async function unpack(file: string, folder: string): Promise<void> {
  demand(existsSync(file), 'package.none', `There is no template at "${file}".`)
  // Everything is read and checked before the first file is written.
  const read = await readPackage(unzipPackage(readFileSync(file), basename(file)), basename(file))
  for (const [path, bytes] of Object.entries(packageFiles(read))) writeWhole(join(folder, path), bytes)
}

export async function starter(
  path: string,
  { out, formulasAsTheyAre = false }: { out: string; formulasAsTheyAre?: boolean },
): Promise<void> {
  const kind = out.toLowerCase().match(/\.(csv|xlsx|json)$/)?.[1] as 'csv' | 'xlsx' | 'json' | undefined
  demand(kind, 'call', `"${out}" is none of .csv, .xlsx and .json.`)
  const { template } = await openPackage(path)
  const text = starterFile(template, kind, formulasAsTheyAre)
  writeWhole(out, text)
  if (kind === 'csv' && !formulasAsTheyAre && !Buffer.from(text).equals(starterFile(template, kind, true)))
    console.log('Cells that begin like a formula have an apostrophe before them; Hoja reads them without it.')
}
