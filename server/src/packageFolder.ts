import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs'
import { basename, join, relative, sep } from 'node:path'
import { type PackageFiles, readPackage, type TemplatePackage, unzipPackage } from '@hoja/core/formats'
import { limits, most } from '@hoja/core/limits'
import { demand } from '@hoja/core/refusal'

/** Files of an unpacked package, by path. @throws Refusal when it is larger than a package may be. */
export function readFolder(folder: string): PackageFiles {
  const files: PackageFiles = {}
  let total = 0
  const visit = (at: string) => {
    for (const entry of readdirSync(at, { withFileTypes: true })) {
      const path = join(at, entry.name)
      if (entry.isDirectory()) visit(path)
      else if (entry.isFile()) {
        total += statSync(path).size
        demand(
          total <= limits.packageBytes.most,
          'package.large',
          `"${folder}" holds more than ${most('packageBytes')}; it was not opened.`,
        )
        files[relative(folder, path).split(sep).join('/')] = readFileSync(path)
      }
    }
  }
  visit(folder)
  return files
}

/** Opens a `.hoja` file or its unpacked folder. @throws Refusal in one sentence. */
export async function openPackage(path: string): Promise<TemplatePackage> {
  demand(existsSync(path), 'package.none', `There is no template at "${path}"; give a .hoja file or its folder.`)
  const name = basename(path)
  return statSync(path).isDirectory()
    ? readPackage(readFolder(path), name)
    : readPackage(unzipPackage(readFileSync(path), name), name)
}
