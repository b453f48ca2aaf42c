import { createHash } from 'node:crypto'
import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import Database from 'better-sqlite3'

const filesIn = (folder) =>
  existsSync(folder)
    ? readdirSync(folder, { recursive: true, withFileTypes: true })
        .filter((entry) => entry.isFile())
        .map((entry) => join(entry.parentPath, entry.name))
    : []

/** What is wrong with a data folder that nobody uses: an unsound database, half files, files that are lost or nobody's. */
export function wrongWith(data) {
  const wrong = []
  const db = new Database(join(data, 'hoja.sqlite'))
  const sound = db.pragma('integrity_check', { simple: true })
  if (sound !== 'ok') wrong.push(`integrity_check: ${sound}`)
  const broken = db.pragma('foreign_key_check')
  if (broken.length > 0) wrong.push(`${broken.length} rows refer to nothing`)
  const known = new Set(db.prepare('SELECT sha256 FROM assets').pluck().all())
  const rows = db.prepare(
    "SELECT id, count, (SELECT COUNT(*) FROM rows WHERE sheet = id) AS rows FROM sheets WHERE state = 'here'",
  )
  for (const { id, count, rows: own } of rows.all())
    if (count !== own) wrong.push(`sheet ${id} has ${own} of ${count} rows`)
  if (db.prepare("SELECT COUNT(*) FROM sheets WHERE state <> 'here'").pluck().get() > 0)
    wrong.push('a sheet neither here nor gone')
  const results = new Set(db.prepare('SELECT DISTINCT result FROM titles WHERE result IS NOT NULL').pluck().all())
  db.close()
  const stored = filesIn(join(data, 'files'))
  for (const path of stored) {
    const name = path.split('/').pop()
    if (!known.has(name)) wrong.push(`${path} is nobody's`)
    else if (createHash('sha256').update(readFileSync(path)).digest('hex') !== name)
      wrong.push(`${path} is not what it is called`)
  }
  const there = new Set(stored.map((path) => path.split('/').pop()))
  for (const sha256 of known) if (!there.has(sha256)) wrong.push(`the file ${sha256} is lost`)
  for (const folder of ['files', 'previews', 'incoming', 'finished'])
    for (const path of filesIn(join(data, folder))) if (path.includes('.part')) wrong.push(`${path} is half written`)
  for (const key of results)
    if (!existsSync(join(data, 'finished', key.slice(0, 2), key, 'unit.json'))) wrong.push(`the title ${key} is lost`)
  return wrong
}
