import { expect, type Locator, type Page } from '@playwright/test'
import { edgeValue, editorsForm, expose, saved } from './pages.ts'

type Axis = 'x' | 'y'
const sizeWord = { x: 'width', y: 'height' } as const

/** Drags the middle of one thing to the middle of another. */
export async function drag(page: Page, from: Locator, to: Locator): Promise<void> {
  const [a, b] = [(await from.boundingBox())!, (await to.boundingBox())!]
  await page.mouse.move(a.x + a.width / 3, a.y + a.height / 2)
  await page.mouse.down()
  await page.mouse.move(a.x + a.width / 3 + 12, a.y + a.height / 2 + 12, { steps: 3 })
  await page.mouse.move(b.x + b.width / 2, b.y + b.height / 2, { steps: 8 })
  await page.mouse.up()
}

/** What a designer's hand does in Draft: everything through the controls that a person uses. */
export class Hand {
  constructor(readonly page: Page) {}

  private get parts(): Locator {
    return this.page.getByRole('complementary', { name: 'Parts' })
  }

  /** A new template from the Shelf, opened in Draft. */
  async startTemplate(name: string): Promise<void> {
    await this.page.goto('/')
    await this.page.getByRole('button', { name: 'New template' }).click()
    await this.page.getByRole('dialog').getByLabel('Name').fill(name)
    await this.page.getByRole('button', { name: 'Start drawing' }).click()
    await expect(this.page.getByTestId('frame')).toBeVisible()
  }

  /** Name, note, sizes and rate of the frame. */
  async frame(more: { note?: string; language?: string; size?: string; rate?: string }): Promise<void> {
    await this.page.getByRole('button', { name: /^\d+ × \d+$/ }).click()
    const dialog = this.page.getByRole('dialog', { name: 'Template and frame' })
    if (more.note) await dialog.getByLabel('What it is for').fill(more.note)
    if (more.language) {
      await dialog.getByLabel('Language').fill(more.language)
      await dialog.getByLabel('Language').press('Enter')
    }
    if (more.size) await dialog.getByLabel('Frame size').selectOption({ label: more.size })
    if (more.rate) await dialog.getByLabel('Frames a second').selectOption({ label: more.rate })
    await dialog.getByRole('button', { name: 'Change it' }).click()
    await expect(dialog).toHaveCount(0)
  }

  /** Names and colours of the palette; entries that are missing are added. */
  async palette(colours: [name: string, colour: string][]): Promise<void> {
    const swatches = this.parts.getByRole('button', { name: /^Palette colour/ })
    for (const [i, [name, colour]] of colours.entries()) {
      if ((await swatches.count()) <= i) await this.parts.getByRole('button', { name: 'Add a palette colour' }).click()
      await swatches.nth(i).click()
      const card = this.page.getByRole('dialog', { name: /^Palette colour/ })
      await card.getByLabel('Name').fill(name)
      await card.getByLabel('Colour as #rrggbb').fill(colour)
      await card.getByLabel('Colour as #rrggbb').press('Enter')
      await this.page.keyboard.press('Escape')
      await expect(card).toHaveCount(0)
    }
  }

  async font(family: string, style: string): Promise<void> {
    await this.parts.getByRole('button', { name: '+ Font' }).click()
    const dialog = this.page.getByRole('dialog', { name: 'Add a font' })
    await dialog.getByPlaceholder('Search families and styles').fill(`${family} ${style}`)
    await dialog
      .getByRole('option', { name: `${family} ${style}` })
      .first()
      .click()
    await dialog.getByRole('button', { name: 'Add it' }).click()
    await expect(dialog).toHaveCount(0)
  }

  /** Carries files along: pictures, fonts, artwork. */
  async carry(...files: string[]): Promise<void> {
    for (const file of files) {
      const name = file.split('/').pop()!
      await this.page.getByLabel('Add fonts, pictures and sounds').setInputFiles(file)
      await expect(this.page.getByText(`${name} travels with the template now.`).last()).toBeVisible()
    }
  }

  /** A new part of a kind, above the others, under a name. */
  async add(kind: string, name: string): Promise<void> {
    await this.parts.getByRole('button', { name: '+ Add' }).click()
    await this.page.getByRole('menuitem', { name: kind, exact: true }).click()
    await this.rename(name)
  }

