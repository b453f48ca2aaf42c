import { readFileSync } from 'node:fs'
import type { Template } from '@hoja/core/template'
import { unzipSync } from 'fflate'
import { drag } from './hand.ts'
import { complaints, editorsForm, expose, saved } from './pages.ts'
import { expect, test } from './test.ts'

// Walks docs/how-to/hand-off.md: its headings are the steps, and what it says is what is done.
test('docs/how-to/hand-off.md, step by step', async ({ page }) => {
  test.setTimeout(240_000)
  const wrong = complaints(page)
  const headings = [...readFileSync('docs/how-to/hand-off.md', 'utf8').matchAll(/^## (.+)$/gm)].map((match) => match[1])
  const walked: string[] = []
  const step = async (name: string, work: () => Promise<void>) => {
    walked.push(name)
    await test.step(name, work)
  }
  const form = editorsForm(page)
  const editor = page.getByRole('main')
  const number = async (label: string, value: number) => {
    await editor.getByLabel(label, { exact: true }).fill(String(value))
    await editor.getByLabel(label, { exact: true }).press('Enter')
  }
  let id = ''
  const template = async () =>
    ((await (await page.request.get(`/api/templates/${id}`)).json()) as { template: Template }).template

  await step('1. Take a copy', async () => {
    await page.goto('/')
    const menu = async (name: string, entry: string) => {
      await page
        .getByRole('button', { name: `More for ${name}`, exact: true })
        .last()
        .click()
      await page.getByRole('menuitem', { name: entry, exact: true }).click()
    }
    // Other tests leave copies behind; this one gets a name of its own.
    const known = (await (await page.request.get('/api/templates')).json()) as { id: string }[]
    await page.getByRole('button', { name: 'More for Speaker', exact: true }).first().click()
    await page.getByRole('menuitem', { name: 'Duplicate', exact: true }).click()
    await expect(page.getByText(/is duplicated\.$/).first()).toBeVisible()
    const all = (await (await page.request.get('/api/templates')).json()) as { id: string }[]
    id = all.find((one) => !known.some((other) => other.id === one.id))!.id
    await page.request.patch(`/api/templates/${id}`, { data: { name: 'Speaker handed over' } })
    await page.reload()
    await menu('Speaker handed over', 'Hand-off')
    await expect(form.getByText('3 fields')).toBeVisible()
  })

  await step('2. Expose a property', async () => {
    await page.getByRole('button', { name: 'More of Role', exact: true }).click()
    const row = page.getByRole('listitem').filter({ has: page.getByRole('button', { name: 'Expose Shown of Role' }) })
    await drag(page, row, form.getByRole('group', { name: 'Role', exact: true }))
    await expect(form.getByText('4 fields')).toBeVisible()
  })

  await step("3. Say it in the editor's words", async () => {
    await editor.getByLabel('Name', { exact: true }).fill('Show the role')
    await editor.getByRole('button', { name: 'As named' }).click()
    await editor.getByLabel('Note').fill('Off for children.')
    await expect(editor.getByLabel('Key')).toHaveValue('show-the-role')
    await form.getByRole('checkbox', { name: 'Show the role' }).uncheck()
    await form.getByRole('checkbox', { name: 'Show the role' }).check()
  })

  await step('4. Limit it', async () => {
    await form.getByRole('button', { name: 'Role', exact: true }).click()
    await number('Characters', 45)
    await number('Lines', 1)
    await expect(form.getByText('36 of 45')).toBeVisible()
    await expect(editor.getByLabel('May go out')).not.toBeChecked()
    await editor.getByLabel('Language', { exact: true }).fill('tr')
    await editor.getByLabel('Language', { exact: true }).press('Enter')
  })

  await step('5. Let one choice set several things', async () => {
    await form.getByRole('button', { name: '+ Choice' }).click()
    await editor.getByLabel('Name', { exact: true }).fill('Evening')
    await editor.getByLabel('Name of the option first').fill('Day')
    await editor.getByLabel('Name of the option second').fill('Night')
    const part = editor.getByLabel('Part that the options set something of')
    await part.selectOption('Plate')
    await editor.getByLabel('Property of Plate that the options set').selectOption('Opacity')
    await number('Plate: Opacity, Night', 70)
    await part.selectOption('Name')
    await editor.getByLabel('Property of Name that the options set').selectOption('Colour')
    await editor.getByLabel('Name: Colour, Night, from the palette').selectOption('Lamp amber')
    await form.getByRole('radio', { name: 'Night' }).click()
    await form.getByRole('radio', { name: 'Day' }).click()
  })

  await step('6. Keep a size within bounds', async () => {
    await expose(page, 'Size', 'Name')
    await number('Size, px', 60)
    await number('Size, px, at most', 78)
  })

  await step('7. Put the form in order', async () => {
    await form.getByRole('button', { name: '+ Section' }).click()
    await form.getByRole('textbox', { name: 'Name of the section' }).last().fill('Looks')
    for (const name of ['Evening', 'Name style']) {
      await form.getByRole('button', { name, exact: true }).click()
      await editor.getByLabel('Section').selectOption('Looks')
    }
    await form.getByRole('button', { name: 'Evening', exact: true }).click()
    await form.getByRole('button', { name: '+ Comment' }).click()
    await form.getByRole('textbox', { name: 'Comment' }).fill('Ask Maren before you change these.')
    await expect(form.getByRole('region', { name: 'Looks' }).getByRole('group')).toHaveCount(2)
  })

  await step('8. Read the advice', async () => {
    await page.getByRole('tab', { name: 'Advice' }).click()
    await expect(page.getByText('Nothing to say: named, limited, and what is allowed fits.')).toBeVisible()
  })

  await step('9. Choose the poster', async () => {
    await form.getByRole('textbox', { name: 'Name', exact: true }).fill('Io Marrec')
    await form.getByRole('textbox', { name: 'Name', exact: true }).blur()
    for (let n = 0; n < 5; n++) await page.keyboard.press('ArrowRight')
    await page.getByRole('button', { name: 'Make it the poster' }).click()
    await saved(page)
    expect((await template()).poster).toMatchObject({ frame: 20, values: { name: 'Io Marrec' } })
  })

  await step('10. Publish', async () => {
    await page.getByRole('button', { name: 'Publish version 1' }).click()
    await page.getByRole('dialog').getByLabel('What is new').fill('With an evening look')
    await page.getByRole('dialog').getByRole('button', { name: 'Publish', exact: true }).click()
    await expect(page.getByText('Version 1 is published.')).toBeVisible()
  })

  await step('11. Pass it on', async () => {
    await page.getByRole('tab', { name: 'Versions, 1' }).click()
    const taken = page.waitForEvent('download')
    await page.getByRole('link', { name: '.hoja', exact: true }).click()
    const files = unzipSync(new Uint8Array(readFileSync(await (await taken).path())))
    const readme = new TextDecoder().decode(files['README.txt'])
    expect(readme).toContain('Role (text, at most 45 characters, at most 1 line)')
    expect(readme).toContain('Evening (choice, one of first, second)')
    const starter = page.waitForEvent('download')
    await page.getByRole('link', { name: 'starter csv' }).click()
    const csv = readFileSync(await (await starter).path(), 'utf8')
    expect(csv).toContain('# show-the-role: Show the role. Off for children.')
    expect(csv.trim().split('\r\n').at(-2)).toMatch(/^name,/)
  })

  await step("12. Move last week's sheet", async () => {
    const sheet = await page.request.post('/api/sheets', {
      data: {
        version: ((await (await page.request.get(`/api/templates/${id}`)).json()) as { versions: { id: number }[] })
          .versions[0]!.id,
        name: 'Last week',
        table: [
          ['name', 'role'],
          ['Io Marrec', 'Rope'],
        ],
      },
    })
    const { id: sheetId } = (await sheet.json()) as { id: number }
    await form.getByRole('button', { name: 'Role', exact: true }).click()
    await number('Characters', 40)
    await saved(page)
    await page.getByRole('button', { name: 'Publish version 2' }).click()
    await expect(page.getByRole('dialog').getByText('Role, limit: 45 → 40')).toBeVisible()
    await page.getByRole('dialog').getByRole('button', { name: 'Publish', exact: true }).click()
    await expect(page.getByText('Version 2 is published.')).toBeVisible()
    await page.goto(`/t/${id}/fill/${sheetId}`)
    await page.getByRole('button', { name: 'Version 2 is there' }).click()
    await expect(page.getByRole('dialog').getByText('All 6 go over as they are.')).toBeVisible()
    await page.getByRole('button', { name: 'Move to version 2' }).click()
    await expect(page.getByText('of 1 row, version 2')).toBeVisible()
  })

  expect(walked).toEqual(headings)
  expect(wrong).toEqual([])
})
