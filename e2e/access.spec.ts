import AxeBuilder from '@axe-core/playwright'
import { expect, type Page, test } from './test.ts'

/** WCAG 2.2 A and AA as far as axe can tell, of the whole page or of some places in it. */
async function faults(page: Page, ...places: string[]): Promise<string[]> {
  await page.waitForLoadState('networkidle')
  const whole = new AxeBuilder({ page })
  const { violations } = await places
    .reduce((axe, place) => axe.include(place), whole)
    .withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
    // The grid's cells are the package's own, without roles; its rows are reached through the form beside it.
    .exclude('.dsg-container')
    .analyze()
  return violations.map(
    (v) =>
      `${v.id}: ${v.nodes
        .map((n) => n.target.join(' '))
        .slice(0, 3)
        .join(' | ')}`,
  )
}

// Every screen with the demo data.
for (const [name, path, ready] of [
  ['Shelf', '/', 'Templates'],
  ['Draft', '/t/speaker/draft', 'Proofs'],
  ['Hand-off', '/t/speaker/handoff', "The editor's form"],
  ['What it carries', '/t/speaker/carries', 'Pictures and movies'],
  ['Fill, sheets', '/t/speaker/fill', 'Import a sheet'],
  ['Fill', '/t/speaker/fill/1', 'Contact sheet'],
  ['Outputs', '/t/speaker/outputs', 'Outputs'],
] as const)
  test(`${name} can be read and worked by everyone`, async ({ page }) => {
    await page.goto(path)
    await expect(page.getByText(ready).first()).toBeVisible()
    if (name === 'Hand-off') await page.getByRole('button', { name: 'Role', exact: true }).last().click()
    expect(await faults(page)).toEqual([])
  })

test("a part's panels, and the list of fonts, can be read and worked by everyone", async ({ page }) => {
  await page.goto('/t/speaker/draft')
  await page
    .getByRole('listitem')
    .filter({ hasText: /^\d+Name/ })
    .getByRole('button')
    .first()
    .click()
  for (const tab of ['Edges', 'Motion', 'Moves', 'Easing', 'Style']) {
    await page.getByRole('tab', { name: tab }).click()
    await expect(page.getByRole('tabpanel', { name: tab })).toBeVisible()
    // With Motion the lever stands on the frame; a channel is looked at as a graph.
    if (tab === 'Motion') {
      await expect(page.getByRole('group', { name: 'Turn and scale Name' })).toBeVisible()
      await page.getByRole('button', { name: 'Open the channels of Name' }).click()
      await page.getByRole('button', { name: 'Graph of Name, Reveal' }).click()
      await expect(page.getByRole('group', { name: 'Graph of Name, Reveal' })).toBeVisible()
    }
    // What stands around it is looked at with the screen; Motion puts its own over the frame and into time.
    const places = tab === 'Motion' ? ['main, #root'] : ['[role="tabpanel"]', '[role="tablist"]']
    expect([tab, await faults(page, ...places)]).toEqual([tab, []])
  }
  await page.getByRole('button', { name: /^Font of Name/ }).click()
  await expect(page.getByRole('dialog').getByRole('option').first()).toBeVisible()
  expect(await faults(page, '[role="dialog"]')).toEqual([])
})