  /** Renames the chosen part. */
  async rename(name: string): Promise<void> {
    const chosen = this.parts.getByRole('listitem').getByRole('button', { pressed: true }).first()
    await chosen.press('F2')
    await this.parts.getByLabel('Name of the part').fill(name)
    await this.parts.getByLabel('Name of the part').press('Enter')
    await expect(this.row(name)).toBeVisible()
  }

  row(name: string): Locator {
    return this.parts.getByRole('listitem').filter({
      hasText: new RegExp(`^\\d+${name}(otherwise in this shape)?(text|box|picture|group|ellipse|path|curve)$`),
    })
  }

  async choose(name: string, ...also: string[]): Promise<void> {
    await this.row(name).getByRole('button').first().click()
    for (const other of also)
      await this.row(other)
        .getByRole('button')
        .first()
        .click({ modifiers: ['Shift'] })
  }

  async more(name: string, entry: string): Promise<void> {
    await this.row(name).hover()
    await this.page.getByRole('button', { name: `More for ${name}` }).click()
    await this.page.getByRole('menuitem', { name: entry }).click()
  }

  async tab(name: 'Edges' | 'Style' | 'Motion' | 'Moves' | 'Easing' | 'Matte'): Promise<void> {
    await this.page.getByRole('tab', { name }).click()
  }

  /** A number typed into a control. */
  async number(control: Locator, value: number): Promise<void> {
    await control.fill(String(value))
    await control.press('Enter')
  }

  /** Properties of the chosen part's style, by their labels. */
  async style(values: Record<string, string | number | boolean>): Promise<void> {
    await this.tab('Style')
    for (const [label, value] of Object.entries(values)) {
      const panel = this.page.getByRole('tabpanel')
      if (label === 'Font') {
        await panel.getByRole('button', { name: /^Font of/ }).click()
        await this.page.getByPlaceholder('Search families and styles').fill(String(value))
        await this.page.keyboard.press('Enter')
        await expect(panel.getByRole('button', { name: /^Font of/ })).toHaveText(String(value))
        continue
      }
      const control = panel.getByLabel(label, { exact: true })
      if (typeof value === 'boolean') await control.setChecked(value)
      else if (typeof value === 'number') await this.number(control, value)
      else await control.selectOption({ label: value })
    }
  }

  async words(text: string): Promise<void> {
    await this.tab('Style')
    await this.page.getByLabel('Own words').fill(text)
  }

  async corners(px: number): Promise<void> {
    await this.tab('Style')
    await this.number(this.page.getByLabel('Top left radius'), px)
    await this.page.getByRole('button', { name: 'All like the first' }).click()
  }

  /** A flat fill from the palette. */
  async fill(colour: string): Promise<void> {
    await this.tab('Style')
    await this.page.getByRole('tabpanel').getByLabel('Fill', { exact: true }).selectOption('flat')
    await this.page.getByLabel('Fill colour, from the palette').selectOption({ label: colour })
  }

  async gradient(angle: number, colours: string[]): Promise<void> {
    await this.tab('Style')
    await this.page.getByRole('tabpanel').getByLabel('Fill', { exact: true }).selectOption('linear')
    await this.number(this.page.getByLabel('Angle, degrees'), angle)
    for (const [i, colour] of colours.entries())
      await this.page.getByLabel(`Colour ${i + 1}, from the palette`).selectOption({ label: colour })
  }

  async shadow(x: number, y: number, blur: number): Promise<void> {
    await this.tab('Style')
    await this.page.getByRole('button', { name: '+ shadow' }).click()
    await this.number(this.page.getByLabel('Shadow 1 x, px'), x)
    await this.number(this.page.getByLabel('Shadow 1 y, px'), y)
    await this.number(this.page.getByLabel('Shadow 1 blur, px'), blur)
  }

  /** The words of the chosen text become a field called as the part. */
  async expose(): Promise<void> {
    await this.tab('Style')
    await this.page.getByRole('button', { name: 'Make it a field' }).first().click()
    await expect(this.page.getByLabel('Whose words').first()).not.toHaveValue('')
  }

