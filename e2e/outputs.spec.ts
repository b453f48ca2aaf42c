import { execFileSync } from 'node:child_process'
import { existsSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { unzipSync } from 'fflate'
import { ownTemplate } from './pages.ts'
import { expect, type Page, test } from './test.ts'

/** A published template of its own, with a sheet. */
async function ownSheet(page: Page, rows: string[][]): Promise<{ id: string; sheet: number }> {
  const id = await ownTemplate(page)
  const version = await (await page.request.post(`/api/templates/${id}/versions`, { data: {} })).json()
  const table = [['name', 'role'], ...rows]
  const sheet = await (
    await page.request.post('/api/sheets', { data: { version: version.id, name: 'Guests', table } })
  ).json()
  return { id, sheet: sheet.id }
}

const names = (id: string, count: number) =>
  Array.from({ length: count }, (_, i) => [`Ana Vega ${i + 1} ${id}`, 'Outer bar'])

async function zipOf(page: Page): Promise<Record<string, Uint8Array>> {
  const download = page.waitForEvent('download')
  await page.getByRole('link', { name: /^Download \d+ as zip$/ }).click()
  return unzipSync(new Uint8Array(readFileSync(await (await download).path())))
}

function probed(bytes: Uint8Array, name: string) {
  const file = join(mkdtempSync(join(tmpdir(), 'hoja-e2e-')), name)
  writeFileSync(file, bytes)
  const args = ['-v', 'error', '-count_frames', '-show_streams', '-of', 'json', file]
  return JSON.parse(execFileSync('ffprobe', args, { encoding: 'utf8' })).streams[0]
}

/** What docs/how-to/outputs.md says, done. */
test('clips for an editing program, kept as a preset, then only what changed', async ({ page }) => {
  test.setTimeout(150_000)
  const { id, sheet } = await ownSheet(page, names('outs', 4))
  await page.goto(`/t/${id}/fill/${sheet}`)
  await page.getByRole('button', { name: 'Render 4 rows' }).click()
  await page.getByRole('radio', { name: /ProRes 4444/ }).click()
  await expect(page.getByText('the one to take when nothing else is asked for')).toBeVisible()
  await page.getByLabel('Frame size').selectOption('HD 720, 1280 × 720')
  await page.getByLabel('Frames a second').selectOption('29.97')
  await page.getByLabel('Timecode').fill('10:00:00:00')
  await page.getByLabel('Handle before, frames').fill('5')
  await page.getByLabel('Handle before, frames').press('Enter')
  await page.getByRole('radio', { name: 'premultiplied' }).click()
  await page.getByLabel('File names').fill('{sheet}_{row:00}')
  await expect(page.getByText('Guests_01.mov')).toBeVisible()
  await page.getByRole('button', { name: 'Keep these as …' }).click()
  await page.getByLabel('Name of the preset').fill(`Clips ${id}`)
  await page.getByRole('button', { name: 'Keep', exact: true }).click()
  await expect(page.getByText(`"Clips ${id}" is kept.`)).toBeVisible()
  await page.getByRole('button', { name: 'Render 4 rows' }).click()
  await expect(page.getByText(/^4 of 4: 4 done/)).toBeVisible({ timeout: 60_000 })
  // The file is looked at frame by frame: 5 + 150 frames, the middle one first.
  await page.getByRole('button', { name: 'Guests_02.mov' }).click()
  await expect(page.getByText(/^155 frames, 5\.17 s, [\d.]+ MB$/)).toBeVisible()
  await expect(page.getByRole('img', { name: 'Frame 77 of Guests_02' })).toHaveJSProperty('naturalWidth', 680)
  await page.getByRole('slider', { name: 'Frame' }).press('End')
  await expect(page.getByRole('img', { name: 'Frame 154 of Guests_02' })).toHaveJSProperty('naturalWidth', 680)
  const zip = await zipOf(page)
  expect(Object.keys(zip).sort()).toEqual([
    'Guests_01.mov',
    'Guests_02.mov',
    'Guests_03.mov',
    'Guests_04.mov',
    'manifest.csv',
    'manifest.json',
  ])
  expect(probed(zip['Guests_02.mov']!, 'a.mov')).toMatchObject({
    codec_name: 'prores',
    width: 1280,
    height: 720,
    r_frame_rate: '30000/1001',
    nb_read_frames: '155',
  })
  expect(new TextDecoder().decode(zip['manifest.csv'])).toContain('2,Guests_02.mov,155,30000/1001,')

  // One row changes; the preset is there, and one row is rendered.
  await page.goto(`/t/${id}/fill/${sheet}`)
  await page.getByRole('button', { name: /^Row 3, / }).click()
  await page.getByLabel('Name of row 3').fill(`Ben Vega ${id}`)
  await expect(page.getByRole('status').filter({ hasText: 'saved' })).toBeVisible()
  await page.getByRole('button', { name: 'Render 4 rows' }).click()
  await page.getByLabel('Preset').selectOption(`Clips ${id}`)
  await page.getByLabel('Only changed').check()
  await page.getByRole('button', { name: 'Render what changed of 4 rows' }).click()
  await expect(page.getByText(/^1 of 1: 1 done/)).toBeVisible({ timeout: 60_000 })
  await expect(page.getByRole('button', { name: 'Guests_03.mov' })).toBeVisible()

  // Nothing is changed now, which is said.
  await page.getByRole('button', { name: 'Render again', exact: true }).click()
  await expect(page.getByText('No row has changed since the last output')).toBeVisible()
})

test('titles as long as their rows say, in pieces, in a folder that follows the sheet', async ({ page }) => {
  test.setTimeout(150_000)
  const id = await ownTemplate(page)
  const version = await (await page.request.post(`/api/templates/${id}/versions`, { data: {} })).json()
  const table = [
    ['name', 'role', 'on screen for'],
    ['Ana Vega', 'Outer bar', '6 s'],
    ['Io Marrec', 'Keeper', '1 s'],
  ]
  const made = await page.request.post('/api/sheets', { data: { version: version.id, name: `Cues ${id}`, table } })
  const sheet = (await made.json()).id as number
  await page.goto(`/t/${id}/fill/${sheet}`)

  // Its name does not give the column away, so a person says what it is.
  await page.getByRole('button', { name: /^Columns: / }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('What says Length').selectOption('on screen for')
  await expect(dialog.getByRole('listitem', { name: 'Length' })).toContainText('6 s → 150 frames, 6.00 s')
  await dialog.getByRole('button', { name: 'Use this match' }).click()
  await page.getByRole('button', { name: /^Row 2, / }).click()
  await expect(page.getByText('25 frames are too few: In and Out need 30; give it 5 more.').first()).toBeVisible()
  await expect(page.getByText('25 frames, 1.00 s, by its data')).toBeVisible()

  // A length by hand stands before it, typed as one likes.
  await page.getByRole('button', { name: 'Its own' }).click()
  await page.getByLabel('Frames of row 2').fill('0:04')
  await page.getByLabel('Frames of row 2').press('Enter')
  await expect(page.getByLabel('Frames of row 2')).toHaveValue('100')
  await page.getByLabel('Frames of row 2').fill('soon')
  await page.getByLabel('Frames of row 2').press('Enter')
  await expect(page.getByText('"soon" is not a length; write frames as 125')).toBeVisible()
  await page.getByLabel('Frames of row 2').press('Escape')
  await expect(page.getByLabel('Frames of row 2')).toHaveValue('100')

  await page.getByRole('button', { name: 'Render 2 rows' }).click()
  await page.getByRole('radio', { name: 'TIFF sequence alpha' }).click()
  await page.getByLabel('Frame size').selectOption('HD 720, 1280 × 720')
  await page.getByLabel('Pieces').check()
  await expect(page.getByText('001_Ana_Vega_in/')).toBeVisible()
  await page.getByLabel('Keep current').check()
  await page.getByLabel('Folder to keep current').fill(`cues ${id}`)
  await page.getByRole('button', { name: 'Render 2 rows' }).click()
  await expect(page.getByText(/^2 of 2: 2 done/)).toBeVisible({ timeout: 60_000 })
  await expect(page.getByText('2 titles brought to')).toBeVisible()
  const folder = (await page.getByText('Keeps the folder').locator('b').textContent())!
  const lies = (name: string) => existsSync(join(folder, name))
  expect(lies('002_Io_Marrec_out/002_Io_Marrec_out_0014.tif')).toBe(true)
  expect(
    JSON.parse(readFileSync(join(folder, 'manifest.json'), 'utf8')).files.map((one: { frames: number }) => one.frames),
  ).toEqual([15, 1, 15, 15, 1, 15])
  // Each piece is looked at frame by frame.
  await page.getByRole('button', { name: /001_Ana_Vega/ }).click()
  await page.getByRole('radio', { name: 'out', exact: true }).click()
  await page.getByRole('slider', { name: 'Frame' }).press('End')
  await expect(page.getByRole('img', { name: 'Frame 14 of 001_Ana_Vega' })).toHaveJSProperty('naturalWidth', 680)

  // The sheet changes, and the folder with it.
  await page.goto(`/t/${id}/fill/${sheet}`)
  await page.getByRole('button', { name: /^Row 1, / }).click()
  await page.getByLabel('Name of row 1').fill('Ben Vega')
  await expect(page.getByRole('status').filter({ hasText: 'saved' })).toBeVisible()
  await expect.poll(() => lies('001_Ben_Vega_in') && !lies('001_Ana_Vega_in'), { timeout: 30_000 }).toBe(true)
  await page.goto(`/t/${id}/outputs`)
  await page.getByRole('button', { name: 'Keep no longer' }).click()
  await expect(page.getByText('it follows the sheet no longer')).toBeVisible()
})

test('what cannot be ordered is told where it stands, before it is ordered', async ({ page }) => {
  const { id, sheet } = await ownSheet(page, names('wrongs', 4))
  await page.goto(`/t/${id}/outputs/new?sheet=${sheet}`)
  const order = page.getByRole('button', { name: /^Render \d rows?$/ })
  await expect(order).toBeEnabled()
  await page.getByLabel('Which').selectOption('some')
  await page.getByLabel('Rows to render').fill('2-9')
  await expect(page.getByRole('alert')).toHaveText('Row 9 does not exist; the sheet has rows 1 to 4.')
  await expect(order).toBeDisabled()
  await page.getByLabel('Rows to render').fill('2-3')
  await expect(page.getByRole('button', { name: 'Render 2 rows' })).toBeEnabled()
  await page.getByLabel('File names').fill('{nme}')
  await expect(page.getByRole('alert')).toContainText('"{nme}" in the file names stands for nothing')
  await expect(order).toBeDisabled()
  await page.getByLabel('File names').fill('{name}')
  await page.getByLabel('Timecode').fill('24:00:00:00')
  await expect(page.getByRole('alert')).toContainText('does not exist at 25 frames a second')
  await expect(order).toBeDisabled()
  await page.getByLabel('Timecode').fill('')
  await expect(order).toBeEnabled()
})

test('a run pauses, goes on, is put before others, and is rendered again on a new version', async ({ page }) => {
  test.setTimeout(150_000)
  const { id, sheet } = await ownSheet(page, names('turns', 14))
  await page.request.post('/api/outputs', { data: { sheet, format: 'png' } })
  await page.goto(`/t/${id}/outputs`)
  await page.getByRole('button', { name: 'Pause' }).click()
  await expect(page.getByText(', paused', { exact: true })).toBeVisible()
  await expect(page.getByText('Paused by hand.')).toBeVisible()
  await page.getByLabel('Its turn').selectOption('Before others')
  await page.getByRole('button', { name: 'Go on' }).click()
  await expect(page.getByText(/^14 of 14: 14 done/)).toBeVisible({ timeout: 90_000 })
  await expect(page.getByText('Finished: 14 done.')).toBeVisible()
  // Another state of the draft: the same one again would be no new version.
  const draft = (await (await page.request.get(`/api/templates/${id}`)).json()) as {
    revision: number
    template: object
  }
  const template = { ...draft.template, note: 'again' }
  await page.request.put(`/api/templates/${id}`, { data: { revision: draft.revision, template } })
  await page.request.post(`/api/templates/${id}/versions`, { data: { note: 'again' } })
  await page.reload()
  await page.getByRole('button', { name: 'Render again on version 2' }).click()
  await expect(page.getByText(/^14 of 14: 14 done/)).toBeVisible({ timeout: 60_000 })
  await expect(page.getByText(/^version 2, as designed/)).toBeVisible()
})

test('a movie with alpha plays in the page, an MP4 lies over footage, parts come by themselves', async ({ page }) => {
  test.setTimeout(150_000)
  const { id, sheet } = await ownSheet(page, names('web', 1))
  const open = () => page.goto(`/t/${id}/outputs/new?sheet=${sheet}`)
  await open()
  await page.getByRole('radio', { name: /^WebM/ }).click()
  await page.getByLabel('Frame size').selectOption('HD 720, 1280 × 720')
  await page.getByRole('button', { name: 'Render 1 row' }).click()
  await expect(page.getByText(/^1 of 1: 1 done/)).toBeVisible({ timeout: 60_000 })
  await page.getByRole('button', { name: /^001_.*webm$/ }).click()
  // In its middle the title is held: frames that are one byte each. It is seen, and what is around it is clear.
  const seen = await page.locator('video').evaluate(async (video: HTMLVideoElement) => {
    video.pause()
    const sought = new Promise((done) => video.addEventListener('seeked', done, { once: true }))
    video.currentTime = 2.5
    await sought
    const canvas = Object.assign(document.createElement('canvas'), { width: 1280, height: 720 })
    const context = canvas.getContext('2d')!
    context.drawImage(video, 0, 0)
    const { data } = context.getImageData(0, 0, 1280, 720)
    let solid = 0
    let clear = 0
    for (let i = 3; i < data.length; i += 4) {
      if (data[i] === 255) solid++
      if (data[i] === 0) clear++
    }
    return { solid, clear, duration: video.duration }
  })
  expect(seen.duration).toBeCloseTo(5, 1)
  expect(seen.solid).toBeGreaterThan(5_000)
  expect(seen.clear).toBeGreaterThan(700_000)

  await open()
  await page.getByRole('radio', { name: /^MP4/ }).click()
  const footage = join(mkdtempSync(join(tmpdir(), 'hoja-e2e-')), 'harbour.mp4')
  execFileSync('ffmpeg', [
    ...['-v', 'error', '-f', 'lavfi', '-i', 'color=c=white:s=320x180:d=1:r=25', '-vf'],
    ...['format=yuv444p,geq=lum=250:cb=128:cr=128', '-pix_fmt', 'yuv420p', footage],
  ])
  await page.getByLabel('Still or footage').setInputFiles(footage)
  await expect(page.getByText('Levels outside EBU R 103')).toBeVisible({ timeout: 20_000 })
  await page.getByLabel('Still or footage').setInputFiles({
    name: 'broken.mp4',
    mimeType: 'video/mp4',
    buffer: Buffer.from('no movie'),
  })
  await expect(page.getByText('"broken.mp4" is not a movie that can be read')).toBeVisible()
  await page.getByRole('button', { name: 'Render 1 row' }).click()
  await expect(page.getByText(/^1 of 1: 1 done/)).toBeVisible({ timeout: 60_000 })
  await expect(page.getByText(/over harbour\.mp4/)).toBeVisible()

  await page.getByRole('link', { name: 'Parts by themselves …' }).click()
  await expect(page.getByText('Clip: Plate, Edge, Highlight, Mount')).toBeVisible()
  await expect(page.getByText('Left to draw: Name')).toBeVisible()
  await page.getByRole('radio', { name: 'Every part by itself' }).click()
  await expect(page.getByText('Clip: Plate', { exact: true })).toBeVisible()
  await page.getByRole('radio', { name: /^PNG still/ }).click()
  await page.getByRole('button', { name: 'Render the clips' }).click()
  await expect(page.getByText(/^4 of 4: 4 done/)).toBeVisible({ timeout: 60_000 })
  const zip = await zipOf(page)
  const layers = JSON.parse(
    new TextDecoder().decode(Object.entries(zip).find(([path]) => path.endsWith('layers.json'))![1]),
  )
  expect(layers.layers.map(({ kind, name }: { kind: string; name: string }) => `${kind} ${name}`)).toContain(
    'editable Name',
  )
  for (const { kind, file } of layers.layers)
    if (kind === 'clip') expect(Object.keys(zip).some((path) => path.endsWith(file))).toBe(true)
})
