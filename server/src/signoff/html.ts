import type { SignOffRow, SignOffSheet } from './sheet.ts'

const escaped = (text: string) =>
  text.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;').replace(/"/g, '&quot;')

const style = `
  body { margin: 24px auto; max-width: 960px; color: #20261f; font: 14px/1.4 Barlow, "Segoe UI", sans-serif; }
  h1 { margin: 0; font-size: 20px; }
  header p { margin: 2px 0 14px; color: #5b6459; }
  table { width: 100%; border-collapse: collapse; }
  th { padding: 4px 8px; border-bottom: 1px solid #20261f; color: #5b6459; font-size: 11px; font-weight: 500; text-align: left; }
  td { padding: 8px; border-bottom: 1px solid #d9d6cc; vertical-align: top; }
  tr { break-inside: avoid; }
  .n { text-align: right; font-variant-numeric: tabular-nums; }
  img { display: block; width: 320px; height: 110px; background: #7a7a77; }
  dl { margin: 0; }
  dt { color: #5b6459; font-size: 11px; }
  dd { margin: 0 0 4px; font-size: 16px; unicode-bidi: plaintext; white-space: pre-line; }
  .stop { color: #b3261e; } .look { color: #8f5200; } .fine { color: #1f7a4d; }
  .checks { width: 220px; font-size: 12px; }
  .checks p { margin: 0 0 3px; }
  .initials { width: 90px; }
  .initials span { display: block; height: 40px; border-bottom: 1px solid #20261f; }
  footer { display: flex; gap: 40px; margin-top: 30px; }
  footer span { flex: 1; padding-top: 4px; border-top: 1px solid #20261f; color: #5b6459; }
  @media print { body { margin: 0; } thead { display: table-header-group; } }
`

function rowHtml({ n, state, texts, findings, note, picture }: SignOffRow): string {
  const words = texts.map(({ name, text }) => `<dt>${escaped(name)}</dt><dd>${escaped(text) || '—'}</dd>`).join('')
  const found = findings.map((message) => `<p>${escaped(message)}</p>`).join('')
  return `<tr id="row-${n}">
<td class="n">${n}</td>
<td><img alt="Row ${n}" src="data:image/png;base64,${Buffer.from(picture).toString('base64')}"></td>
<td><dl>${words}</dl></td>
<td class="checks"><p class="${state}"><b>${state}</b></p>${found}${note ? `<p>Note: ${escaped(note)}</p>` : ''}</td>
<td class="initials"><span></span></td>
</tr>`
}

/** A sign-off sheet as one page that needs nothing else: to be read on a screen, printed, or sent. */
export function signOffHtml({ title, about, rows }: SignOffSheet): string {
  return `<!doctype html>
<html lang="en">
<head><meta charset="utf-8"><title>Sign-off: ${escaped(title)}</title><style>${style}</style></head>
<body>
<header><h1>Sign-off: ${escaped(title)}</h1><p>${escaped(about)}</p></header>
<table>
<thead><tr><th>Row</th><th>Title</th><th>Texts, letter by letter</th><th>Checks</th><th>Initials</th></tr></thead>
<tbody>
${rows.map(rowHtml).join('\n')}
</tbody>
</table>
<footer><span>Approved by</span><span>Date</span></footer>
</body>
</html>
`
}