  async fit(steps: [step: string, bound?: number][]): Promise<void> {
    await this.tab('Style')
    for (const [step, bound] of steps) {
      await this.page.getByLabel('Fit', { exact: true }).selectOption({ label: step })
      if (bound !== undefined) await this.number(this.page.getByLabel(`${step} to`, { exact: true }), bound)
    }
  }

  /** The chosen text is as large as its box allows, both ways, in at most so many lines. */
  async fillBox(least: number, most: number, lines: number): Promise<void> {
    await this.tab('Style')
    const fit = this.page.getByLabel('Fit', { exact: true })
    await fit.selectOption({ label: 'fill' })
    await this.page.getByLabel('What of its room it fills').selectOption({ label: 'both ways' })
    await this.number(this.page.getByLabel('At least so many per cent of its size'), least)
    await this.number(this.page.getByLabel('At most so many per cent of its size'), most)
    await fit.selectOption({ label: 'wrap' })
    await this.number(this.page.getByLabel('wrap to', { exact: true }), lines)
  }

  /** Another shape of the frame, which is looked at from then on. */
  async shape(name: string): Promise<void> {
    await this.page.getByRole('button', { name: 'Another shape of the frame' }).click()
    await this.page.getByRole('menuitem', { name }).click()
    await expect(this.page.getByRole('radio', { name, exact: true })).toBeChecked()
  }

  /** A group of the chosen parts. */
  async group(name: string): Promise<void> {
    await this.page.keyboard.press('g')
    await this.rename(name)
  }

  /** A colour of the palette that editors choose, and one that follows it. */
  async openColour(name: string): Promise<Locator> {
    await this.parts.getByRole('button', { name: `Palette colour ${name}` }).click()
    return this.page.getByRole('dialog', { name: /^Palette colour/ })
  }

  private line(line: string, part: string): Locator {
    return this.page.getByRole('button', { name: `${line} of ${part}`, exact: true })
  }

  private async openLine(line: string, part: string): Promise<void> {
    await this.tab('Edges')
    const button = this.line(line, part)
    if ((await button.getAttribute('aria-expanded')) !== 'true') await button.click()
  }

  /** Ties an edge of the chosen part: `right of Name + 36`. */
  async tie(
    part: string,
    line: string,
    to: string,
    at: string,
    gap = 0,
    more: { follows?: string; gone?: string } = {},
  ): Promise<void> {
    await this.openLine(line, part)
    await this.page.getByLabel('Holds to', { exact: true }).selectOption({ label: to })
    await this.page.getByLabel('At its', { exact: true }).first().selectOption({ label: at })
    await this.number(this.page.getByLabel('Gap, px', { exact: true }).first(), gap)
    if (more.follows) await this.page.getByLabel('Follows it').selectOption({ label: more.follows })
    if (more.gone) await this.page.getByLabel('When it is gone').selectOption({ label: more.gone })
    await this.line(line, part).click()
  }

  /** The middle of the chosen part instead of an edge. */
  async tieMiddle(part: string, axis: Axis, to: string, gap = 0): Promise<void> {
    const [start, middle] = axis === 'x' ? ['left', 'centre'] : ['top', 'middle']
    await this.recipe(part, 'centred on', [to], { on: axis === 'x' ? 'across' : 'down' })
    if (gap !== 0) {
      await this.openLine(middle!, part)
      await this.number(this.page.getByLabel('Gap, px', { exact: true }), gap)
      await this.line(middle!, part).click()
    }
    expect(await edgeValue(this.page, start!, part)).not.toBeNaN()
  }

  async size(part: string, axis: Axis, px: number): Promise<void> {
    await this.openLine(sizeWord[axis], part)
    await this.page.getByLabel('Size', { exact: true }).selectOption('fixed')
    await this.number(this.page.getByLabel('px', { exact: true }), px)
    await this.line(sizeWord[axis], part).click()
  }

  /** The least size; `keeps` says which tied edge stands where it decides. */
  async atLeast(part: string, axis: Axis, px: number, keeps?: string): Promise<void> {
    await this.openLine(sizeWord[axis], part)
    await this.page.getByLabel('At least, px').fill(String(px))
    await this.page.getByLabel('At least, px').press('Tab')
    if (keeps) await this.page.getByLabel('Then it keeps').selectOption({ label: `its ${keeps}` })
    await this.line(sizeWord[axis], part).click()
  }

