import { readFileSync, writeFileSync } from 'node:fs'
import { run } from './setup.mjs'

// What is derived from the code: the JSON Schema, and the reference of the format.
run('npx', ['tsc', '-b', 'core'])
const { formatReference, templateJsonSchema } = await import('../core/dist/template/index.js')
writeFileSync('docs/template.schema.json', `${JSON.stringify(templateJsonSchema(), null, 2)}\n`)
const page = readFileSync('docs/format.md', 'utf8')
const [before, , after] = page.split(/^<!-- reference.*-->$/m)
const mark = (what) => `<!-- reference ${what}: written by npm run docs -->`
writeFileSync('docs/format.md', `${before}${mark('begins')}\n\n${formatReference()}\n\n${mark('ends')}${after}`)
