import { zipPackage as zipped } from '@hoja/core/formats'
import { FileStore, packageOf, writeWhole } from '../store/files.ts'
import type { Of } from './tasks.ts'

export function zipPackage({ template, files, poster, to }: Of<'zipPackage'>): null {
  writeWhole(to, zipped(packageOf(new FileStore(files), template, poster)))
  return null
}