  /** How far a text may run: as far as an edge, short of it by a gap. */
  async roomTo(to: string, at: string, gap: number): Promise<void> {
    await this.tab('Edges')
    await this.page.getByLabel('Room', { exact: true }).selectOption('limit')
    await this.page.getByLabel('As far as').selectOption({ label: to })
    await this.page.getByLabel('At its', { exact: true }).last().selectOption({ label: at })
    await this.number(this.page.getByLabel('Gap, px', { exact: true }).last(), gap)
  }

  async recipe(
    part: string,
    recipe: string,
    about: string[],
    more: {
      room?: [number, number, number, number]
      on?: string
      side?: string
      line?: string
      gap?: number
      from?: string
      share?: number
    } = {},
  ): Promise<void> {
    await this.choose(part)
    await this.tab('Edges')
    await this.page.getByRole('button', { name: 'Tie it by a recipe' }).click()
    const form = this.page.getByRole('group', { name: 'Tie by a recipe' })
    await form.getByLabel('Recipe', { exact: true }).selectOption(recipe)
    for (const name of about)
      await form.getByRole('button', { name: new RegExp(`^(\\d+ )?${name}$`), pressed: false }).click()
    if (more.room)
      for (const [i, side] of ['left', 'right', 'top', 'bottom'].entries())
        await this.number(form.getByLabel(`${side}, px`, { exact: true }), more.room[i]!)
    if (more.on) await form.getByLabel('On', { exact: true }).selectOption({ label: more.on })
    if (more.side) await form.getByLabel('Side').selectOption({ label: more.side })
    if (more.line) await form.getByLabel('Lined up').selectOption({ label: more.line })
    if (more.from) await form.getByLabel('From').selectOption({ label: more.from })
    if (more.gap !== undefined) await this.number(form.getByLabel('Gap, px'), more.gap)
    if (more.share !== undefined) await this.number(form.getByLabel('Share, %'), more.share)
    await form.getByRole('button', { name: 'Tie it', exact: true }).click()
    await expect(form).toHaveCount(0)
  }

  async matte(part: string): Promise<void> {
    await this.tab('Matte')
    await this.page.getByLabel('Cut to').selectOption({ label: part })
  }

  async move(name: string, where: 'In' | 'Out' = 'In'): Promise<void> {
    await this.tab('Moves')
    if (where === 'Out') await this.page.getByRole('radio', { name: 'On Out, backwards' }).click()
    await this.page.getByRole('button', { name: new RegExp(`^${name}:`) }).click()
  }

  /** The frames (of In) at which keys of a channel stand, and their values, in order. */
  async keys(channel: string, list: [frame: number, value: number, easing?: string][]): Promise<void> {
    await this.tab('Motion')
    const set = this.page.getByRole('group', { name: channel, exact: true })
    if ((await set.count()) === 0)
      await this.page.getByLabel('Key a channel', { exact: true }).selectOption({ label: channel })
    for (const [i, [frame, value, easing]] of list.entries()) {
      await this.number(set.getByLabel('Frame', { exact: true }).nth(i), frame)
      await this.number(set.getByLabel('Value', { exact: true }).nth(i), value)
      if (easing) await set.getByLabel('Easing', { exact: true }).nth(i).selectOption({ label: easing })
    }
  }

  /** What a channel works by: its unit, side, softness. */
  async channel(channel: string, settings: Record<string, string | number>): Promise<void> {
    await this.tab('Motion')
    const set = this.page.getByRole('group', { name: channel, exact: true })
    for (const [label, value] of Object.entries(settings))
      if (typeof value === 'number') await this.number(set.getByLabel(label, { exact: true }), value)
      else await set.getByLabel(label, { exact: true }).selectOption({ label: value })
  }

  /** In, Hold and Out, frames. */
  async spans(lengths: { in?: number; hold?: number; out?: number }): Promise<void> {
    for (const [span, frames] of Object.entries(lengths))
      await this.number(this.page.getByLabel(`Length of ${span}`), frames)
  }

