import { unzipSync, zipSync } from 'fflate'
import { complaints, openDraft, ownTemplate, saved } from './pages.ts'
import { expect, test } from './test.ts'

test('templates are named, tagged, filed, found, sorted, put away and brought back', async ({ page }) => {
  const wrong = complaints(page)
  const id = await ownTemplate(page)
  await page.request.patch(`/api/templates/${id}`, { data: { name: 'Quay boards' } })
  await page.goto('/')
  const card = page.getByRole('listitem').filter({ has: page.getByRole('link', { name: 'Open Quay boards' }) })
  await card.getByRole('button', { name: 'More for Quay boards' }).click()
  await page.getByRole('menuitem', { name: 'Name, tags, folder …' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('Name').fill('Quay boards, winter')
  await dialog.getByLabel('Tags').fill('harbour, winter,  harbour')
  await dialog.getByLabel('Folder').fill('Orilla winter')
  await dialog.getByLabel('Folder').press('Enter')
  const places = page.getByRole('navigation', { name: 'Shelf' })
  await places.getByRole('button', { name: 'Orilla winter 1' }).click()
  await expect(page.getByRole('heading', { name: 'Orilla winter' })).toBeVisible()
  const cards = page.getByRole('link', { name: /^Open / })
  await expect(cards).toHaveCount(1)
  await page.getByRole('button', { name: 'Find harbour' }).click()
  await expect(page.getByRole('searchbox')).toHaveValue('harbour')
  // By a field's note as well; by nothing that is not there.
  await places.getByRole('button', { name: /^All templates/ }).click()
  await page.getByRole('searchbox').fill('winter full stop')
  await expect(cards).toHaveCount(1)
  await page.getByRole('searchbox').fill('no such thing')
  await expect(page.getByText('Nothing is called "no such thing"')).toBeVisible()
  await page.getByRole('button', { name: 'Show all' }).click()

  // Sorted: the fewest fields first.
  await page.getByLabel('Sorted by').selectOption('Fewest fields first')
  const shelf = (await (await page.request.get('/api/templates')).json()) as { id: string; fields: object[] }[]
  const counts = new Map(shelf.map((one) => [`/t/${one.id}/draft`, one.fields.length]))
  const inOrder = async () =>
    (await cards.evaluateAll((all) => all.map((one) => one.getAttribute('href')!))).map((to) => counts.get(to)!)
  expect(new Set(counts.values()).size).toBeGreaterThan(1)
  const ascending = [...counts.values()].sort((x, y) => x - y)
  await expect.poll(inOrder).toEqual(ascending)

  // Played under the pointer, still again behind it.
  await page.getByRole('link', { name: 'Open Quay boards, winter' }).hover()
  await expect(page.getByRole('img', { name: 'Quay boards, winter, playing' })).toBeVisible()
  await page.getByRole('heading', { name: 'Templates' }).hover()
  await expect(page.getByRole('img', { name: 'Quay boards, winter, playing' })).toHaveCount(0)

  const menu = async (entry: string) => {
    await page.getByRole('button', { name: 'More for Quay boards, winter', exact: true }).click()
    await page.getByRole('menuitem', { name: entry }).click()
  }
  await menu('Put away')
  await expect(page.getByRole('link', { name: 'Open Quay boards, winter' })).toHaveCount(0)
  await places.getByRole('button', { name: /^Put away/ }).click()
  await menu('Bring back')
  await places.getByRole('button', { name: /^All templates/ }).click()
  await expect(page.getByRole('link', { name: 'Open Quay boards, winter' })).toBeVisible()
  page.on('dialog', (asked) => asked.accept())
  await menu('Remove …')
  await expect(page.getByText('"Quay boards, winter" is removed.')).toBeVisible()
  expect(wrong).toEqual([])
})

test('a card is dropped on a folder and goes there', async ({ page }) => {
  const [id, other] = [await ownTemplate(page), await ownTemplate(page)]
  await page.request.patch(`/api/templates/${id}`, { data: { name: 'Drop me' } })
  await page.request.patch(`/api/templates/${other}`, { data: { folder: 'Mole' } })
  await page.goto('/')
  const folder = page.getByRole('navigation', { name: 'Shelf' }).getByRole('button', { name: 'Mole 1' })
  await page.getByRole('link', { name: 'Drop me', exact: true }).dragTo(folder)
  await expect(page.getByRole('button', { name: 'Mole 2' })).toBeVisible()
  for (const made of [id, other]) await page.request.delete(`/api/templates/${made}`)
})

test('many packages come in at once, a zip of them too; a missing font is asked about once; the end says what became of each', async ({
  page,
}) => {
  const id = await ownTemplate(page)
  const bytes = new Uint8Array(await (await page.request.get(`/api/templates/${id}/package`)).body())
  const files = unzipSync(bytes)
  const rest = { ...files }
  // A weight that no other test lets go missing: what is remembered is remembered for the whole shelf.
  const arabic = Object.keys(rest).find((path) => path.includes('NotoSansArabic'))!
  delete rest[arabic]
  const lacking = zipSync(rest)
  await page.goto('/')
  await expect(page.getByRole('link', { name: /^Open / }).first()).toBeVisible()
  const before = await page.getByRole('link', { name: /^Open / }).count()
  const file = (name: string, data: Uint8Array) => ({ name, mimeType: 'application/zip', buffer: Buffer.from(data) })
  await page
    .getByLabel('Template package')
    .setInputFiles([
      file('both.zip', zipSync({ 'one.hoja': bytes, 'deep/two.hoja': bytes })),
      file('broken.hoja', bytes.slice(0, 3000)),
      file('lacking.hoja', lacking),
      file('again.hoja', lacking),
    ])
  const dialog = page.getByRole('dialog', { name: 'lacking.hoja lacks a font' })
  await dialog.getByLabel('Noto Sans Arabic SemiBold').selectOption({ label: 'Noto Sans Hebrew SemiBold' })
  // Proofs that the other font can't write are told before it is taken.
  await expect(dialog.getByText(/\d+ of \d+ proofs don't fit so\./)).toBeVisible({ timeout: 60_000 })
  await expect(dialog.getByRole('img', { name: 'The poster as it came' })).toBeVisible()
  await dialog.getByRole('button', { name: 'Take it in so' }).click()
  const end = page.getByRole('dialog', { name: '4 of 5 taken in' })
  await expect(end).toBeVisible({ timeout: 60_000 })
  await expect(end.getByText('"broken.hoja" is a damaged package; export it again.')).toBeVisible()
  await expect(end.getByText(/Noto Sans Hebrew SemiBold stands for Noto Sans Arabic SemiBold/)).toHaveCount(2)
  await end.getByRole('button', { name: 'Close' }).click()
  await expect(page.getByRole('link', { name: /^Open / })).toHaveCount(before + 4)
})

test('fonts, pictures, movies and sounds in one place: what each is, what uses it, what replacing it changes', async ({
  page,
}) => {
  const wrong = complaints(page)
  const id = await ownTemplate(page)
  await page.goto(`/t/${id}/carries`)
  const fonts = page.getByRole('region', { name: 'Fonts' })
  const row = fonts.getByRole('row').filter({ hasText: 'Barlow Condensed Medium' })
  await expect(row).toContainText('525')
  await expect(row).toContainText('may travel')
  await expect(row).toContainText('used by Role')
  // What data may ask for by name is not called unused.
  await expect(page.getByText('offered by the field Mark').first()).toBeVisible()

  // The order of the fallbacks.
  await page.getByRole('button', { name: 'M PLUS 1p Bold is asked earlier' }).click()
  await expect(page.getByRole('list', { name: 'Order of the fallbacks' }).getByRole('listitem').first()).toContainText(
    'M PLUS 1p',
  )

  // Another font, looked at before it is taken.
  await row.getByRole('button', { name: 'Replace Barlow Condensed Medium' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByRole('option', { name: /IBM Plex Serif, \d+ styles/ }).click()
  await dialog.getByRole('option', { name: /Medium$/ }).click()
  await expect(dialog.getByText(/^\d+ of \d+ proofs change/)).toBeVisible({ timeout: 60_000 })
  await expect(dialog.getByRole('img', { name: 'longest, what changed' }).first()).toBeVisible()
  await dialog.getByRole('button', { name: 'Replace it' }).click()
  await expect(fonts.getByRole('row').filter({ hasText: 'IBM Plex Serif Medium' })).toContainText('used by Role')

  // A picture that nothing uses can go.
  const pictures = page.getByRole('region', { name: 'Pictures and movies' })
  await pictures.getByRole('button', { name: 'Remove gull.png' }).click()
  await expect(pictures.getByText('gull.png')).toHaveCount(0)
  await expect(pictures.getByRole('button', { name: 'Remove vado.png' })).toHaveCount(0)

  // A sound, put where it shall begin.
  const wav = Buffer.alloc(44 + 16000)
  wav.write('RIFF', 0, 'latin1')
  wav.writeUInt32LE(wav.length - 8, 4)
  wav.write('WAVEfmt ', 8, 'latin1')
  wav.writeUInt32LE(16, 16)
  wav.writeUInt16LE(1, 20)
  wav.writeUInt16LE(1, 22)
  wav.writeUInt32LE(8000, 24)
  wav.writeUInt32LE(16000, 28)
  wav.writeUInt16LE(2, 32)
  wav.writeUInt16LE(16, 34)
  wav.write('data', 36, 'latin1')
  wav.writeUInt32LE(16000, 40)
  const picker = page.getByLabel('Add fonts, pictures and sounds')
  await picker.setInputFiles({ name: 'bell.wav', mimeType: 'audio/wav', buffer: wav })
  await expect(page.getByText('bell.wav travels with the template now.')).toBeVisible()
  await page.getByLabel('The span that bell.wav begins with').selectOption('Out')
  await page.getByLabel('How far into the span bell.wav begins').fill('3')
  await page.getByLabel('How far into the span bell.wav begins').press('Enter')
  await picker.setInputFiles({ name: 'hush.mp3', mimeType: 'audio/mpeg', buffer: Buffer.from('no sound at all') })
  await expect(page.getByText('"hush.mp3" is not a WAV, MP3 or Ogg sound')).toBeVisible()
  await saved(page)
  const { template } = (await (await page.request.get(`/api/templates/${id}`)).json()) as {
    template: { sounds: object[]; media: { name: string }[] }
  }
  expect(template.sounds).toMatchObject([{ name: 'bell.wav', seconds: 1, span: 'out', at: 3, level: 0 }])
  expect(template.media.map((media) => media.name)).not.toContain('gull.png')

  // In the time view it lies under the lanes, and is moved there.
  await openDraft(page, id)
  const bar = page.getByRole('button', { name: /^bell\.wav begins at frame/ })
  await bar.focus()
  await page.keyboard.press('ArrowRight')
  await saved(page)
  const moved = (await (await page.request.get(`/api/templates/${id}`)).json()) as { template: { sounds: object[] } }
  expect(moved.template.sounds).toMatchObject([{ span: 'out', at: 4 }])
  expect(wrong).toEqual([])
})

test('a sheet is moved to a newer version: what is lost and which rows change is said before anything is saved', async ({
  page,
}) => {
  const id = await ownTemplate(page)
  const publish = async () =>
    (await (await page.request.post(`/api/templates/${id}/versions`, { data: {} })).json()) as { id: number }
  const first = await publish()
  const table = [
    ['name', 'role', 'mark'],
    ['Io Marrec', 'Rope', 'eel.png'],
    ['Maren', 'Marsh', ''],
  ]
  const sheet = (await (
    await page.request.post('/api/sheets', { data: { version: first.id, name: 'Speakers', table } })
  ).json()) as { id: number }
  const stored = (await (await page.request.get(`/api/templates/${id}`)).json()) as {
    revision: number
    template: {
      fields: { id: string; key: string; name: string; type: string }[]
      parts: { id: string; style: object }[]
    }
  }
  const template = {
    ...stored.template,
    fields: stored.template.fields
      .filter((field) => field.key !== 'mark')
      .map((field) => (field.key === 'name' ? { ...field, key: 'who', name: 'Who' } : field)),
    parts: stored.template.parts.map((part) =>
      part.id === 'plate' ? { ...part, style: { ...part.style, opacity: 0.7 } } : part,
    ),
  }
  const poster = { frame: 40, values: {} }
  await page.request.put(`/api/templates/${id}`, {
    data: { revision: stored.revision, template: { ...template, poster, proofs: [] } },
  })
  await publish()
  await page.goto(`/t/${id}/fill/${sheet.id}`)
  await expect(page.getByText('of 2 rows, version 1')).toBeVisible()
  await page.getByRole('button', { name: 'Version 2 is there' }).click()
  const dialog = page.getByRole('dialog')
  await expect(dialog.getByText('2 of 3 go over.')).toBeVisible()
  await expect(dialog.getByText('Name (name) becomes Who (who)')).toBeVisible()
  await expect(
    dialog.getByText('Mark (column mark): version 2 has no such field. The columns stay in the sheet.'),
  ).toBeVisible()
  await expect(dialog.getByText('2 of 2 rows change.')).toBeVisible({ timeout: 60_000 })
  // Looking moves nothing.
  const at = async () =>
    (await (await page.request.get(`/api/sheets/${sheet.id}`)).json()) as { number: number; match: object }
  expect((await at()).number).toBe(1)
  await dialog.getByRole('button', { name: 'Move to version 2' }).click()
  await expect(page.getByText('of 2 rows, version 2')).toBeVisible()
  expect(await at()).toMatchObject({ number: 2, match: { who: 'name', role: 'role' } })
})

test('the Shelf shows titles near or whole, keeps favourites and what was used lately, and plays on focus', async ({
  page,
}) => {
  const wrong = complaints(page)
  await page.goto('/')
  const card = page.getByRole('listitem').filter({ has: page.getByRole('link', { name: 'Open Tide', exact: true }) })
  const poster = card.getByRole('img', { name: 'Tide, its poster' })
  await expect(poster).toHaveAttribute('src', /near=true/)
  // It plays for the keyboard as it does under the pointer.
  await card.getByRole('link', { name: 'Open Tide' }).focus()
  await expect(card.getByRole('img', { name: 'Tide, playing' })).toBeVisible()
  await page.getByRole('checkbox', { name: 'Whole frames' }).check()
  await expect(poster).not.toHaveAttribute('src', /near=true/)
  await card.getByRole('button', { name: 'Tide is a favourite' }).click()
  const places = page.getByRole('navigation', { name: 'Shelf' })
  await places.getByRole('button', { name: /^Favourites/ }).click()
  await expect(page.getByRole('link', { name: /^Open / })).toHaveCount(1)
  await page.getByRole('link', { name: 'Open Tide' }).click()
  await expect(page.getByTestId('frame')).toBeVisible()
  await page.goto('/')
  // All of it is kept past a reload; what was opened last stands first.
  await expect(page.getByRole('checkbox', { name: 'Whole frames' })).toBeChecked()
  await places.getByRole('button', { name: /^Used lately/ }).click()
  await expect(page.getByRole('link', { name: /^Open / }).first()).toHaveAccessibleName('Open Tide')
  expect(wrong).toEqual([])
})
