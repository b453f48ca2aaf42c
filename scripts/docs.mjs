import { readFileSync, writeFileSync } from 'node:fs'
import { run } from './setup.mjs'

// What is derived from the code: the JSON Schema, and the reference of the format.
run('npx', ['tsc', '-b', 'core', 'server'])
const { formatReference, templateJsonSchema } = await import('../core/dist/template/index.js')
const { openApi } = await import('../core/dist/api/index.js')
const { limitsTable } = await import('../core/dist/limits/index.js')
const { budgetsTable } = await import('../server/dist/jobs/budgets.js')
writeFileSync('docs/template.schema.json', `${JSON.stringify(templateJsonSchema(), null, 2)}\n`)
const { programmeJsonSchema } = await import('../core/dist/programme/index.js')
writeFileSync('docs/programme.schema.json', `${JSON.stringify(programmeJsonSchema(), null, 2)}\n`)
writeFileSync('docs/openapi.json', `${JSON.stringify(openApi(), null, 2)}\n`)
const page = readFileSync('docs/format.md', 'utf8')
const [before, , after] = page.split(/^<!-- reference.*-->$/m)
const mark = (what) => `<!-- reference ${what}: written by npm run docs -->`
writeFileSync('docs/format.md', `${before}${mark('begins')}\n\n${formatReference()}\n\n${mark('ends')}${after}`)

const limitsPage = readFileSync('docs/limits.md', 'utf8')
const parts = limitsPage.split(/^<!-- (?:limits|budgets).*-->$/m)
const written = (what, table) => `<!-- ${what} begin: written by npm run docs -->\n\n${table}\n\n<!-- ${what} end -->`
writeFileSync(
  'docs/limits.md',
  `${parts[0]}${written('limits', limitsTable())}${parts[2]}${written('budgets', budgetsTable())}${parts[4]}`,
)