  /** Starts the chosen parts a number of frames after one another. */
  async stagger(parts: string[], apart: number): Promise<void> {
    await this.choose(parts[0]!, ...parts.slice(1))
    const time = this.page.getByRole('region', { name: 'Time' })
    await this.number(time.getByLabel('How far apart'), apart)
    await time.getByRole('button', { name: 'Stagger', exact: true }).click()
  }

  /** Brings the first keys of parts to one frame of In, each with its own pace kept as far as In allows. */
  async gatherFirst(parts: string[], frame: number): Promise<void> {
    const time = this.page.getByRole('region', { name: 'Time' })
    await this.choose(parts[0]!, ...parts.slice(1))
    await time.getByRole('button', { name: 'Keys', exact: true }).click()
    await this.page.getByRole('menuitem', { name: 'All its keys' }).click()
    await this.number(time.getByLabel('How far apart'), 10)
    await time.getByRole('button', { name: 'Spread over 10' }).click()
    await this.page.keyboard.press('Home')
    for (let i = 0; i < frame; i++) await this.page.keyboard.press('ArrowRight')
    await time.getByRole('button', { name: 'First keys here' }).click()
  }

  /** A part further down (or up) in the layer order, by steps. */
  async shift(part: string, steps: number): Promise<void> {
    for (let i = 0; i < Math.abs(steps); i++) await this.more(part, steps < 0 ? 'Backward' : 'Forward')
  }

  /** On Hand-off: what editors read about a field, and how long it may be. */
  async explain(field: string, note: string, limit?: number): Promise<void> {
    const form = editorsForm(this.page)
    await form.getByRole('button', { name: field, exact: true }).click()
    await this.page.getByLabel('Note').fill(note)
    if (limit !== undefined) await this.number(this.page.getByLabel('Characters'), limit)
  }

  /** On Hand-off: the chosen field holds one line. */
  async oneLine(): Promise<void> {
    await this.number(this.page.getByLabel('Lines', { exact: true }), 1)
  }

  /** On Hand-off: a property of a part that editors may change. */
  async exposeProperty(property: string, part: string): Promise<void> {
    await expose(this.page, property, part)
  }

  /** On Hand-off: the chosen field's default must not go out because nothing was given. */
  async onlySample(): Promise<void> {
    await this.page.getByLabel('May go out').uncheck()
  }

  /** On Hand-off: a field holds a list of texts, and these stand where nothing is given. */
  async list(field: string, entries: string[]): Promise<void> {
    await this.kind(field, 'list of texts')
    await this.page.getByLabel(`Default of ${field}`).fill(entries.join('\n'))
  }

  /** Back to Draft from Hand-off. */
  async draft(): Promise<void> {
    await this.saved()
    await this.page.getByRole('link', { name: 'Draft' }).click()
    await expect(this.page.getByTestId('frame')).toBeVisible()
  }

  /** On Hand-off: what a field holds. */
  async kind(field: string, kind: string): Promise<void> {
    await editorsForm(this.page).getByRole('button', { name: field, exact: true }).click()
    await this.page.getByLabel('Kind of field').selectOption({ label: kind })
  }

  /** On Hand-off: what a field is called, and its key. */
  async called(field: string, name: string, key: string): Promise<void> {
    await editorsForm(this.page).getByRole('button', { name: field, exact: true }).click()
    for (const [label, text] of [
      ['Name', name],
      ['Key', key],
    ] as const) {
      const input = this.page.getByLabel(label, { exact: true })
      await input.fill(text)
      await input.press('Tab')
    }
  }

  /** On Hand-off: settings of the chosen field. */
  async set(values: Record<string, string>): Promise<void> {
    for (const [label, value] of Object.entries(values)) {
      const input = this.page.getByLabel(label, { exact: true })
      await input.fill(value)
      await input.press('Tab')
    }
  }

  async handoff(): Promise<void> {
    await this.saved()
    await this.page.getByRole('link', { name: 'Hand-off' }).click()
    await expect(this.page.getByText("The editor's form")).toBeVisible()
  }

  async saved(): Promise<void> {
    await saved(this.page)
  }
}
