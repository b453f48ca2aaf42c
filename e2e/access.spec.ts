import AxeBuilder from '@axe-core/playwright'
import { expect, test } from './test.ts'

// WCAG 2.2 A and AA as far as axe can tell, on every screen with the demo data.
for (const [name, path, ready] of [
  ['Shelf', '/', 'Templates'],
  ['Draft', '/t/speaker/draft', 'Proofs'],
  ['Draft, edges', '/t/speaker/draft', 'Edges'],
  ['Draft, style', '/t/speaker/draft', 'Style'],
  ['Draft, motion', '/t/speaker/draft', 'Motion'],
  ['Draft, moves', '/t/speaker/draft', 'Moves'],
  ['Draft, easing', '/t/speaker/draft', 'Easing'],
  ['Hand-off', '/t/speaker/handoff', "The editor's form"],
  ['What it carries', '/t/speaker/carries', 'Pictures and movies'],
  ['Fill, sheets', '/t/speaker/fill', 'Import a sheet'],
  ['Fill', '/t/speaker/fill/1', 'Contact sheet'],
  ['Outputs', '/t/speaker/outputs', 'Outputs'],
] as const)
  test(`${name} can be read and worked by everyone`, async ({ page }) => {
    await page.goto(path)
    await expect(page.getByText(ready).first()).toBeVisible()
    if (name.startsWith('Draft, ')) {
      await page
        .getByRole('listitem')
        .filter({ hasText: /^\d+Name/ })
        .getByRole('button')
        .first()
        .click()
      await page.getByRole('tab', { name: ready }).click()
    }
    if (name === 'Hand-off') await page.getByRole('button', { name: 'Role', exact: true }).last().click()
    await page.waitForLoadState('networkidle')
    const { violations } = await new AxeBuilder({ page })
      .withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
      // The grid's cells are the package's own, without roles; its rows are reached through the form beside it.
      .exclude('.dsg-container')
      .analyze()
    expect(
      violations.map(
        (v) =>
          `${v.id}: ${v.nodes
            .map((n) => n.target.join(' '))
            .slice(0, 3)
            .join(' | ')}`,
      ),
    ).toEqual([])
  })
